package followups

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/app/mail"
	"chrysagon/core/deadline"
	"chrysagon/core/followup"
	"chrysagon/core/refusal"
	"chrysagon/core/words"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Line is a follow-up with all that is told of it.
type Line struct {
	Row  store.Followup
	Says followup.Followup

	Deadline deadline.Deadline // of no ID where nothing ends it but a purchase
	List     string            // the name of the list that begins it
	Way      int               // people on it whom a letter still awaits
	Began    int
	Letters  map[string]Letter // by ID
}

// Letter is a letter of a campaign, as it is chosen and told.
type Letter struct {
	ID, Name, Subject string
	Live              bool // it is published, so that it can be sent
	Sent, Clicked     int
	Orders            int
	Minor             int64 // what those orders came to, less what went back
}

// read is what a stored line says.
func read(row store.Followup, ends []store.Deadline) (followup.Followup, deadline.Deadline, error) {
	var f followup.Followup
	var end deadline.Deadline
	if err := json.Unmarshal(row.Line, &f); err != nil {
		return f, end, fmt.Errorf("read the follow-up %q: %w", row.Name, err)
	}
	if f.List = factbook.Deref(row.ListID); f.Begins.What == "" || f.Begins.What == followup.Joined {
		f.Begins = followup.Begin{What: followup.Joined, Of: f.List}
	}
	for _, d := range ends {
		if row.DeadlineID != nil && d.ID == *row.DeadlineID {
			end = factbook.DeadlineOf(d)
			if end.Kind == deadline.Fixed || end.Kind == "" {
				f.Until = end.At
			}
		}
	}
	return f, end, nil
}

func (k *Keeper) lineOf(db *gorm.DB, row store.Followup) (followup.Followup, error) {
	var ends []store.Deadline
	if err := db.Where("id = ?", row.DeadlineID).Find(&ends).Error; err != nil {
		return followup.Followup{}, err
	}
	f, _, err := read(row, ends)
	return f, err
}

// Begin puts somebody on a line, once, and plans its letters for them, but for those that were
// due before a moment.
func (k *Keeper) Begin(tx *gorm.DB, row store.Followup, who store.Contact, e followup.Event, after time.Time) error {
	done := tx.Exec("INSERT INTO followings (followup_id, contact_id, began_at) VALUES (?, ?, ?) ON CONFLICT DO NOTHING", row.ID, who.ID, e.At)
	if done.Error != nil || done.RowsAffected == 0 {
		return done.Error
	}
	f, err := k.lineOf(tx, row)
	if err != nil {
		return err
	}
	at, err := ShopZone(tx)
	if err != nil {
		return err
	}
	return k.plan(tx, row, f.Tell([]followup.Event{e}, Zone(who.Zone, at)), who, after)
}

// plan keeps the letters of a line that are to be sent to somebody after a moment, as they
// are told. What was sent stays, and what was to be sent before: a letter that is put into a
// line does not go to whoever has come past its place.
func (k *Keeper) plan(tx *gorm.DB, row store.Followup, letters []followup.Told, who store.Contact, after time.Time) error {
	if err := tx.Exec("DELETE FROM postings WHERE followup_id = ? AND contact_id = ? AND sent_at IS NULL AND taken_until IS NULL AND due_at > ?", row.ID, who.ID, after).Error; err != nil {
		return err
	}
	for _, told := range letters {
		if told.At.Before(after) {
			continue
		}
		err := tx.Exec(`INSERT INTO postings (id, contact_id, kind, list_id, letter_id, followup_id, due_at) VALUES (?, ?, 'letter', ?, ?, ?, ?) ON CONFLICT DO NOTHING`,
			store.NewID(), who.ID, row.ListID, told.Letter, row.ID, told.At.UTC()).Error
		if err != nil {
			return fmt.Errorf("plan a letter: %w", err)
		}
	}
	return k.Queue.Put(tx, mail.SendPost{})
}

