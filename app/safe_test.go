package app_test

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"sync"
	"testing"
	"time"

	"chrysagon/app"
	"chrysagon/core/manuscript"
	"chrysagon/internal/testkit"
	"chrysagon/store"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A view that cannot be kept is lost alone.
func TestABadViewCostsNoOther(t *testing.T) {
	shop := testkit.Open(t)
	var edition string
	require.NoError(t, shop.Store.DB.Raw("SELECT live_edition_id FROM campaigns WHERE id = ?", season).Scan(&edition).Error)
	var step string
	require.NoError(t, shop.Store.DB.Raw("SELECT id FROM steps WHERE page_id = 'night-flight'").Scan(&step).Error)
	before := shop.Number("SELECT count(*) FROM events")
	run, end := context.WithCancel(ctx)
	tick, done := make(chan time.Time), make(chan struct{})
	v := shop.App.NewViews(tick)
	for i := range 100 {
		v.Note(app.Viewed{Visitor: fmt.Sprintf("visitor-%d", i), StepID: step, EditionID: edition})
		if i%30 == 0 {
			v.Note(app.Viewed{Visitor: fmt.Sprintf("bad\x00%d", i), StepID: step, EditionID: edition})
		}
	}
	go func() { defer close(done); v.Run(run) }()
	end()
	<-done
	assert.Equal(t, int64(100), shop.Number("SELECT count(*) FROM events")-before)
}

// A job that a killed program left running is put back once it must be over; one
// that may still be at work is left alone.
func TestJobsOfAKilledProgramAreRescued(t *testing.T) {
	shop := testkit.Open(t)
	running := func(kind, age string) {
		shop.Exec(`INSERT INTO river_job (state, kind, args, queue, priority, max_attempts, attempt, attempted_at, attempted_by, created_at, scheduled_at)
			VALUES ('running', $1, '{}', 'default', 1, 25, 1, now() - $2::interval, '{gone}', now() - interval '1 hour', now() - interval '1 hour')`, kind, age)
	}
	running("send_mail", "26 seconds")
	running("send_lead", "1 hour")
	running("send_mail", "10 seconds")
	running("reconcile", "1 hour")
	n, err := shop.App.Rescue(ctx)
	require.NoError(t, err)
	assert.Equal(t, int64(2), n)
	assert.Equal(t, int64(2), shop.Number(`SELECT count(*) FROM river_job WHERE state = 'running'`))
}

// Whatever is joined while a campaign is published, an edition's funnel leads to
// pages of that edition, all of which were checked.
func TestAnEditionIsReadAtOneMoment(t *testing.T) {
	shop := testkit.Open(t)
	var wait sync.WaitGroup
	for i := range 12 {
		wait.Go(func() {
			_, _, err := shop.App.AddPage(ctx, app.NewPage{CampaignID: season, Purpose: "upsell", Name: fmt.Sprintf("Another bag %d", i), Layout: "bare", Template: "one-click-upsell"})
			assert.NoError(t, err)
		})
		wait.Go(func() {
			_, err := shop.App.Publish(ctx, season, "Marta")
			if err != nil {
				assert.ErrorIs(t, err, app.ErrInvalid)
			}
		})
	}
	wait.Wait()
	var rows []store.Edition
	require.NoError(t, shop.Store.DB.Find(&rows).Error)
	for _, row := range rows {
		var e app.Edition
		require.NoError(t, json.Unmarshal(row.Content, &e))
		for _, step := range e.Funnel.Steps {
			_, known := e.Page(step.PageID)
			assert.True(t, known, "edition %d has a step whose page it does not have", row.Number)
		}
	}
}

// A page is not emptied by a command that forgot its bands, alone or among others;
// an undo may put an empty page back.
func TestAPageIsNotEmptiedByMistake(t *testing.T) {
	shop := testkit.Open(t)
	before, err := shop.App.Draft(ctx, "night-flight")
	require.NoError(t, err)
	for what, c := range map[string]manuscript.Command{
		"no bands":    {Op: manuscript.Replace},
		"empty bands": {Op: manuscript.Replace, Bands: []manuscript.Band{}},
		"among more":  {Op: manuscript.Several, Steps: []manuscript.Command{{Op: manuscript.Replace}}},
	} {
		_, err := shop.App.Edit(ctx, "marta", "night-flight", c, false)
		require.ErrorIs(t, err, app.ErrInvalid, what)
		after, err := shop.App.Draft(ctx, "night-flight")
		require.NoError(t, err)
		assert.Equal(t, before.Tree, after.Tree, what)
	}
	schema := shop.App.Render.Registry.Schema()
	empty := manuscript.Page{Version: manuscript.Version, Bands: []manuscript.Band{}}
	full, back, err := schema.Apply(empty, manuscript.Command{Op: manuscript.Replace, Bands: before.Tree.Bands})
	require.NoError(t, err)
	raw, err := json.Marshal(back)
	require.NoError(t, err)
	var kept manuscript.Command
	require.NoError(t, json.Unmarshal(raw, &kept))
	again, _, err := schema.Apply(full, kept)
	require.NoError(t, err)
	assert.Empty(t, again.Bands)
}

// A table far wider than any list of goods is refused before it is kept.
func TestAVeryWideTableIsNotKept(t *testing.T) {
	shop := testkit.Open(t)
	wide := "sku,name" + strings.Repeat(",x", 200_000) + "\nGK-1,Kite\n"
	_, err := shop.App.KeepImport(ctx, "marta", "wide.csv", []byte(wide))
	require.ErrorIs(t, err, app.ErrInvalid)
	require.ErrorContains(t, err, "200002 columns, and at most 400")
	assert.Zero(t, shop.Number("SELECT count(*) FROM imports"))
}

// An import's progress is read from the database, by whichever program is asked.
func TestProgressIsSeenByAnotherProgram(t *testing.T) {
	shop := testkit.Open(t)
	other := &app.App{Store: shop.Store, Clock: shop.Clock.Now}
	d := handIn(t, shop, "sku,name,price\nNEW-1,Skylark,39.90\n")
	_, err := other.ImportUnderway(ctx, d.ID)
	require.ErrorIs(t, err, app.ErrNotFound)
	_, err = shop.App.BeginImport(ctx, d.ID)
	require.NoError(t, err)
	p, err := other.ImportUnderway(ctx, d.ID)
	require.NoError(t, err)
	assert.Equal(t, "Beginning", p.Step)
	shop.Clock.Advance(10 * time.Minute)
	p, err = other.ImportUnderway(ctx, d.ID)
	require.NoError(t, err)
	assert.Contains(t, p.Failed, "has stopped", "its program was killed")
	mine, err := other.BeginImport(ctx, d.ID)
	require.NoError(t, err)
	assert.True(t, mine, "so that it can be begun again")
	require.NoError(t, other.FailImport(ctx, d.ID, "No."))
	p, err = shop.App.ImportUnderway(ctx, d.ID)
	require.NoError(t, err)
	assert.Equal(t, "No.", p.Failed)
}
