package shopfront_test

import (
	"context"
	"net/http"
	"testing"
	"time"

	"chrysagon/core/manuscript"
	rules "chrysagon/core/publish"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const season = "frost-lanterns"

func say(t *testing.T, shop *testkit.Shop, words string) {
	t.Helper()
	_, err := shop.App.Desk.Edit(context.Background(), "marta", "night-flight", manuscript.Command{Op: manuscript.SetField, Piece: "headline", Field: "text", Value: words}, false)
	require.NoError(t, err)
}

// An edition that is planned is there in the very second, though pages are
// kept for visitors, and what was live comes back at its end.
func TestAnEditionComesAndGoesInItsSecond(t *testing.T) {
	shop := testkit.Open(t)
	ctx, b, now := context.Background(), shop.Browser(), shop.App.Store.Now()
	say(t, shop, "Only for an hour")
	number, err := shop.App.Publishing.PlanEdition(ctx, season, "Marta", rules.Plan{From: now.Add(time.Hour), Until: now.Add(2 * time.Hour), Back: true}, "")
	require.NoError(t, err)
	assert.Equal(t, 2, number)
	say(t, shop, "Written afterwards")

	shows := func(words string, after time.Duration) {
		t.Helper()
		shop.Clock.Advance(now.Add(after).Sub(shop.App.Store.Now()))
		for range 2 { // once drawn, once kept
			assert.Contains(t, b.Get("/night-flight").Body, words)
		}
	}
	shows("Fly the dark", 0)
	shows("Fly the dark", time.Hour-time.Second)
	shows("Only for an hour", time.Hour)
	shows("Only for an hour", 2*time.Hour-time.Second)
	shows("Fly the dark", 2*time.Hour)
	left, err := shop.App.Publishing.Planned(ctx, season)
	require.NoError(t, err)
	assert.Empty(t, left)
}

func TestPagesThatAreTakenDownLeadToTheirSuccessor(t *testing.T) {
	shop := testkit.Open(t)
	ctx, b := context.Background(), shop.Browser()
	require.ErrorContains(t, shop.App.Publishing.Withdraw(ctx, season, "night-flight"), "is taken down too")
	shop.Exec(`INSERT INTO campaigns (id, name) VALUES ('spring', 'Spring')`)
	shop.Exec(`INSERT INTO pages (id, campaign_id, name, address, purpose, manuscript) VALUES ('opening', 'spring', 'Opening', 'opening', 'about', '{"version":1,"bands":[]}')`)
	shop.Write("spring")
	_, err := shop.App.Publishing.Publish(ctx, "spring", "Marta")
	require.NoError(t, err)
	require.NoError(t, shop.App.Publishing.OpenOn(ctx, "opening"))
	assert.Equal(t, "/opening", b.Get("/").Location)

	require.NoError(t, shop.App.Publishing.Withdraw(ctx, season, "opening"))
	gone := b.Get("/night-flight")
	assert.Equal(t, http.StatusMovedPermanently, gone.Status)
	assert.Equal(t, "/opening", gone.Location)
	state, err := shop.App.Publishing.State(ctx, season)
	require.NoError(t, err)
	assert.Nil(t, state.Live)
	require.NotEmpty(t, state.Editions)
	_, err = shop.App.Publishing.PutBack(ctx, season, state.Editions[0].ID)
	require.NoError(t, err)
	assert.Equal(t, http.StatusOK, b.Get("/night-flight").Status, "what is live goes before what used to lead on")

	require.NoError(t, shop.App.Publishing.Withdraw(ctx, season, ""))
	shop.Exec(`DELETE FROM former_addresses`)
	shop.Follow(t)
	assert.Equal(t, http.StatusNotFound, b.Get("/night-flight").Status)
}

// Another campaign took the address meanwhile: the plan is not carried out, the
// owner is told, and nothing that was live is lost.
func TestAPlanThatCannotBeCarriedOutSaysSo(t *testing.T) {
	shop := testkit.Open(t)
	ctx, b, now := context.Background(), shop.Browser(), shop.App.Store.Now()
	shop.Exec(`INSERT INTO campaigns (id, name) VALUES ('spring', 'Spring')`)
	shop.Exec(`INSERT INTO pages (id, campaign_id, name, address, purpose, manuscript) VALUES ('p', 'spring', 'P', 'first-winds', 'about', '{"version":1,"bands":[]}')`)
	_, err := shop.App.Publishing.PlanEdition(ctx, "spring", "Marta", rules.Plan{From: now.Add(time.Hour)}, "")
	require.NoError(t, err)
	shop.Exec(`INSERT INTO live_pages (address, page_id, campaign_id) VALUES ('first-winds', 'other', '` + season + `')`)
	shop.Clock.Advance(2 * time.Hour)
	assert.Equal(t, http.StatusOK, b.Get("/night-flight").Status)
	left, err := shop.App.Publishing.Planned(ctx, "spring")
	require.NoError(t, err)
	require.Len(t, left, 1)
	assert.Contains(t, left[0].Refused, "/first-winds")
	require.NoError(t, shop.App.Publishing.Unplan(ctx, "spring", left[0].ID))
}
