package audience_test

import (
	"context"
	"fmt"
	"testing"
	"time"

	"chrysagon/core/refusal"
	"chrysagon/core/segment"
	"chrysagon/internal/testkit"
	"chrysagon/store"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/gorm"
	"pgregory.net/rapid"
)

// crowd makes some people who did what is drawn, and answers with them as core has them.
func crowd(t *rapid.T, db *gorm.DB, now time.Time) map[string]segment.Person {
	out := map[string]segment.Person{}
	run := func(sql string, args ...any) {
		require.NoError(t, db.Exec(sql, args...).Error)
	}
	run("DELETE FROM contacts")
	run("DELETE FROM orders WHERE id LIKE 'crowd-%'")
	moment := rapid.Custom(func(t *rapid.T) time.Time {
		return now.Add(-time.Duration(rapid.IntRange(0, 100).Draw(t, "days ago")) * 24 * time.Hour).Truncate(time.Microsecond)
	})
	for i := range 6 {
		id := fmt.Sprintf("crowd-%d", i)
		p := segment.Person{Since: moment.Draw(t, "known")}
		run("INSERT INTO contacts (id, email, name, first_at) VALUES (?, ?, 'Crowd', ?)", id, fmt.Sprintf("Crowd.%d@readers.example", i), p.Since)
		for _, list := range []string{"the-guide", "news-of-the-coast"} {
			if !rapid.Bool().Draw(t, "joins") {
				continue
			}
			at, state := moment.Draw(t, "on"), rapid.SampledFrom([]string{"on", "off", "asked"}).Draw(t, "state")
			source := rapid.SampledFrom([]string{"", "posters"}).Draw(t, "source")
			run("INSERT INTO members (list_id, contact_id, state, consent, source, asked_at, on_at, off_at) VALUES (?, ?, ?, 'yes', ?, ?, ?, ?)", list, id, state, source, at, at, at)
			if state == "on" {
				p.Lists = append(p.Lists, segment.Event{Of: list, At: at})
			}
			if source != "" {
				p.CameBy = append(p.CameBy, segment.Event{Of: source, At: at})
			}
		}
		for j := range rapid.IntRange(0, 2).Draw(t, "orders") {
			at, minor, product := moment.Draw(t, "paid"), rapid.Int64Range(0, 90).Draw(t, "hundreds")*100, rapid.SampledFrom([]string{"ember", "quiver"}).Draw(t, "product")
			order := fmt.Sprintf("%s-%d", id, j)
			run(`INSERT INTO orders (id, token, number, visitor, campaign_id, step_id, edition_id, state, name, email, currency, total_minor, refunded_minor, created_at, paid_at, handling)
				VALUES (?, ?, nextval('order_numbers'), 'v', 'frost-lanterns', 'night-flight', 'frost-1', 'paid', 'Crowd', ?, 'EUR', ?, 0, ?, ?, 'to_pack')`, order, order, fmt.Sprintf("crowd.%d@READERS.example", i), minor, at, at)
			run("INSERT INTO payments (id, order_id, key, kind, step_id, state, amount_minor, asked_at) VALUES (?, ?, ?, 'checkout', 'night-flight', 'charged', ?, ?)", order, order, order, minor, at)
			run("INSERT INTO order_lines (payment_id, position, order_id, variant_id, name, via, quantity, list_minor, price_minor) VALUES (?, 0, ?, ?, 'x', 'page', 1, ?, ?)", order, order, product, minor, minor)
			p.Orders = append(p.Orders, segment.Event{At: at, Minor: minor})
			p.Bought = append(p.Bought, segment.Event{Of: product, At: at})
		}
		for j, letter := range []string{"two-bridles", "until-midnight"} {
			if !rapid.Bool().Draw(t, "is sent") {
				continue
			}
			at := moment.Draw(t, "sent")
			var clicked *time.Time
			p.Sent = append(p.Sent, segment.Event{Of: letter, At: at})
			if rapid.Bool().Draw(t, "clicks") {
				c := moment.Draw(t, "clicked")
				clicked = &c
				p.Clicked = append(p.Clicked, segment.Event{Of: letter, At: c})
			}
			run("INSERT INTO postings (id, contact_id, kind, letter_id, due_at, sent_at, clicked_at) VALUES (?, ?, 'letter', ?, ?, ?, ?)", fmt.Sprintf("%s-%d", id, j), id, letter, at, at, clicked)
		}
		out[id] = p
	}
	return out
}

