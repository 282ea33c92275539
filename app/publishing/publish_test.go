package publishing_test

import (
	"context"
	"fmt"
	"log/slog"
	"sync"
	"testing"
	"time"

	"chrysagon/app/account"
	"chrysagon/app/desk"
	"chrysagon/app/drafts"
	"chrysagon/app/events"
	"chrysagon/app/offers"
	"chrysagon/app/publishing"
	"chrysagon/app/results"
	"chrysagon/core/manuscript"
	"chrysagon/core/publish"
	"chrysagon/core/refusal"
	"chrysagon/demo"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const season = "frost-lanterns"

func write(t *testing.T, shop *testkit.Shop, piece, text string) drafts.Draft {
	t.Helper()
	d, err := shop.App.Desk.Edit(context.Background(), "marta", "night-flight", manuscript.Command{Op: manuscript.SetField, Piece: piece, Field: "text", Value: text}, false)
	require.NoError(t, err)
	return d
}

func TestTwentyWritersLoseNothing(t *testing.T) {
	shop := testkit.Open(t)
	var wait sync.WaitGroup
	for i := range 20 {
		wait.Add(1)
		go func() {
			defer wait.Done()
			_, err := shop.App.Desk.Edit(context.Background(), "marta", "night-flight", manuscript.Command{
				Op: manuscript.AddBand, Index: i,
				Band: &manuscript.Band{ID: fmt.Sprintf("new-%d", i), Name: "New", Tone: manuscript.Card, Columns: []manuscript.Column{{Width: 1, Pieces: []manuscript.Piece{}}}},
			}, false)
			assert.NoError(t, err)
		}()
	}
	wait.Wait()
	d, err := shop.App.Drafts.Draft(context.Background(), "night-flight")
	require.NoError(t, err)
	assert.Len(t, d.Tree.Bands, 7+20)
	assert.Equal(t, int64(20), d.Revision)
	for range 20 {
		d, err = shop.App.Desk.Undo(context.Background(), "marta", "night-flight")
		require.NoError(t, err)
	}
	assert.Len(t, d.Tree.Bands, 7, "and all of it can be taken back")
	_, err = shop.App.Desk.Undo(context.Background(), "marta", "night-flight")
	require.ErrorIs(t, err, refusal.ErrInvalid)
}

func TestANewChangeEndsWhatCouldBeRepeated(t *testing.T) {
	shop := testkit.Open(t)
	write(t, shop, "headline", "One")
	_, err := shop.App.Desk.Undo(context.Background(), "marta", "night-flight")
	require.NoError(t, err)
	write(t, shop, "headline", "Two")
	undo, redo, err := shop.App.Desk.CanStep(context.Background(), "marta", "night-flight")
	require.NoError(t, err)
	assert.True(t, undo)
	assert.False(t, redo)
	_, err = shop.App.Desk.Redo(context.Background(), "marta", "night-flight")
	require.ErrorIs(t, err, refusal.ErrInvalid)
}

func TestTheStateSaysWhatTheDraftChanged(t *testing.T) {
	shop := testkit.Open(t)
	ctx := context.Background()
	s, err := shop.App.Publishing.State(ctx, season)
	require.NoError(t, err)
	assert.Zero(t, s.Differs(), "the demo is live as drafted")
	write(t, shop, "headline", "Other words")
	shop.Rename("thank-you", publish.Naming{Name: "Thanks", Address: "thanks", Title: "T"})
	s, err = shop.App.Publishing.State(ctx, season)
	require.NoError(t, err)
	assert.Equal(t, []publishing.PageChange{
		{Page: "Night flight", Bands: []manuscript.Difference{{Band: "Opening", How: "changed"}}},
		{Page: "Thanks", Words: []string{"name", "address", "title"}},
	}, s.Changes)

	number, err := shop.App.Publishing.Publish(ctx, season, "Marta Venn")
	require.NoError(t, err)
	assert.Equal(t, 2, number)
	_, err = shop.App.Publishing.Live(ctx, "thanks")
	require.NoError(t, err)
	_, err = shop.App.Publishing.Live(ctx, "thank-you")
	require.ErrorIs(t, err, refusal.ErrNotFound, "the old address is free again")
	_, err = shop.App.Publishing.PutBack(ctx, season, "frost-1")
	require.NoError(t, err)
	_, err = shop.App.Publishing.Live(ctx, "thank-you")
	require.NoError(t, err, "the former edition comes back whole")
}

func TestPublishingAtOnceMakesEachEditionOnce(t *testing.T) {
	shop := testkit.Open(t)
	ctx := context.Background()
	write(t, shop, "headline", "Other words")
	var wait sync.WaitGroup
	for range 6 {
		wait.Add(1)
		go func() {
			defer wait.Done()
			_, _ = shop.App.Publishing.Publish(ctx, season, "Marta Venn")
		}()
	}
	wait.Wait()
	s, err := shop.App.Publishing.State(ctx, season)
	require.NoError(t, err)
	seen := map[int]bool{}
	live := 0
	for _, e := range s.Editions {
		assert.False(t, seen[e.Number], "edition %d is there twice", e.Number)
		seen[e.Number] = true
		if e.Live {
			live++
		}
	}
	assert.Equal(t, 1, live)
	assert.Zero(t, s.Differs())
}

func TestTheDemoNeverLooksExpired(t *testing.T) {
	shop := testkit.Open(t)
	ctx := context.Background()
	later := testkit.Start.AddDate(0, 3, 0)
	require.NoError(t, demo.Load(ctx, shop.Store, later))
	var at time.Time
	require.NoError(t, shop.Store.Pool.QueryRow(ctx, `SELECT at FROM deadlines`).Scan(&at))
	assert.True(t, at.After(later), "a demo started again later has its deadline still to come")
	assert.Equal(t, int64(3), shop.Number(`SELECT count(*) FROM campaigns`), "and nothing is loaded twice")
}

func TestViewsAreCountedOncePerBrowser(t *testing.T) {
	shop := testkit.Open(t)
	before := shop.Number(`SELECT count(*) FROM events`)
	tick := make(chan time.Time)
	views := events.New(shop.Store, slog.Default(), tick)
	ctx, cancel := context.WithCancel(context.Background())
	done := make(chan struct{})
	go func() { views.Run(ctx); close(done) }()
	for range 50 {
		views.Note(events.Event{CampaignID: "frost-lanterns", PageID: "night-flight", Visitor: "one", StepID: "night-flight", EditionID: "frost-1"})
		views.Note(events.Event{CampaignID: "frost-lanterns", PageID: "night-flight", Visitor: "two", StepID: "night-flight", EditionID: "frost-1"})
		views.Note(events.Event{CampaignID: "frost-lanterns", PageID: "night-flight", StepID: "night-flight", EditionID: "frost-1"}) // nobody: a robot, a prefetch
	}
	cancel() // what was noted is written before the program ends
	<-done
	r, err := shop.App.Results.Results(context.Background(), season, testkit.Start.Add(-time.Minute))
	require.NoError(t, err)
	written := shop.Number(`SELECT count(*) FROM events`) - before
	assert.LessOrEqual(t, written, int64(2))
	assert.Equal(t, written, r.Visitors)
}

// Orders and revenue belong to the step at which they happened: a second sales page
// has none of the first one's.
func TestASecondSalesPageHasItsOwnFigures(t *testing.T) {
	shop := testkit.Open(t)
	require.NotNil(t, shop.Browser().Buy("9200 0000 0000 0017")["go"])
	shop.Exec(`INSERT INTO pages (id, campaign_id, name, address, purpose, manuscript) VALUES ('letter', $1, 'Letter', 'letter', 'sales', '{"version": 1, "bands": []}')`, season)
	shop.Exec(`INSERT INTO steps (id, campaign_id, page_id, kind, position) VALUES ('letter', $1, 'letter', 'sales', 90)`, season)
	r, err := shop.App.Results.Results(context.Background(), season, testkit.Start.Add(-time.Minute))
	require.NoError(t, err)
	by := map[string]results.Stair{}
	for _, s := range r.Stairs {
		by[s.Step.PageID] = s
	}
	assert.Equal(t, int64(1), by["night-flight"].Passed)
	assert.Equal(t, int64(5100), by["night-flight"].Revenue.Minor)
	assert.Zero(t, by["letter"].Passed)
	assert.Zero(t, by["letter"].Revenue.Minor)
	assert.Equal(t, int64(1), r.Orders)
}

// An offer that was ended stays ended when its words are changed.
func TestEditingAnEndedOfferDoesNotReviveIt(t *testing.T) {
	shop := testkit.Open(t)
	ctx := context.Background()
	require.NoError(t, shop.App.Offers.EndOffer(ctx, "lantern-week"))
	_, faults, err := shop.App.Offers.SaveOffer(ctx, offers.OfferInput{ID: "lantern-week", Name: "Lantern week, over", Kind: "percent_off", Members: map[string]string{"percent": "40"}, Covers: "goods", Goods: []string{"ember"}})
	require.NoError(t, err)
	require.Empty(t, faults)
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM offers WHERE id = 'lantern-week' AND name = 'Lantern week, over' AND ended_at IS NOT NULL`))
	assert.Equal(t, int64(6800), shop.Number(`SELECT now_minor FROM variants WHERE id = 'ember'`))
}

func TestPasswordsAreHashedWithSalt(t *testing.T) {
	one, two := account.HashPassword("lantern"), account.HashPassword("lantern")
	assert.NotEqual(t, one, two)
	assert.Regexp(t, `^\$argon2id\$v=19\$m=65536,t=3,p=4\$`, one, "RFC 9106, section 4, second recommended option")
}

func TestFreeGoodsNeedNoTill(t *testing.T) {
	shop := testkit.Open(t)
	shop.Exec(`UPDATE offers SET percent = 100 WHERE id = 'lantern-week'`)
	shop.Exec(`DELETE FROM shipping_zones`) // or sending them would cost something
	b := shop.Browser()
	next, _ := b.Buy("9200 0000 0000 0017")["go"].(string)
	require.Contains(t, next, "/quiver-bag?order=")
	assert.Zero(t, shop.Number(`SELECT count(*) FROM till.charges`))
	assert.Contains(t, b.Get(next).Location, "/thank-you", "with no card kept there is no one-press offer")
}

func TestTheHistorySaysWhoWroteWhatAndWhen(t *testing.T) {
	shop := testkit.Open(t)
	write(t, shop, "headline", "One")
	shop.Clock.Advance(time.Hour)
	d := write(t, shop, "headline", "Two")
	_, err := shop.App.Desk.Undo(context.Background(), "marta", "night-flight")
	require.NoError(t, err)
	list, err := shop.App.Desk.History(context.Background(), d)
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, desk.Past{At: list[0].At, Who: "Marta Venn", What: "wrote “Two” in Heading in “Opening”", Undone: true}, list[0])
	assert.True(t, list[0].At.Equal(shop.App.Store.Now()))
	assert.False(t, list[1].Undone)
}
