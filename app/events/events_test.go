package events_test

import (
	"context"
	"fmt"
	"log/slog"
	"testing"
	"time"

	"chrysagon/app/events"
	"chrysagon/core/source"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/gorm"
)

var ctx = context.Background()

// A view that cannot be kept is lost alone.
func TestABadViewCostsNoOther(t *testing.T) {
	shop := testkit.Open(t)
	var edition string
	require.NoError(t, shop.Store.DB.Raw("SELECT live_edition_id FROM campaigns WHERE id = ?", "frost-lanterns").Scan(&edition).Error)
	var step string
	require.NoError(t, shop.Store.DB.Raw("SELECT id FROM steps WHERE page_id = 'night-flight'").Scan(&step).Error)
	before := shop.Number("SELECT count(*) FROM events")
	run, end := context.WithCancel(ctx)
	tick, done := make(chan time.Time), make(chan struct{})
	v := events.New(shop.Store, slog.Default(), tick)
	for i := range 100 {
		v.Note(events.Event{CampaignID: "frost-lanterns", PageID: "night-flight", Visitor: fmt.Sprintf("visitor-%d", i), StepID: step, EditionID: edition})
		if i%30 == 0 {
			v.Note(events.Event{CampaignID: "frost-lanterns", PageID: "night-flight", Visitor: fmt.Sprintf("bad\x00%d", i), StepID: step, EditionID: edition})
		}
	}
	go func() { defer close(done); v.Run(run) }()
	end()
	<-done
	assert.Equal(t, int64(100), shop.Number("SELECT count(*) FROM events")-before)
}

// Each month's events have a table of their own, also those of a program that has
// run since an earlier month; nobody's events are not kept.
func TestEachMonthHasItsTable(t *testing.T) {
	shop := testkit.Open(t)
	tick, done := make(chan time.Time), make(chan struct{})
	run, end := context.WithCancel(ctx)
	r := events.New(shop.Store, slog.Default(), tick)
	require.NoError(t, r.Partitions(ctx))
	shop.Clock.Advance(92 * 24 * time.Hour)
	r.Note(events.Event{CampaignID: "frost-lanterns", EditionID: "frost-1", Visitor: "one", PageID: "about"})
	r.Note(events.Event{CampaignID: "frost-lanterns", PageID: "about"})
	r.Note(events.Event{CampaignID: "frost-lanterns", Visitor: "one"})
	go func() { defer close(done); r.Run(run) }()
	end()
	<-done
	month := shop.Clock.Now().UTC().Format("2006_01")
	assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM events_"+month))
	assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM events WHERE visitor = 'one'"))
}

// Sources that are too many to be told apart are counted together, so that nobody can
// fill the store with names; each visitor is counted all the same.
func TestSourcesBeyondManyAreOne(t *testing.T) {
	shop := testkit.Open(t)
	before := shop.Number("SELECT sum(visitors) FROM walk_hours WHERE span = 'day' AND step_id = ''")
	for i := range source.MostNames + 60 {
		shop.Events.Note(events.Event{CampaignID: "frost-lanterns", EditionID: "frost-1", PageID: "night-flight", StepID: "night-flight", Visitor: fmt.Sprint("crowd-", i), Source: source.Source{Name: fmt.Sprint("site-", i, ".example")}})
	}
	shop.Record()
	assert.LessOrEqual(t, shop.Number("SELECT count(DISTINCT source) FROM walk_hours"), int64(source.MostNames+1))
	assert.Positive(t, shop.Number("SELECT count(*) FROM walk_hours WHERE source = $1", source.Other))
	assert.Equal(t, int64(source.MostNames+60), shop.Number("SELECT sum(visitors) FROM walk_hours WHERE span = 'day' AND step_id = ''")-before)
}

// The database refuses a kind that no kind could be.
func TestAKindIsAName(t *testing.T) {
	shop := testkit.Open(t)
	put := func(kind string) error {
		return shop.Store.DB.Transaction(func(tx *gorm.DB) error {
			return tx.Exec("INSERT INTO events (at, kind, visitor, page_id, step_id, edition_id) VALUES (now(), ?, 'x', 'p', '', 'e')", kind).Error
		})
	}
	require.NoError(t, put(string(events.View)))
	for _, kind := range []string{"", "View", "view ", "_x", "a__b", "view1"} {
		require.Error(t, put(kind), kind)
	}
}
