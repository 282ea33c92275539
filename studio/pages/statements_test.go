package pages_test

import (
	"testing"

	"chrysagon/app/pages"
	"chrysagon/internal/testkit"
	"chrysagon/pieces/all"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The Pages place checks every page, and asks the database no more for many than for
// three: twelve statements at most.
func TestThePagesPlaceAsksTheSameForMany(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	asked := func() int64 {
		d.Get(d.At("/pages")) // editions and trees are read once
		before := shop.Store.Watch.Asked()
		require.Equal(t, 200, d.Get(d.At("/pages")).Status)
		return shop.Store.Watch.Asked() - before
	}
	few := asked()
	assert.LessOrEqual(t, few, int64(12))
	for _, tpl := range all.Templates() {
		if tpl.Purpose == "thank_you" {
			continue // the campaign has one
		}
		_, faults, err := shop.App.Pages.AddPage(t.Context(), pages.NewPage{CampaignID: "frost-lanterns", Purpose: tpl.Purpose, Name: tpl.Title, Layout: tpl.Layout, Template: tpl.Name})
		require.NoError(t, err)
		require.Empty(t, faults, tpl.Name)
	}
	require.Greater(t, shop.Number("SELECT count(*) FROM pages WHERE campaign_id = 'frost-lanterns'"), int64(15))
	assert.LessOrEqual(t, asked(), int64(20), "eight more: for which of the goods the page of a product is drawn, whether another is live, what stands beside it, by three, and what stands on a page of a list, by three")
}
