package desk_test

import (
	"testing"

	"chrysagon/app/pages"
	m "chrysagon/core/manuscript"
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

// The page of a product stands for one of the goods in its proof, whatever is typed on it.
func TestTypingOnThePageOfAProduct(t *testing.T) {
	shop := testkit.Open(t)
	page, faults, err := shop.App.Pages.AddPage(t.Context(), pages.NewPage{CampaignID: "frost-lanterns", Name: "Any product", Purpose: "product", Template: "product", Layout: "full"})
	require.NoError(t, err)
	require.Empty(t, faults)
	d := testkit.SignIn(t, shop)
	headline := page.Tree.Bands[0].Columns[1].Pieces[0]
	answer := d.Command(page.ID, map[string]any{"command": m.Command{Op: m.SetField, Piece: headline.ID, Field: "text", Value: "{name}, and its tail"}, "revision": page.Revision})
	require.Equal(t, 200, answer.Status, answer.Body)
	drawn := ""
	for _, band := range answer.JSON(t)["proof"].(map[string]any)["bands"].([]any) {
		drawn += band.(map[string]any)["html"].(string)
	}
	assert.Contains(t, drawn, ", and its tail</h1>")
	assert.NotContains(t, drawn, "{name}")
	assert.Contains(t, drawn, "€")
	saved := d.Command(page.ID, map[string]any{"command": m.Command{Op: m.SetField, Piece: page.Tree.Bands[4].Columns[0].Pieces[1].ID, Field: "shelf", Value: m.Its}, "revision": page.Revision + 1})
	assert.Equal(t, 200, saved.Status, "what stands beside it can be chosen")
	assert.Contains(t, d.Get(d.At("/pages/"+page.ID+"/slip/"+page.Tree.Bands[4].Columns[0].Pieces[1].ID)).Body, `<option value="its" selected>`)
}
