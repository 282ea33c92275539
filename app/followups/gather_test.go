package followups_test

import (
	"context"
	"testing"
	"time"

	"chrysagon/app/followups"
	"chrysagon/core/followup"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const ana = "ana@readers.example"

// line keeps a follow-up of two letters, an hour and a day after what begins it.
func line(t *testing.T, c *testkit.Cases, b followup.Begin) string {
	t.Helper()
	ctx := context.Background()
	id, faults, err := c.Followups.SaveLine(ctx, followups.Drafted{CampaignID: "frost-lanterns", Name: "After " + string(b.What), ListID: "the-guide", Line: followup.Followup{
		Begins: b, Steps: []followup.Step{{Letter: "what-the-wind-says", Minutes: 60}, {Letter: "two-bridles", Days: 1}},
	}})
	require.NoError(t, err)
	require.Empty(t, faults, b.What)
	require.NoError(t, c.Followups.Begins(ctx, "frost-lanterns", id, true))
	return id
}

// things is what each happening is of, and doings how it comes about: by an address, at a moment.
var (
	things = map[followup.Happening]string{
		followup.Submitted: "seven-knots", followup.Booked: "seven-knots", followup.Bought: "ember", followup.Declined: "quiver-bag", followup.Unfinished: "night-flight", followup.Clicked: "until-midnight",
	}
	doings = map[followup.Happening]string{
		followup.Submitted: `INSERT INTO leads (id, kind, email, page_id, piece_id, at) VALUES ('l', 'opt_in', $1, 'seven-knots', 'k-form', $2)`,
		followup.Booked:    `INSERT INTO leads (id, kind, email, page_id, piece_id, at, slot_at, slot_minutes) VALUES ('l', 'appointment', $1, 'seven-knots', 'w', $2, $2::timestamptz + interval '5 days', 60)`,
		followup.Bought:    `WITH o AS (UPDATE orders SET email = $1, paid_at = $2 WHERE id = (SELECT o.id FROM orders o JOIN order_lines l ON l.order_id = o.id WHERE o.state = 'paid' AND l.variant_id = 'ember' ORDER BY o.id LIMIT 1) RETURNING id) SELECT count(*) FROM o`,
		followup.Declined: `WITH o AS (UPDATE orders SET email = $1 WHERE id = (SELECT order_id FROM answers WHERE outcome = 'declined' AND step_id IN (SELECT id FROM steps WHERE page_id = 'quiver-bag') ORDER BY order_id LIMIT 1) RETURNING id)
			UPDATE answers SET at = $2 WHERE order_id IN (SELECT id FROM o)`,
		followup.Unfinished: `INSERT INTO unfinished (visitor, page_id, campaign_id, email, consent, typed, part, begun_at, at) VALUES ('v', 'night-flight', 'frost-lanterns', $1, 'yes', '{}', 1, $2, $2)`,
		followup.Clicked:    `INSERT INTO postings (id, contact_id, kind, list_id, letter_id, due_at, sent_at, clicked_at) SELECT 'p', id, 'letter', 'the-guide', 'until-midnight', $2, $2, $2 FROM contacts WHERE email = $1`,
	}
)

// What begins a line, crossed with being on its list before, after and not at all: each
// happening begins it once, for whoever is on the list, and what was due long before is not
// made up for.
func TestEachHappeningBeginsALine(t *testing.T) {
	for what, sql := range doings {
		for _, any := range []bool{false, true} {
			c, ctx := testkit.UseLists(t), context.Background()
			c.Exec("UPDATE lists SET confirmed = false")
			c.JoinList("news-of-the-coast", ana) // known, but not on its list
			c.Exec("DELETE FROM followups")
			b := followup.Begin{What: what, Of: things[what]}
			if what == followup.Booked {
				c.Exec(`UPDATE pages SET manuscript = manuscript || '{"note": {"kind": "appointment"}}' WHERE id = 'seven-knots'`)
			}
			if any {
				b.Of = ""
			}
			id := line(t, c, b)
			c.Clock.Advance(time.Minute)
			c.Exec(sql, ana, c.Clock.Now())
			require.NoError(t, c.Followups.Gather(ctx))
			assert.Zero(t, c.Number("SELECT count(*) FROM followings"), "%s: who is not on the list is written nothing", what)

			c.Clock.Advance(30 * time.Minute)
			c.JoinList("the-guide", ana)
			for range 3 { // once, however often it is looked for
				require.NoError(t, c.Followups.Gather(ctx))
			}
			assert.Equal(t, int64(2), c.Number("SELECT count(*) FROM postings WHERE followup_id = $1", id), "%s of %q", what, b.Of)
			c.Clock.Advance(31 * time.Minute)
			_, err := c.Postroom.SendDue(ctx)
			require.NoError(t, err)
			assert.Len(t, c.Post.SentTo(ana), 1, "%s: an hour after", what)
			c.Clock.Advance(24 * time.Hour)
			_, err = c.Postroom.SendDue(ctx)
			require.NoError(t, err)
			assert.Len(t, c.Post.SentTo(ana), 2, "%s: a day after that", what)
		}
	}
}

// What is of another thing, or was before the line was let begin, begins nothing.
func TestOnlyThatBeginsALine(t *testing.T) {
	c, ctx := testkit.UseLists(t), context.Background()
	c.AtOnce()
	c.Exec("DELETE FROM followups")
	c.JoinList("the-guide", ana)
	c.Exec(`INSERT INTO unfinished (visitor, page_id, campaign_id, email, typed, part, begun_at, at) VALUES ('v', 'night-flight', 'frost-lanterns', $1, '{}', 1, $2, $2)`, ana, c.Clock.Now().Add(-time.Minute))
	line(t, c, followup.Begin{What: followup.Unfinished})
	line(t, c, followup.Begin{What: followup.Submitted, Of: "seven-knots"})
	c.Exec(`INSERT INTO leads (id, kind, email, page_id, piece_id, at) VALUES ('l', 'newsletter', $1, 'night-flight', 'x', $2)`, ana, c.Clock.Now())
	require.NoError(t, c.Followups.Gather(ctx))
	assert.Zero(t, c.Number("SELECT count(*) FROM followings"))
	_, faults, err := c.Followups.SaveLine(ctx, followups.Drafted{CampaignID: "frost-lanterns", Name: "x", ListID: "the-guide", Line: followup.Followup{Begins: followup.Begin{What: followup.Declined, Of: "gone"}}})
	require.NoError(t, err)
	assert.Equal(t, []string{"Choose another beginning; what this one is of is gone."}, faults)
}

// Days before a deadline it begins for all of the list at once, and for who joins after that
// with what is still to come; once the deadline is past, for nobody.
func TestALineBeginsBeforeADeadline(t *testing.T) {
	c, ctx := testkit.UseLists(t), context.Background()
	c.AtOnce()
	c.Exec("DELETE FROM followups")
	ends := c.Clock.Now().AddDate(0, 0, 4)
	c.Exec("UPDATE deadlines SET at = $1 WHERE id = (SELECT id FROM deadlines WHERE kind = 'fixed' ORDER BY id LIMIT 1)", ends)
	of := c.Text("SELECT id FROM deadlines WHERE kind = 'fixed' ORDER BY id LIMIT 1")
	c.JoinList("the-guide", ana)
	id := line(t, c, followup.Begin{What: followup.Nears, Of: of, Days: 3})
	require.NoError(t, c.Followups.Gather(ctx))
	assert.Zero(t, c.Number("SELECT count(*) FROM followings"), "it is not time")
	c.Clock.Advance(24*time.Hour + time.Second)
	require.NoError(t, c.Followups.Gather(ctx))
	assert.Equal(t, int64(2), c.Number("SELECT count(*) FROM postings WHERE followup_id = $1", id))
	c.Clock.Advance(10 * time.Hour)
	c.JoinList("the-guide", "bruno@readers.example")
	require.NoError(t, c.Followups.Gather(ctx))
	assert.Equal(t, "two-bridles", c.Text("SELECT string_agg(letter_id, ',') FROM postings p JOIN contacts x ON x.id = p.contact_id WHERE x.email LIKE 'bruno%' AND p.followup_id = $1", id), "the first was due before")
	c.Clock.Advance(4 * 24 * time.Hour)
	c.JoinList("the-guide", "clara@readers.example")
	require.NoError(t, c.Followups.Gather(ctx))
	assert.Zero(t, c.Number("SELECT count(*) FROM followings g JOIN contacts x ON x.id = g.contact_id WHERE x.email LIKE 'clara%'"))
}

// A letter hangs on what its reader did, before the line began or on it: each thing they can
// have done sends the letter for who has, and keeps back the one for who has not; what others
// did, or what is of another thing, does neither.
func TestALetterHangsOnWhatWasDone(t *testing.T) {
	const bruno = "bruno@readers.example"
	for what, sql := range doings {
		for _, of := range []string{"", things[what]} {
			if of == "" && what == followup.Clicked {
				continue // in letters of its own line
			}
			c, ctx := testkit.UseLists(t), context.Background()
			c.Exec("UPDATE lists SET confirmed = false")
			c.Exec("DELETE FROM followups")
			c.JoinList("news-of-the-coast", ana)
			if what == followup.Booked {
				c.Exec(`UPDATE pages SET manuscript = manuscript || '{"note": {"kind": "appointment"}}' WHERE id = 'seven-knots'`)
			}
			c.Exec(sql, ana, c.Clock.Now())
			_, faults, err := c.Followups.SaveLine(ctx, followups.Drafted{CampaignID: "frost-lanterns", Name: "Forked", ListID: "the-guide", Line: followup.Followup{
				Begins: followup.Begin{What: followup.Joined}, Stays: true, Steps: []followup.Step{
					{Letter: "what-the-wind-says", Minutes: 10, Only: followup.Only{Did: what, Of: of}},
					{Letter: "two-bridles", Minutes: 10, Only: followup.Only{Not: true, Did: what, Of: of}},
				},
			}})
			require.NoError(t, err)
			require.Empty(t, faults, what)
			c.Exec("UPDATE followups SET begins = true, since = created_at")
			c.JoinList("the-guide", ana)
			c.JoinList("the-guide", bruno)
			c.Clock.Advance(time.Hour)
			_, err = c.Postroom.SendDue(ctx)
			require.NoError(t, err)
			got := map[string]string{}
			for _, l := range c.Post.Letters {
				got[l.To] += l.Subject
			}
			assert.Equal(t, map[string]string{ana: "What the wind says before it says it", bruno: "Two bridles, one sky: which one lifts yours?"}, got, "%s of %q", what, of)
		}
	}
}

// What a letter hangs on must be there.
func TestALetterHangsOnNothingThatIsGone(t *testing.T) {
	c, ctx := testkit.UseLists(t), context.Background()
	_, faults, err := c.Followups.SaveLine(ctx, followups.Drafted{CampaignID: "frost-lanterns", Name: "x", ListID: "the-guide", Line: followup.Followup{
		Begins: followup.Begin{What: followup.Joined}, Steps: []followup.Step{{Letter: "two-bridles", Only: followup.Only{Did: followup.Bought, Of: "gone"}}},
	}})
	require.NoError(t, err)
	assert.Equal(t, []string{"Choose again to whom step 1 is sent; what that names is gone."}, faults)
}
