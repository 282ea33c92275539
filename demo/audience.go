package demo

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"time"

	"chrysagon/core/followup"
	m "chrysagon/core/manuscript"
	"chrysagon/core/purpose"
	"chrysagon/store"

	"gorm.io/gorm"
)

const (
	guideList = "the-guide"
	coastList = "news-of-the-coast"
	knotsLine = "seven-knots-line"
)

// letters are those that follow on the guide.
func letters() []page {
	h := func(id, text string) m.Piece {
		return piece(id, "heading", m.Fields{"text": text, "level": "1"})
	}
	says := func(id, text string) m.Piece { return piece(id, "text", m.Fields{"text": text}) }
	letter := func(id, name, subject, preview string, pieces ...m.Piece) page {
		return page{
			id: id, name: name, purpose: purpose.Letter, address: "letter-" + id, title: subject, description: preview,
			tree: m.Page{Version: m.Version, Bands: []m.Band{{ID: id + "-band", Name: "The letter", Beat: m.Interest, Tone: m.Card, Columns: []m.Column{col(1, pieces...)}}}},
		}
	}
	return []page{
		letter("what-the-wind-says", "What the wind says", "What the wind says before it says it", "Look at the grass first. The rest follows.",
			h("lw-h", "Look at the grass first"), says("lw-1", "<p>{name|Hello}, you have the seven knots in your pocket now. Here is how we read them, on the dune behind the workshop, every morning at six.</p><p>Grass bows before the wind arrives at your cheek. Smoke leans a breath earlier. Water tells you last, and never lies.</p>"),
			piece("lw-l", "bullets", m.Fields{"items": []any{map[string]any{"text": "Two knots: smoke leans, nothing else stirs"}, map[string]any{"text": "Four: the grass bows, a light kite rises"}, map[string]any{"text": "Seven: white on the sea, and most kites are glad"}}}),
			piece("lw-b", "button", m.Fields{"label": "See what flies in four knots", "target": "page:night-flight"})),
		letter("two-bridles", "Two bridles, one sky", "Two bridles, one sky: which one lifts yours?", "The knot that most kites are lost by.",
			h("lt-h", "Two bridles, one sky"), says("lt-1", "<p>{name|Hello}, a bridle that gives forgives the hand that holds it. One that is stiff flies higher and is lost sooner.</p><p>We sew ours to give in four knots and to stand in eighteen. At night it carries a lantern, so that you see what it tells you.</p>"),
			piece("lt-p", "product", m.Fields{"product": "ember", "text": "Ready to fly, with its lantern and thirty metres of line.", "label": "See the night flight", "target": "page:night-flight"})),
		letter("until-midnight", "Until midnight", "Lantern Friday ends at midnight", "After that the kite costs what it did.",
			h("lu-h", "The lantern week ends tonight"), says("lu-1", "<p>{name|Hello}, this is the last letter about it. What you pay until midnight is below; after that the price is the old one again.</p>"),
			piece("lu-t", "timer", m.Fields{"caption": "The price holds until", "deadline": fridayID}),
			piece("lu-p", "product", m.Fields{"product": "ember", "label": "Order it while it holds", "target": "page:night-flight"})),
		letter("lanterns-on-the-pier", "Lanterns on the pier", "Nine lanterns over the pier, and no moon", "We flew the evening kites on Sunday. This is what they taught us.",
			h("lp-h", "Nine lanterns, no moon"), says("lp-1", "<p>{name|Hello}, on Sunday the pier was dark and the sky was ours. Nine kites went up, each with its lantern, and the ferry slowed down to look.</p><p>What we learned: sew the lantern a hand lower than you would by day. The kite stops nodding, and the light stays where you look for it.</p>"),
			piece("lp-b", "button", m.Fields{"label": "See the kite we flew", "target": "page:night-flight"})),
	}
}