// A sentence picks the same people in the database as it does by the rule.
func TestASentencePicksTheSameInSQLAndInCore(t *testing.T) {
	c := testkit.UseLists(t)
	zone, err := time.LoadLocation("Europe/Lisbon")
	require.NoError(t, err)
	rapid.Check(t, func(t *rapid.T) {
		people := crowd(t, c.Store.DB, c.Clock.Now())
		for range 12 {
			var rule segment.Rule
			for range rapid.IntRange(1, 3).Draw(t, "conditions") {
				did := rapid.SampledFrom(segment.Deeds).Draw(t, "did")
				clause := segment.Clause{Did: did, Not: rapid.Bool().Draw(t, "not")}
				of := map[segment.Deed][]string{
					segment.OnList: {"", "the-guide"}, segment.Bought: {"", "ember", "gone"}, segment.Clicked: {"", "two-bridles"}, segment.Sent: {"", "until-midnight"}, segment.CameBy: {"", "posters"},
					segment.Ordered: {""}, segment.Spent: {""}, segment.Known: {""},
				}[did]
				clause.Of = rapid.SampledFrom(of).Draw(t, "of")
				switch rapid.IntRange(0, 2).Draw(t, "since when") {
				case 1:
					clause.Days = rapid.IntRange(1, 110).Draw(t, "days")
				case 2:
					clause.Since = c.Clock.Now().AddDate(0, 0, -rapid.IntRange(0, 110).Draw(t, "since")).Format(time.DateOnly)
				}
				if most := map[segment.Deed]int64{segment.Ordered: 3, segment.Spent: 9000}[did]; most > 0 {
					clause.AtLeast = rapid.Int64Range(0, most).Draw(t, "at least")
				}
				rule.All = append(rule.All, clause)
			}
			require.Empty(t, rule.Faults())
			want := []string{}
			for id, p := range people {
				if rule.Holds(p, c.Clock.Now(), zone) {
					want = append(want, id)
				}
			}
			where, args := store.BuildSegment(rule, c.Clock.Now(), zone)
			got := []string{}
			require.NoError(t, c.Store.DB.Raw("SELECT c.id FROM contacts c WHERE "+where, args...).Scan(&got).Error)
			assert.ElementsMatch(t, want, got, "%+v", rule)
			rows, n, err := c.Audience.People(context.Background(), "", rule)
			require.NoError(t, err)
			listed := []string{}
			for _, row := range rows {
				listed = append(listed, row.ID)
			}
			assert.ElementsMatch(t, want, listed, "each is listed once: %+v", rule)
			assert.Equal(t, len(want), n)
		}
	})
}

// A sentence is kept under its name, counted as it holds now, and let go without touching
// anybody.
func TestASentenceIsKept(t *testing.T) {
	c, ctx := testkit.UseLists(t), context.Background()
	c.Exec("DELETE FROM segments")
	c.AtOnce()
	c.JoinList("the-guide", "ana@readers.example")
	on := segment.Rule{All: []segment.Clause{{Did: segment.OnList, Of: "the-guide"}, {Not: true, Did: segment.Bought, Of: "ember", Since: "2026-10-01"}}}
	id, err := c.Audience.SaveSegment(ctx, " Guide,  no kite ", on)
	require.NoError(t, err)
	again, err := c.Audience.SaveSegment(ctx, "Guide, no kite", on)
	require.NoError(t, err)
	assert.Equal(t, id, again)
	kept, err := c.Audience.Segments(ctx)
	require.NoError(t, err)
	require.Len(t, kept, 1)
	assert.Equal(t, 1, kept[0].Count)
	assert.Contains(t, kept[0].Says, "who is on the list “The guide”, and who did not buy “Ember 180")
	c.JoinList("the-guide", "bruno@readers.example")
	kept, err = c.Audience.Segments(ctx)
	require.NoError(t, err)
	assert.Equal(t, 2, kept[0].Count, "as it holds now")
	_, err = c.Audience.SaveSegment(ctx, "", on)
	require.ErrorIs(t, err, refusal.ErrInvalid)
	_, err = c.Audience.SaveSegment(ctx, "x", segment.Rule{All: []segment.Clause{{Did: "danced"}}})
	require.ErrorIs(t, err, refusal.ErrInvalid)
	require.NoError(t, c.Audience.RemoveSegment(ctx, id))
	assert.Equal(t, int64(2), c.Number("SELECT count(*) FROM contacts"))
}
