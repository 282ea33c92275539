package shopfront_test

import (
	"context"
	"encoding/json"
	"fmt"
	"html"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"chrysagon/app/pages"
	m "chrysagon/core/manuscript"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var (
	cardName = regexp.MustCompile(`<span class="what"><b>(?:<a [^>]*>)?([^<]+)`)
	counted  = regexp.MustCompile(`class="list-count"[^>]*>([^<]+)<`)
	leads    = regexp.MustCompile(`<a href="(/everything[^"]*)"([^>]*)>([^<]*)(?: <small>\((\d+)\)</small>)?</a>`)
)

// listing makes a goods page whose list is shown in pages, as an owner does.
func listing(t *testing.T, shop *testkit.Shop, fields m.Fields) {
	t.Helper()
	ctx := context.Background()
	d, faults, err := shop.App.Pages.AddPage(ctx, pages.NewPage{CampaignID: "frost-lanterns", Name: "Everything", Purpose: "shelf", Template: "clearance", Layout: "full", ShelfID: "all-goods"})
	require.NoError(t, err)
	require.Empty(t, faults)
	shop.Write("frost-lanterns")
	id := ""
	d, err = shop.App.Drafts.Draft(ctx, d.ID)
	require.NoError(t, err)
	d.Tree.Walk(func(_ m.Band, p m.Piece) {
		if p.Kind == "shelf" {
			id = p.ID
		}
	})
	shop.Set(d.ID, id, together(m.Fields{"show": "8", "rest": "pages", "by": "lines", "by2": "skill", "by3": "@condition"}, fields))
}

func names(page testkit.Page) []string {
	var out []string
	for _, m := range cardName.FindAllStringSubmatch(page.Body, -1) {
		out = append(out, html.UnescapeString(m[1]))
	}
	return out
}

// A list carries all its goods: each stands on one of its pages, and on no other.
func TestAListCarriesAllItsGoods(t *testing.T) {
	shop, _ := open(t)
	listing(t, shop, nil)
	b := shop.Browser()
	seen := map[string]int{}
	total := int(shop.Number(`SELECT count(*) FROM variants v JOIN products p ON p.id = v.product_id WHERE v.stock - v.reserved >= 0`))
	n := (total + 7) / 8
	for page := 1; page <= n; page++ {
		at := "/everything"
		if page > 1 {
			at += fmt.Sprintf("?page=%d", page)
		}
		got := b.Get(at)
		require.Equal(t, http.StatusOK, got.Status)
		assert.Contains(t, got.Body, fmt.Sprintf(`<link rel="canonical" href="%s%s">`, shop.App.Origins.Shop, at))
		assert.NotContains(t, got.Body, "noindex")
		assert.Equal(t, fmt.Sprintf("%d goods", total), counted.FindStringSubmatch(got.Body)[1])
		assert.Contains(t, got.Body, fmt.Sprintf(`aria-current="page">%d</a>`, page))
		for _, name := range names(got) {
			seen[name]++
		}
		assert.Equal(t, got.Body, b.Get(at).Body, "kept as it was drawn")
	}
	assert.Len(t, seen, total)
	for name, times := range seen {
		assert.Equal(t, 1, times, name)
	}
	assert.Empty(t, names(b.Get("/everything?page=99")))
	assert.Contains(t, b.Get("/everything?page=99").Body, "list-pages", "and leads back")
	assert.Equal(t, b.Get("/night-flight").Body, b.Get("/night-flight?page=7&by=dear&in-lines=2").Body, "a page without a list has one view")
	assert.Equal(t, http.StatusOK, b.Do(request(t, http.MethodHead, shop.App.Origins.Shop+"/everything?page=2")).Status)
}

func request(t *testing.T, method, at string) *http.Request {
	t.Helper()
	r, err := http.NewRequest(method, at, nil)
	require.NoError(t, err)
	return r
}

// Every link that narrows leads to as many goods as it says, and each of them is like that;
// search engines are kept out of it.
func TestNarrowingsLeaveWhatTheySay(t *testing.T) {
	shop, _ := open(t)
	listing(t, shop, nil)
	b := shop.Browser()
	followed := 0
	for _, from := range []string{"/everything", "/everything?in-lines=2", "/everything?by=cheap&in-skill=expert", "/everything?in-%40condition=returned"} {
		for _, l := range leads.FindAllStringSubmatch(b.Get(from).Body, -1) {
			if l[4] == "" || strings.Contains(l[2], "aria-current") {
				continue
			}
			at := html.UnescapeString(l[1])
			page := b.Get(at)
			assert.Contains(t, page.Body, `<meta name="robots" content="noindex, follow">`, at)
			assert.Contains(t, page.Body, `<link rel="canonical" href="`+shop.App.Origins.Shop+`/everything">`)
			followed++
			if !strings.Contains(from, strings.Split(strings.Split(at, "?")[1], "=")[0]) {
				said := counted.FindStringSubmatch(page.Body)[1]
				assert.Contains(t, []string{l[4] + " goods", l[4] + " product"}, said, "%s from %s", at, from)
			}
		}
	}
	assert.Greater(t, followed, 15)
	for query, only := range map[string][]string{
		"in-lines=4":                        {"Loom, four line", "Loom, four line, ex-demo", "Tramontane 3.5, power kite"},
		"in-lines=4&in-%40condition=new":    {"Loom, four line", "Tramontane 3.5, power kite"},
		"in-lines=4&by=cheap":               {"Loom, four line, ex-demo", "Loom, four line", "Tramontane 3.5, power kite"},
		"in-lines=4&by=dear":                {"Tramontane 3.5, power kite", "Loom, four line", "Loom, four line, ex-demo"},
		"in-lines=4&in-lines=1&in-skill=no": nil,
		"in-lines=four":                     nil,
		"in-lines='":                        nil,
		"in-lines=1e999999999":              nil,
	} {
		page := b.Get("/everything?" + query)
		require.Equal(t, http.StatusOK, page.Status, query)
		assert.Equal(t, only, names(page), query)
		if only == nil {
			assert.Contains(t, page.Body, "Show all", "what is wanted can be let go: %s", query)
		}
	}
	assert.NotEqual(t, names(b.Get("/everything?by=dear")), names(b.Get("/everything")), "views are kept apart")
}

// What a list shows it says to search engines in their terms, and where it stands.
func TestAListInTheTermsOfSchemaOrg(t *testing.T) {
	shop, _ := open(t)
	listing(t, shop, nil)
	ofProducts(t, shop)
	page := shop.Browser().Get("/everything")
	raw := regexp.MustCompile(`<script type="application/ld\+json">(.*?)</script>`).FindStringSubmatch(page.Body)
	require.Len(t, raw, 2)
	var data struct {
		Graph []struct {
			Type  string `json:"@type"`
			Items []struct {
				Position        int
				URL, Item, Name string
			} `json:"itemListElement"`
		} `json:"@graph"`
	}
	require.NoError(t, json.Unmarshal([]byte(raw[1]), &data))
	kinds := map[string]int{}
	for _, node := range data.Graph {
		kinds[node.Type]++
		for i, item := range node.Items {
			assert.Equal(t, i+1, item.Position)
			at, err := url.Parse(item.URL + item.Item)
			require.NoError(t, err)
			assert.Equal(t, shop.App.Origins.Shop, at.Scheme+"://"+at.Host)
			if node.Type == "ItemList" {
				assert.Equal(t, http.StatusOK, shop.Browser().Get(at.Path).Status, item.URL)
			}
		}
	}
	assert.Equal(t, map[string]int{"ItemList": 1, "BreadcrumbList": 1}, kinds)
}

// What was put in from one page of a list goes along to the next, and is bought with what
// is put in there.
func TestPutInFromSeveralPagesOfAList(t *testing.T) {
	shop, books := open(t)
	form := lists(t, shop)
	page := pageAt(shop, "spares")
	d, err := shop.App.Drafts.Draft(t.Context(), page)
	require.NoError(t, err)
	first := ""
	d.Tree.Walk(func(_ m.Band, p m.Piece) {
		if p.Kind == "shelf" && first == "" {
			first = p.ID
		}
	})
	shop.Set(page, first, m.Fields{"show": "4", "rest": "pages", "by": "", "by2": "", "by3": ""})
	_ = form
	b := shop.Browser()
	one := b.Get("/spares")
	assert.Contains(t, one.Body, `formaction="/spares/checkout?page=2#`)
	assert.Contains(t, one.Body, `name="put:lantern-cell"`)
	assert.NotContains(t, one.Body, `name="put:reel"`)
	typed := b.Form(one, b.Card(approves))
	typed.Set("put:lantern-cell", "2")
	typed.Set("requote", "1")
	two := b.Post("/spares/checkout?page=2", typed, "")
	assert.Contains(t, two.Body, `type="hidden" name="put:lantern-cell" form="order" value="2"`)
	assert.Contains(t, two.Body, `name="put:reel" form="order" value="0"`)
	assert.Contains(t, two.Body, "2 × Spare lantern cell")
	assert.Contains(t, two.Body, `value="7 Lee Lane"`, "what was typed goes along")
	typed.Del("requote")
	typed.Set("put:reel", "1")
	typed.Set("seen", b.Post("/spares/quote", typed, asJSON).JSON(t)["seen"].(string))
	require.NotNil(t, b.Post("/spares/checkout", typed, asJSON).JSON(t)["go"])
	assert.Equal(t, "2 lantern-cell, 1 reel", linesOf(shop))
	books.came(t, 1, 1)
	// What does not stand on the list is not put in by writing it into the form.
	other := shop.Browser()
	typed = other.Form(other.Get("/spares"), other.Card(approves))
	typed.Set("put:shearwater", "1")
	told := other.Post("/spares/checkout", typed, asJSON).JSON(t)
	assert.Nil(t, told["go"])
	assert.Contains(t, told["notice"], "no longer to be had here")
}