// audience makes two lists, the line that follows on the guide, and a season of people, the
// same at every load.
func audience(tx *gorm.DB, _ string, now time.Time) error {
	ends := fridayID
	lists := []store.List{
		{ID: guideList, Name: "The guide", Why: "You get this because you asked for “Read the wind in seven knots”.", Confirmed: true, Tells: "daily", CreatedAt: now.AddDate(0, 0, -30)},
		{ID: coastList, Name: "News of the coast", Why: "You get this because you wanted news of the workshop, four times a year.", Confirmed: true, Tells: "never", CreatedAt: now.AddDate(0, 0, -60)},
	}
	if err := tx.Create(&lists).Error; err != nil {
		return err
	}
	ten := &followup.Clock{Hour: 10}
	line := followup.Followup{
		Begins: followup.Begin{What: followup.Joined, Of: guideList}, ADay: 1, Hours: followup.Hours{From: &followup.Clock{Hour: 8}, To: &followup.Clock{Hour: 21}},
		Steps: []followup.Step{{Letter: "what-the-wind-says", Days: 1, Clock: ten}, {Letter: "two-bridles", Days: 1, Clock: ten}, {Letter: "until-midnight", Days: 1, Clock: &followup.Clock{Hour: 17}}},
	}
	raw, err := json.Marshal(line)
	if err != nil {
		return fmt.Errorf("write a follow-up: %w", err)
	}
	list, list30 := guideList, now.AddDate(0, 0, -30)
	if err := tx.Create(&store.Followup{ID: knotsLine, CampaignID: campaignID, Name: "Seven knots", Line: raw, ListID: &list, DeadlineID: &ends, Begins: true, Since: &list30, CreatedAt: list30}).Error; err != nil {
		return err
	}
	if err := readers(tx, line, now); err != nil {
		return err
	}
	if err := toAll(tx, now); err != nil {
		return err
	}
	for _, s := range []store.Segment{
		{ID: "ember-no-bag", Name: "Bought Ember, no bag yet", Rule: store.JSON(`{"all": [{"did": "bought", "of": "ember"}, {"not": true, "did": "bought", "of": "quiver"}]}`), CreatedAt: now},
		{ID: "asked-never-clicked", Name: "Got letters, clicked nothing", Rule: store.JSON(`{"all": [{"did": "sent"}, {"not": true, "did": "clicked"}]}`), CreatedAt: now},
	} {
		if err := tx.Create(&s).Error; err != nil {
			return err
		}
	}
	return nil
}

// toAll is a letter that went to all of the coast's list some days ago.
func toAll(tx *gorm.DB, now time.Time) error {
	const id, letter = "pier-to-all", "lanterns-on-the-pier"
	at := now.AddDate(0, 0, -2).Truncate(time.Hour)
	if err := tx.Create(&store.Broadcast{ID: id, CampaignID: campaignID, LetterID: letter, ListID: coastList, Rule: store.JSON("{}"), State: "going", At: &at, Pace: 5, CreatedAt: at.Add(-time.Hour)}).Error; err != nil {
		return err
	}
	return tx.Exec(`INSERT INTO postings (id, contact_id, kind, list_id, letter_id, broadcast_id, due_at, tries, subject, sent_at, clicked_at)
		SELECT 'pier-' || m.contact_id, m.contact_id, 'letter', m.list_id, ?, ?, ?, 1, ?, ?::timestamptz + row_number() OVER (ORDER BY m.contact_id) * interval '200 milliseconds',
			CASE WHEN (row_number() OVER (ORDER BY m.contact_id)) % 5 IN (1, 3) THEN ?::timestamptz + row_number() OVER (ORDER BY m.contact_id) * interval '11 minutes' END
		FROM members m WHERE m.list_id = ? AND m.state = 'on' AND m.on_at < ?`, letter, id, at, subjectOf(letter), at, at, coastList, at).Error
}

