package pages_test

import (
	"encoding/json"
	"testing"

	"chrysagon/core/manuscript"
	"chrysagon/core/pack"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A package taken by the store it came from is the same page at another
// address; taken by another store it finds what is called the same there.
func TestAPackageMakesTheSamePage(t *testing.T) {
	shop := testkit.Open(t)
	photo, err := shop.App.Pictures.Upload(ctx, "Dusk.jpg", testkit.Picture(t, 600, 300, "jpeg"))
	require.NoError(t, err)
	require.NoError(t, shop.App.Pictures.Crop(ctx, photo.ID, 0, 0, 500, 1000))
	_, err = shop.App.Desk.Edit(ctx, "marta", "night-flight", manuscript.Command{Op: manuscript.SetPage, Field: manuscript.Shared, Value: photo.ID}, false)
	require.NoError(t, err)
	before, err := shop.App.Drafts.Draft(ctx, "night-flight")
	require.NoError(t, err)
	p, raw, err := shop.App.Pages.Pack(ctx, "night-flight")
	require.NoError(t, err)
	assert.NotContains(t, string(mustJSON(t, p.Page)), "cost", "what goods cost stays in the store")

	same, notes, err := shop.App.Pages.TakePackage(ctx, "frost-lanterns", raw)
	require.NoError(t, err)
	assert.Empty(t, notes)
	assert.Equal(t, "night-flight-2", same.Address)
	assert.Equal(t, []string{before.Title, before.Description, before.Purpose}, []string{same.Title, same.Description, same.Purpose})
	_, second, err := shop.App.Pages.Pack(ctx, same.ID)
	require.NoError(t, err)
	again, err := pack.Read(second, shop.App.Render.Registry.Schema())
	require.NoError(t, err)
	assert.Len(t, again.Files, len(p.Files))
	assert.Equal(t, shape(before.Tree), shape(same.Tree), "but for the IDs it is the same page")

	other := testkit.Open(t)
	theirs := p // of a store in which the same kite has another ID
	theirs.Page.Manuscript = shop.App.Render.Registry.Schema().Refer(p.Page.Manuscript, func(of manuscript.FieldType, id string) string {
		return map[string]string{"product ember": "kite-of-theirs"}[string(of)+" "+id] + map[bool]string{true: id}[string(of)+id != "productember"]
	})
	for i := range theirs.Page.Names {
		if theirs.Page.Names[i].ID == "ember" && theirs.Page.Names[i].Type == "product" {
			theirs.Page.Names[i].ID = "kite-of-theirs"
		}
	}
	raw, err = pack.Write(theirs)
	require.NoError(t, err)
	other.Exec("UPDATE offers SET deadline_id = NULL; DELETE FROM deadlines WHERE id = 'lantern-friday'")
	there, notes, err := other.App.Pages.TakePackage(ctx, "frost-lanterns", raw)
	require.NoError(t, err)
	assert.Equal(t, []string{"There is no deadline “Lantern Friday” here; choose another where the page shows it."}, notes)
	var sold string
	there.Tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if p.Kind == "checkout" {
			sold = p.Fields.Text("product")
		}
	})
	assert.Equal(t, "ember", sold, "found by its SKU")
	var cropped int
	require.NoError(t, other.App.Store.DB.Raw("SELECT width FROM pictures WHERE id = ?", there.Tree.Sharing.Picture).Scan(&cropped).Error)
	assert.Equal(t, 300, cropped, "the picture came along as it was cut")
}

// Goods that a link leads to travel by SKU, also where the page sells them too.
func TestGoodsOfLinksArePackedOnceAndBySKU(t *testing.T) {
	shop := testkit.Open(t)
	band := manuscript.Band{ID: "links", Name: "Links", Tone: manuscript.Card, Columns: []manuscript.Column{{Width: 1, Pieces: []manuscript.Piece{
		{ID: "copy", Kind: "text", Fields: manuscript.Fields{"text": `<p><a href="product:ember">the kite</a> <a href="product:gull">another</a></p>`}},
	}}}}
	_, err := shop.App.Desk.Edit(ctx, "marta", "night-flight", manuscript.Command{Op: manuscript.AddBand, Band: &band}, false)
	require.NoError(t, err)
	p, _, err := shop.App.Pages.Pack(ctx, "night-flight")
	require.NoError(t, err)
	skus := map[string][]string{}
	for _, n := range p.Page.Names {
		if n.Type == "product" {
			skus[n.ID] = append(skus[n.ID], n.SKU)
		}
	}
	assert.Equal(t, []string{"GK-EMB-180"}, skus["ember"])
	assert.Equal(t, []string{"GK-GUL-90"}, skus["gull"])
}

func TestAPackageThatIsRefusedLeavesNothing(t *testing.T) {
	shop := testkit.Open(t)
	pages := shop.Number("SELECT count(*) FROM pages")
	_, _, err := shop.App.Pages.TakePackage(ctx, "frost-lanterns", []byte("PK"))
	require.ErrorContains(t, err, "The package cannot be taken: package: is no zip file")
	raw, err := pack.Write(pack.Package{Page: pack.Page{Name: "A", Address: "Not An Address", Purpose: "plain", Manuscript: manuscript.Page{Version: 1, Bands: []manuscript.Band{}}}})
	require.NoError(t, err)
	_, _, err = shop.App.Pages.TakePackage(ctx, "frost-lanterns", raw)
	require.ErrorContains(t, err, "page.json address")
	raw, err = pack.Write(pack.Package{Page: pack.Page{Name: "A", Address: "a", Purpose: "conquest", Manuscript: manuscript.Page{Version: 1, Bands: []manuscript.Band{}}}})
	require.NoError(t, err)
	_, _, err = shop.App.Pages.TakePackage(ctx, "frost-lanterns", raw)
	require.ErrorContains(t, err, "page.json purpose")
	assert.Equal(t, pages, shop.Number("SELECT count(*) FROM pages"))
}

func mustJSON(t *testing.T, v any) []byte {
	t.Helper()
	raw, err := json.Marshal(v)
	require.NoError(t, err)
	return raw
}

// shape is a page without the IDs of its bands and pieces.
func shape(p manuscript.Page) manuscript.Page {
	next := p.Clone()
	for i := range next.Bands {
		next.Bands[i].ID = ""
		for j := range next.Bands[i].Columns {
			for k := range next.Bands[i].Columns[j].Pieces {
				next.Bands[i].Columns[j].Pieces[k].ID = ""
			}
		}
	}
	return next
}