// Lines lists the follow-ups of a campaign, each with its letters among those.
func (k *Keeper) Lines(ctx context.Context, campaignID string, letters map[string]Letter) ([]Line, error) {
	db := k.Store.On(ctx)
	var rows []struct {
		store.Followup
		List       string
		Way, Began int
	}
	err := db.Raw(`SELECT f.*, coalesce(l.name, '') AS list, (SELECT count(*) FROM followings g WHERE g.followup_id = f.id) AS began,
			(SELECT count(DISTINCT p.contact_id) FROM postings p WHERE p.followup_id = f.id AND p.sent_at IS NULL AND p.dropped = '') AS way
		FROM followups f LEFT JOIN lists l ON l.id = f.list_id WHERE f.campaign_id = ? ORDER BY f.created_at, f.id`, campaignID).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("read the follow-ups: %w", err)
	}
	var ends []store.Deadline
	if err := db.Find(&ends).Error; err != nil {
		return nil, err
	}
	out := make([]Line, len(rows))
	for i, r := range rows {
		out[i] = Line{Row: r.Followup, List: r.List, Way: r.Way, Began: r.Began, Letters: letters}
		if out[i].Says, out[i].Deadline, err = read(r.Followup, ends); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// Published joins the live edition of a campaign c, where a letter p stands in it.
const Published = `LEFT JOIN LATERAL (SELECT e.id FROM editions e WHERE e.id = c.live_edition_id AND e.content -> 'pages' @> jsonb_build_array(jsonb_build_object('id', p.id))) live ON true`

// Letters are those of a campaign by their IDs, each with what came of it. An order is
// credited to the letter that was clicked last before it.
func (k *Keeper) Letters(ctx context.Context, campaignID string) (map[string]Letter, error) {
	var rows []Letter
	err := k.Store.On(ctx).Raw(`SELECT p.id, p.name, p.title AS subject, live.id IS NOT NULL AS live, coalesce(s.sent, 0) AS sent, coalesce(s.clicked, 0) AS clicked,
			coalesce(o.orders, 0) AS orders, coalesce(o.minor, 0) AS minor
		FROM pages p JOIN campaigns c ON c.id = p.campaign_id
		`+Published+`
		LEFT JOIN (SELECT letter_id, count(*) FILTER (WHERE sent_at IS NOT NULL) AS sent, count(clicked_at) AS clicked FROM postings WHERE letter_id IS NOT NULL GROUP BY letter_id) s ON s.letter_id = p.id
		LEFT JOIN (SELECT t.letter_id, count(*) AS orders, sum(r.total_minor - r.refunded_minor) AS minor FROM orders r JOIN postings t ON t.id = r.posting_id
			WHERE r.state = 'paid' GROUP BY t.letter_id) o ON o.letter_id = p.id
		WHERE p.campaign_id = ? AND p.purpose = 'letter' AND p.aside_at IS NULL ORDER BY p.name`, campaignID).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("read the letters: %w", err)
	}
	out := make(map[string]Letter, len(rows))
	for _, r := range rows {
		out[r.ID] = r
	}
	return out, nil
}

// Drafted is a follow-up as its owner writes it.
type Drafted struct {
	ID, CampaignID, Name, ListID, DeadlineID string
	Line                                     followup.Followup
}

// SaveLine keeps a follow-up, a new one where it has no ID, and plans anew what those get
// who are on it. Faults are sentences.
func (k *Keeper) SaveLine(ctx context.Context, in Drafted) (string, []string, error) {
	if in.Line.Until = (time.Time{}); in.Line.Begins.What == "" || in.Line.Begins.What == followup.Joined { // the list and the deadline say it
		in.Line.Begins = followup.Begin{What: followup.Joined, Of: in.ListID}
	}
	faults := in.Line.Faults()
	if in.Name = words.Tidy(in.Name); in.Name == "" || len([]rune(in.Name)) > 80 {
		faults = append(faults, "Give the follow-up a name of at most 80 characters.")
	}
	there, err := k.named(ctx, in)
	if err != nil {
		return "", nil, err
	}
	faults = append(faults, there...)
	if len(faults) > 0 {
		return "", faults, nil
	}
	raw, err := json.Marshal(in.Line)
	if err != nil {
		return "", nil, fmt.Errorf("write a follow-up: %w", err)
	}
	row := store.Followup{ID: in.ID, CampaignID: in.CampaignID, Name: in.Name, Line: raw, ListID: factbook.Ref(in.ListID), DeadlineID: factbook.Ref(in.DeadlineID), CreatedAt: k.Store.Now()}
	err = k.Store.In(ctx, func(tx *gorm.DB) error {
		if row.ID == "" {
			row.ID = store.NewID()
			return tx.Create(&row).Error
		}
		done := tx.Exec("UPDATE followups SET name = ?, line = ?, list_id = ?, deadline_id = ?, revision = revision + 1 WHERE id = ? AND campaign_id = ?", row.Name, row.Line, row.ListID, row.DeadlineID, row.ID, row.CampaignID)
		if done.Error != nil {
			return done.Error
		}
		if done.RowsAffected == 0 {
			return refusal.Of(refusal.ErrNotFound, "There is no such follow-up.")
		}
		return k.replan(tx, row)
	})
	if err != nil {
		return "", nil, fmt.Errorf("keep a follow-up: %w", err)
	}
	return row.ID, nil, nil
}

