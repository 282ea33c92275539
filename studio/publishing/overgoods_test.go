package publishing_test

import (
	"strings"
	"testing"
	"time"

	"chrysagon/app/pages"
	m "chrysagon/core/manuscript"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The launch check goes over all goods of the page of a product, and tells what fails by
// its cause, with the goods of each.
func TestTheCheckGoesOverAllGoods(t *testing.T) {
	shop := testkit.Open(t)
	page, faults, err := shop.App.Pages.AddPage(t.Context(), pages.NewPage{CampaignID: "frost-lanterns", Name: "Any product", Purpose: "product", Template: "product", Layout: "full"})
	require.NoError(t, err)
	require.Empty(t, faults)
	_, err = shop.App.Desk.Edit(t.Context(), "marta", page.ID, m.Command{Op: m.SetPage, Field: m.Title, Value: "{name}"}, false)
	require.NoError(t, err)
	shop.Exec(`UPDATE variants SET stock = reserved WHERE id IN ('tern', 'wisp', 'petrel')`)
	shop.Exec(`UPDATE products SET description = '' WHERE id = 'reel'`)
	shop.Exec(`UPDATE variants SET archived_at = now() WHERE id = 'petrel'`)

	var steps []int
	over, err := shop.App.Publishing.CheckGoods(t.Context(), page.ID, func(done, total int) { steps = append(steps, done); assert.LessOrEqual(t, done, total) })
	require.NoError(t, err)
	assert.Equal(t, []int{over.Total}, steps)
	assert.EqualValues(t, shop.Number(`SELECT count(*) FROM variants v WHERE archived_at IS NULL AND NOT EXISTS (SELECT FROM public_shows s WHERE s.what = 'checkout' AND s.ref = v.id)`), over.Total)
	found := map[string]int{}
	for _, c := range over.Causes {
		found[c.What] = c.Goods
	}
	assert.Equal(t, 2, found["This product is sold out; nobody can order it here."], "%v", found)
	assert.Equal(t, 3, over.Failing, "the reel has nothing said of it")
	for what, n := range found {
		assert.LessOrEqual(t, n, over.Total, what)
		assert.NotContains(t, what, "Tern 60")
	}
	_, err = shop.App.Publishing.CheckGoods(t.Context(), "night-flight", func(int, int) {})
	require.ErrorContains(t, err, "stands for itself")

	d := testkit.SignIn(t, shop)
	d.Get(d.At("/pages/" + page.ID))
	assert.Contains(t, d.Get(d.At("/publish")).Body, `hx-get="/publish/goods/`+page.ID+`"`)
	d.Get(d.At("/publish/goods/" + page.ID))
	var told string
	require.Eventually(t, func() bool {
		told = d.Get(d.At("/publish/goods/" + page.ID + "?on=1")).Body
		return !strings.Contains(told, "<progress")
	}, 20*time.Second, 10*time.Millisecond)
	assert.Contains(t, told, "The launch check over 22 products")
	assert.Contains(t, told, `<a href="/goods/tern">Tern 60, pocket kite</a>, <a href="/goods/wisp">Wisp 120, ultralight dual line</a>`)
}