// readers are people who asked for the guide in the last days, with the letters they got.
func readers(tx *gorm.DB, line followup.Followup, now time.Time) error {
	at, err := time.LoadLocation(zone)
	if err != nil {
		return fmt.Errorf("the demo's zone: %w", err)
	}
	rng := rand.New(rand.NewPCG(11, 48)) //nolint:gosec // a story, not a secret
	seven, edition, keptOrder := "seven-knots", "frost-2", 0
	var buyers []string
	if err := tx.Raw("SELECT id FROM orders WHERE state = 'paid' ORDER BY id LIMIT 60").Scan(&buyers).Error; err != nil {
		return err
	}
	for i := range 96 {
		name := firsts[(i*5)%len(firsts)] + " " + lasts[(i*7+i/len(firsts))%len(lasts)]
		began := now.Add(-time.Duration(2+rng.IntN(9*24-2)) * time.Hour).Add(-time.Duration(rng.IntN(60)) * time.Minute).Truncate(time.Second)
		id := fmt.Sprintf("reader-%02d", i)
		who := store.Contact{ID: id, Email: fmt.Sprintf("%s.%d@readers.example", emailLocal(name), i), Name: name, FirstAt: began}
		if err := tx.Create(&who).Error; err != nil {
			return err
		}
		on := began.Add(time.Duration(2+rng.IntN(30)) * time.Minute)
		member := store.Member{ListID: guideList, ContactID: id, State: "on", Consent: "You may keep my address and write to me about kites.", PageID: &seven, EditionID: &edition, AskedAt: began, OnAt: &on, ToldAt: &on}
		switch {
		case i%11 == 4:
			member.State, member.OnAt = "asked", nil
		case i%16 == 7:
			off := on.Add(26 * time.Hour)
			if off.Before(now) {
				member.State, member.OffAt = "off", &off
			}
		}
		if err := tx.Create(&member).Error; err != nil {
			return err
		}
		if i%3 == 0 {
			if err := tx.Create(&store.Member{ListID: coastList, ContactID: id, State: "on", Consent: "You may write to me four times a year.", AskedAt: began, OnAt: &on}).Error; err != nil {
				return err
			}
		}
		if member.State != "on" {
			continue
		}
		if err := tx.Create(&store.Following{FollowupID: knotsLine, ContactID: id, BeganAt: on}).Error; err != nil {
			return err
		}
		for j, told := range line.Tell([]followup.Event{{What: followup.Joined, Of: guideList, At: on}}, at) {
			followupID, listID, letterID := knotsLine, guideList, told.Letter
			p := store.Posting{ID: fmt.Sprintf("%s-%d", id, j), ContactID: id, Kind: "letter", ListID: &listID, LetterID: &letterID, FollowupID: &followupID, DueAt: told.At.UTC()}
			if told.At.Before(now) {
				sent := told.At.UTC().Add(time.Duration(rng.IntN(40)) * time.Second)
				p.SentAt, p.Tries, p.Subject = &sent, 1, subjectOf(told.Letter)
				if rng.IntN(10) < 4 {
					clicked := sent.Add(time.Duration(20+rng.IntN(400)) * time.Minute)
					if clicked.Before(now) {
						p.ClickedAt = &clicked
					}
				}
			}
			if err := tx.Create(&p).Error; err != nil {
				return err
			}
			if p.ClickedAt != nil && rng.IntN(10) < 3 && keptOrder < len(buyers) { // some of the orders of the last days came by it
				if err := tx.Model(&store.Order{}).Where("id = ?", buyers[keptOrder]).Update("posting_id", p.ID).Error; err != nil {
					return err
				}
				// The reader is who ordered.
				err := tx.Exec(`UPDATE contacts c SET email = o.email, name = o.name FROM orders o WHERE o.id = ? AND c.id = ?
					AND NOT EXISTS (SELECT FROM contacts x WHERE lower(x.email) = lower(o.email))`, buyers[keptOrder], id).Error
				if err != nil {
					return err
				}
				keptOrder++
			}
		}
	}
	return nil
}

func subjectOf(letter string) string {
	for _, l := range letters() {
		if l.id == letter {
			return l.title
		}
	}
	return ""
}