// named says what a follow-up names that is not there.
func (k *Keeper) named(ctx context.Context, in Drafted) ([]string, error) {
	var out []string
	db := k.Store.On(ctx)
	var lists, ends int64
	if err := db.Model(&store.List{}).Where("id = ?", in.ListID).Count(&lists).Error; err != nil {
		return nil, err
	}
	if lists == 0 {
		out = append(out, "Choose the list whose people it is for.")
	}
	if in.DeadlineID != "" {
		if err := db.Model(&store.Deadline{}).Where("id = ?", in.DeadlineID).Count(&ends).Error; err != nil {
			return nil, err
		}
		if ends == 0 {
			out = append(out, "Choose another deadline; this one is gone.")
		}
	}
	beginnings, err := k.Beginnings(ctx, in.CampaignID)
	if err != nil {
		return nil, err
	}
	if !beginnings.has(in.Line.Begins) {
		out = append(out, "Choose another beginning; what this one is of is gone.")
	}
	letters, err := k.Letters(ctx, in.CampaignID)
	if err != nil {
		return nil, err
	}
	seen := map[string]bool{}
	for i, s := range in.Line.Steps {
		l, known := letters[s.Letter]
		switch {
		case !known:
			out = append(out, fmt.Sprintf("Choose another letter for step %d; this one is gone.", i+1))
		case seen[s.Letter]:
			out = append(out, fmt.Sprintf("“%s” stands in it twice; nobody is sent a letter twice.", l.Name))
		}
		seen[s.Letter] = true
		if !beginnings.hang(s.Only) {
			out = append(out, fmt.Sprintf("Choose again to whom step %d is sent; what that names is gone.", i+1))
		}
	}
	return out, nil
}

// replan plans anew what everybody on a line gets.
func (k *Keeper) replan(tx *gorm.DB, row store.Followup) error {
	f, err := k.lineOf(tx, row)
	if err != nil {
		return err
	}
	var under []struct {
		store.Contact
		BeganAt time.Time
	}
	if err := tx.Raw("SELECT c.*, g.began_at FROM followings g JOIN contacts c ON c.id = g.contact_id WHERE g.followup_id = ? ORDER BY c.id", row.ID).Scan(&under).Error; err != nil {
		return err
	}
	at, err := ShopZone(tx)
	if err != nil {
		return err
	}
	for _, u := range under {
		did, err := history(tx, row, f, u.Contact, u.BeganAt)
		if err != nil {
			return err
		}
		if err := k.plan(tx, row, f.Tell(did, Zone(u.Zone, at)), u.Contact, k.Store.Now()); err != nil {
			return err
		}
	}
	return nil
}

// Begins lets people begin a line from now on, or no more. It can begin only once each of
// its letters is published: what cannot be sent would be promised.
func (k *Keeper) Begins(ctx context.Context, campaignID, id string, begins bool) error {
	letters, err := k.Letters(ctx, campaignID)
	if err != nil {
		return err
	}
	lines, err := k.Lines(ctx, campaignID, letters)
	if err != nil {
		return err
	}
	i := slices.IndexFunc(lines, func(l Line) bool { return l.Row.ID == id })
	if i < 0 {
		return refusal.Of(refusal.ErrNotFound, "There is no such follow-up.")
	}
	if begins {
		if len(lines[i].Says.Steps) == 0 {
			return refusal.Of(refusal.ErrConflict, "“%s” has no letters yet.", lines[i].Row.Name)
		}
		for _, s := range lines[i].Says.Steps {
			if l, known := letters[s.Letter]; !known {
				return refusal.Of(refusal.ErrConflict, "A letter of “%s” was set aside; choose another.", lines[i].Row.Name)
			} else if !l.Live {
				return refusal.Of(refusal.ErrConflict, "“%s” is not published yet. Publish the season with it first; then the follow-up can begin.", l.Name)
			}
		}
	}
	return k.Store.On(ctx).Model(&store.Followup{}).Where("id = ?", id).Updates(map[string]any{"begins": begins, "since": k.Store.Now()}).Error
}

// RemoveLine takes a follow-up away; whoever is on it gets no more of it.
func (k *Keeper) RemoveLine(ctx context.Context, campaignID, id string) error {
	done := k.Store.On(ctx).Where("campaign_id = ?", campaignID).Delete(&store.Followup{ID: id})
	if done.Error == nil && done.RowsAffected == 0 {
		return refusal.Of(refusal.ErrNotFound, "There is no such follow-up.")
	}
	return done.Error
}
