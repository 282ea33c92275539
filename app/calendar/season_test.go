package calendar_test

import (
	"context"
	"strings"
	"testing"

	"chrysagon/app/calendar"
	"chrysagon/core/manuscript"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

func TestTheYearIsLaidOut(t *testing.T) {
	shop := testkit.Open(t)
	s, err := shop.App.Calendar.Season(ctx, 2026)
	require.NoError(t, err)
	require.Len(t, s.Campaigns, 3)
	assert.Equal(t, "2026-03-22", s.Campaigns[0].Window.From, "a fortnight before Easter")
	require.Len(t, s.Clashes, 0)
	require.Len(t, s.Deadlines, 1)
	id, faults, err := shop.App.Calendar.SaveCampaign(ctx, calendar.CampaignInput{Name: "Kite day", From: "easter-3", To: "2026-04-20", Year: 2026, Goods: []string{"gull"}})
	require.NoError(t, err)
	require.Empty(t, faults)
	s, err = shop.App.Calendar.Season(ctx, 2026)
	require.NoError(t, err)
	require.Len(t, s.Clashes, 1)
	assert.Equal(t, []string{"2026-04-02", "2026-04-12"}, []string{s.Clashes[0].From, s.Clashes[0].To})
	require.NoError(t, shop.App.Calendar.ShiftCampaign(ctx, id, 20, 20))
	s, err = shop.App.Calendar.Season(ctx, 2026)
	require.NoError(t, err)
	assert.Empty(t, s.Clashes, "moved out of the way")
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM campaigns WHERE begins = '{"day": "easter", "offset": 17}'`), "it still hangs on Easter")
	require.ErrorContains(t, shop.App.Calendar.ShiftCampaign(ctx, id, 100, 0), "cannot end before it begins")
	_, faults, err = shop.App.Calendar.SaveCampaign(ctx, calendar.CampaignInput{Name: "", From: "kite_day", To: "2026-04-20", Year: 2026})
	require.NoError(t, err)
	assert.Len(t, faults, 2)
}

// The same as last season: pages, funnel, deadlines and offers, all moved.
func TestASeasonIsCopiedToTheNextYear(t *testing.T) {
	shop := testkit.Open(t)
	d, err := shop.App.Drafts.Draft(ctx, "night-flight")
	require.NoError(t, err)
	var copied string // the thank-you page is linked from a sentence of the copy
	d.Tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if p.Kind == "text" && copied == "" {
			copied = p.ID
		}
	})
	_, err = shop.App.Desk.Edit(ctx, "marta", "night-flight", manuscript.Command{Op: manuscript.SetField, Piece: copied, Field: "text", Value: `<p>See <a href="page:thank-you">what comes next</a>.</p>`}, false)
	require.NoError(t, err)
	shop.Exec("UPDATE pages SET address = 'night-flight-2026' WHERE id = 'night-flight'")
	id, said, err := shop.App.Calendar.Again(ctx, "frost-lanterns", 2027)
	require.NoError(t, err)
	assert.Contains(t, said, "3 pages with 1 link between them, 1 deadline and")
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM pages WHERE campaign_id = $1 AND address = 'night-flight-2027'`, id), "the campaign's own year is taken out of the address")
	assert.Zero(t, shop.Number(`SELECT count(*) FROM pages WHERE campaign_id = $1 AND manuscript::text LIKE '%page:thank-you%'`, id), "links in copy lead to the copies")
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM pages p JOIN pages t ON t.campaign_id = p.campaign_id AND t.purpose = 'thank_you' WHERE p.campaign_id = $1 AND p.manuscript::text LIKE '%page:' || t.id || '%'`, id))
	assert.Equal(t, int64(3), shop.Number(`SELECT count(*) FROM pages WHERE campaign_id = $1 AND address LIKE '%-2027'`, id))
	// 27 November 2026 is Black Friday; that of 2027 is the 26th.
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM deadlines WHERE name = 'Lantern Friday 2027' AND at = '2027-11-26T23:59:00Z'`))
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM offers o JOIN deadlines d ON d.id = o.deadline_id WHERE o.name = 'Lantern week 2027' AND d.name = 'Lantern Friday 2027' AND o.starts_at = '2027-11-19T00:00:00Z'`))
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM campaigns WHERE id = $1 AND ends ->> 'date' = '2027-11-26' AND live_edition_id IS NULL`, id))
	assert.Zero(t, shop.Number(`SELECT count(*) FROM pages WHERE campaign_id = $1 AND manuscript::text LIKE '%"lantern-friday"%'`, id), "its pages count to their own deadline")
	assert.Equal(t, int64(3), shop.Number(`SELECT count(*) FROM routes r JOIN steps s ON s.id = r.from_step WHERE s.campaign_id = $1`, id))
	assert.Equal(t, int64(5100), shop.Number(`SELECT now_minor FROM variants WHERE id = 'ember'`), "this year's price stays")
	state, err := shop.App.Publishing.State(ctx, id)
	require.NoError(t, err)
	assert.False(t, state.Stopped(), "it could be published as it is: %+v", state.Findings)
	_, _, err = shop.App.Calendar.Again(ctx, "frost-lanterns", 2027)
	require.ErrorContains(t, err, "copied before")
}

func TestCalendarsGoOutAndComeIn(t *testing.T) {
	shop := testkit.Open(t)
	text, err := shop.App.Calendar.Calendar(ctx, 2026)
	require.NoError(t, err)
	assert.Contains(t, text, "SUMMARY:Frost Lanterns")
	assert.Contains(t, text, "DTSTART:20261127T235900Z")
	said, err := shop.App.Calendar.BringIn(ctx, []byte(strings.ReplaceAll(text, "Frost Lanterns", "Brought in")))
	require.NoError(t, err)
	assert.Contains(t, said, "campaigns and 1 deadlines came in")
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM campaigns WHERE name = 'Brought in' AND year = 2026`))
	before := shop.Number(`SELECT count(*) FROM campaigns`)
	_, err = shop.App.Calendar.BringIn(ctx, []byte(strings.Replace(text, "DTSTART:20261127T235900Z", "DTSTART:soon", 1)))
	require.ErrorContains(t, err, "cannot be brought in")
	assert.Equal(t, before, shop.Number(`SELECT count(*) FROM campaigns`), "as a whole or not at all")
}

func TestRatesComeInAsTables(t *testing.T) {
	shop := testkit.Open(t)
	r, err := shop.App.House.Rates(ctx)
	require.NoError(t, err)
	require.NoError(t, shop.App.House.SaveTax(ctx, r.TaxCSV))
	require.NoError(t, shop.App.House.SaveShipping(ctx, r.ShipCSV))
	again, err := shop.App.House.Rates(ctx)
	require.NoError(t, err)
	assert.Equal(t, r.TaxCSV+r.ShipCSV, again.TaxCSV+again.ShipCSV)
	require.ErrorContains(t, shop.App.House.SaveShipping(ctx, "zone,name,countries,by,from,price,free_from,up_to\nhome,Home,PT,size,0,1,,\n"), "must be flat, weight or total")
	require.ErrorContains(t, shop.App.House.SaveTax(ctx, "x"), "wrong number of fields")
	last, err := shop.App.House.Rates(ctx)
	require.NoError(t, err)
	assert.Equal(t, r.ShipCSV, last.ShipCSV, "a table with a fault changes nothing")
}
