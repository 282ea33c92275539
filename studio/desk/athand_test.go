package desk_test

import (
	"testing"

	"chrysagon/app/pages"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Whoever opens a page has its campaign at hand: what Publish publishes is what stands
// there.
func TestAPageBringsItsCampaign(t *testing.T) {
	shop := testkit.Open(t)
	shop.Exec(`INSERT INTO campaigns (id, name) VALUES ('all-year', 'All year')`)
	page, faults, err := shop.App.Pages.AddPage(t.Context(), pages.NewPage{CampaignID: "all-year", Name: "Spares", Purpose: "sales", Template: "list-sale", Layout: "bare", ShelfID: "spares"})
	require.NoError(t, err)
	require.Empty(t, faults)
	d := testkit.SignIn(t, shop)
	const atHand = "<summary>All year</summary>"
	assert.NotContains(t, d.Get(d.At("/pages/night-flight")).Body, atHand)
	assert.Contains(t, d.Get(d.At("/pages/"+page.ID)).Body, atHand)
	assert.Contains(t, d.Get(d.At("/routes")).Body, atHand, "and it stays")
}
