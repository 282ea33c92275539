package pieces_test

import (
	"html/template"
	"strings"
	"testing"
	"time"

	"chrysagon/core/facts"
	"chrysagon/core/goods"
	m "chrysagon/core/manuscript"
	"chrysagon/core/money"
	"chrysagon/pieces"
	"chrysagon/pieces/all"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// shown draws a piece of a kind; "" means that it draws nothing.
func shown(t *testing.T, c *pieces.Context, kind string, fields m.Fields) string {
	t.Helper()
	registry, err := all.Registry()
	require.NoError(t, err)
	k, ok := registry.Kind(kind)
	require.True(t, ok, kind)
	if c.Icon == nil {
		c.Icon = func(name string) template.HTML { return template.HTML("<svg data-icon=" + name + ">") }
	}
	value := k.View(c, m.Piece{ID: "p", Kind: kind, Fields: fields})
	if value == nil {
		return ""
	}
	var out strings.Builder
	require.NoError(t, registry.View(kind).Execute(&out, value))
	return out.String()
}

func told(t *testing.T, c *pieces.Context, kind string, fields m.Fields) pieces.Telling {
	t.Helper()
	registry, err := all.Registry()
	require.NoError(t, err)
	k, _ := registry.Kind(kind)
	return k.Tell(c, m.Piece{ID: "p", Kind: kind, Fields: fields})
}

func list(rows ...map[string]any) []any {
	out := make([]any, len(rows))
	for i, r := range rows {
		out[i] = r
	}
	return out
}

// What is said of the stock is the stock: there is no field a number could be
// typed into, and plenty is not called scarce.
func TestStockIsNeverInvented(t *testing.T) {
	c := context(noon)
	assert.Contains(t, shown(t, c, "stock", m.Fields{"product": "ember"}), "2 left.")
	assert.Contains(t, shown(t, c, "stock", m.Fields{"product": "cell"}), "Sold out.")
	assert.Empty(t, shown(t, c, "stock", m.Fields{"product": "plans"}), "a file does not run out")
	c.Facts.Products["many"] = goods.Product{ID: "many", Stock: 11, Price: money.Of(1, "EUR")}
	assert.Empty(t, shown(t, c, "stock", m.Fields{"product": "many"}))
	assert.Contains(t, shown(t, c, "stock", m.Fields{"product": "many", "from": "100000"}), "11 left.")
	assert.Contains(t, words(told(t, c, "stock", m.Fields{"product": "many"})), "too many to be said")
	c.Facts.Products["one"] = goods.Product{ID: "one", Stock: 1, Price: money.Of(1, "EUR")}
	assert.Contains(t, shown(t, c, "stock", m.Fields{"product": "one"}), "One left.")
	registry, err := all.Registry()
	require.NoError(t, err)
	for _, f := range registry.Schema()["stock"].Fields {
		assert.NotEqual(t, m.Line, f.Type)
		assert.NotEqual(t, m.Prose, f.Type)
	}
}

func TestOpenNowFollowsTheStoresClock(t *testing.T) {
	fields := m.Fields{"address": "4 Sailmakers’ Row", "items": list(map[string]any{"days": "weekdays", "opens": "10:00", "closes": "13"}, map[string]any{"days": "saturday"})}
	c := context(noon) // a Monday
	assert.Contains(t, shown(t, c, "hours", fields), "Open now, until Mon 23 Nov, 13:00.")
	assert.Equal(t, noon.Add(time.Hour), c.Until().UTC(), "the page holds until it closes")
	assert.Contains(t, shown(t, context(noon.Add(time.Hour)), "hours", fields), "Closed now; opens Tue 24 Nov, 10:00.")
	fields["items"] = list(map[string]any{"opens": "ten", "closes": "13"})
	assert.True(t, told(t, c, "hours", fields).Trouble)
	assert.NotContains(t, shown(t, c, "hours", fields), "Open now", "hours that cannot be read are not guessed")
}

// A rating says how many and where, or nothing at all.
func TestARatingHasASource(t *testing.T) {
	c := context(noon)
	whole := m.Fields{"average": "4.8", "count": "212", "source": "the fair"}
	assert.Contains(t, shown(t, c, "rating", whole), "from 212 ratings at the fair")
	for name, value := range map[string]string{"average": "5.1", "count": "0", "source": ""} {
		spoilt := m.Fields{"average": "4.8", "count": "212", "source": "the fair"}
		spoilt[name] = value
		assert.Empty(t, shown(t, c, "rating", spoilt), name)
		assert.True(t, told(t, c, "rating", spoilt).Trouble, name)
	}
	assert.Empty(t, shown(t, c, "rating", m.Fields{"average": "-1", "count": "2", "source": "x"}))
}

func TestLinksAreChosenAndNeverRun(t *testing.T) {
	c := context(noon)
	c.Facts.Store.Phone, c.Facts.Store.ContactEmail = "+351 255 000 111", "hello@gustwell.example"
	c.Facts.Pages = map[string]facts.Page{"about": {ID: "about", Name: "About us", Address: "about"}}
	for target, href := range map[string]string{
		"": "#checkout", "checkout": "#checkout", "home": "/", "page:about": "/about", "band:why": "#band-why", "tel:": "tel:&#43;351255000111", "mailto:": "mailto:hello@gustwell.example", "https://example.org/?a=b": "https://example.org/?a=b",
	} {
		assert.Contains(t, shown(t, c, "button", m.Fields{"label": "Go", "target": target}), `href="`+href+`"`, target)
	}
	for _, target := range []string{"page:gone", "javascript:alert(1)", "data:text/html,x"} {
		assert.Empty(t, shown(t, c, "button", m.Fields{"label": "Go", "target": target}), target)
		assert.True(t, told(t, c, "button", m.Fields{"label": "Go", "target": target}).Trouble, target)
	}
	assert.Contains(t, words(told(t, c, "button", m.Fields{"label": "Go", "target": "page:about", "second": "Or call", "second_target": "tel:"})), "About us, “Or call” → +351 255 000 111")
	assert.Contains(t, shown(t, c, "phone", m.Fields{}), "tel:&#43;351255000111")
	assert.Empty(t, shown(t, context(noon), "phone", m.Fields{}), "no number, no link")
}

func TestAFormKeepsWhatWasTypedAndSaysWhatIsWrong(t *testing.T) {
	c := context(noon)
	c.Place.Address = "sheet"
	fields := m.Fields{"asks": "opt_in", "name": "yes", "consent": "You may write to me.", "thanks": "It is on its way."}
	plain := shown(t, c, "form", fields)
	assert.Contains(t, plain, `action="/sheet/forms/p#p-p"`)
	assert.NotContains(t, plain, "checked", "consent is never ticked beforehand")
	c.Form = pieces.Form{Piece: "p", Values: map[string]string{"email": "ines@"}, Errors: map[string]string{"email": "Write it like this."}}
	wrong := shown(t, c, "form", fields)
	assert.Contains(t, wrong, `value="ines@"`)
	assert.Contains(t, wrong, `aria-invalid="true"`)
	assert.Contains(t, wrong, "Write it like this.")
	c.Form.Piece = "another"
	assert.NotContains(t, shown(t, c, "form", fields), "ines@", "another form's words are not this one's")
	c.Form = pieces.Form{Piece: "p", Sent: true}
	assert.Contains(t, shown(t, c, "form", fields), "It is on its way.")
	c.Proof, c.Form = true, pieces.Form{}
	assert.Contains(t, shown(t, c, "form", fields), "disabled", "a proof sends nothing")
}

func TestAGroupsCardLeadsOnlyWhereThereIsSomething(t *testing.T) {
	c := context(noon)
	c.Facts.Groups = map[string]facts.Group{"night": {ID: "night", Name: "Night kites", Address: "night"}, "calm": {ID: "calm", Name: "Calm air"}}
	html := shown(t, c, "groups", m.Fields{"items": list(map[string]any{"group": "night"}, map[string]any{"group": "calm"}, map[string]any{"group": "gone"})})
	assert.Equal(t, 1, strings.Count(html, "<a "))
	assert.Equal(t, 2, strings.Count(html, "<li>"))
	assert.Contains(t, words(told(t, c, "groups", m.Fields{"items": list(map[string]any{"group": "calm"})})), "Calm air")
	assert.Empty(t, shown(t, c, "groups", m.Fields{}))
}

// Yes and no in a comparison are words too, for those who see no signs.
func TestAComparisonIsReadWithoutItsSigns(t *testing.T) {
	html := shown(t, context(noon), "compare", m.Fields{"first": "Ours", "second": "Theirs", "items": list(map[string]any{"what": "Mended", "first": "yes", "second": "no"}, map[string]any{"what": "Weight", "first": "180 g"}, map[string]any{"first": "yes"})})
	assert.Contains(t, html, `<span class="vh">yes</span>`)
	assert.Contains(t, html, `<span class="vh">no</span>`)
	assert.Contains(t, html, "180 g")
	assert.Equal(t, 2, strings.Count(html, `<th scope="row">`), "a row without a name is left out")
}

func TestOwnHTMLStandsInAFrameWhereNothingRuns(t *testing.T) {
	html := shown(t, context(noon), "embed", m.Fields{"html": `<script>parent.document.title = "x"</script>"><img src=x onerror=alert(1)>`})
	assert.Contains(t, html, `sandbox=""`)
	assert.NotContains(t, html, "<script>")
	assert.NotContains(t, html, "<img")
	assert.Contains(t, html, "&lt;script&gt;")
}

func TestALargeProductComputesItsPrice(t *testing.T) {
	c := context(noon)
	html := shown(t, c, "product", m.Fields{"product": "ember", "label": "Order it", "target": "checkout"})
	assert.Contains(t, html, "€51.00")
	assert.Contains(t, html, `href="#checkout"`)
	assert.Equal(t, end, c.Until(), "until the offer ends")
	assert.Contains(t, shown(t, context(end), "product", m.Fields{"product": "ember"}), "€68.00")
	assert.Contains(t, shown(t, context(noon), "product", m.Fields{"product": "cell"}), "sold out")
	assert.True(t, told(t, context(noon), "product", m.Fields{"product": "gone"}).Trouble)
}

// What has nothing to show shows nothing: no empty list, frame or heading.
func TestEmptyPiecesDrawNothing(t *testing.T) {
	for _, kind := range []string{"heading", "text", "bullets", "quote", "aside", "announcement", "gallery", "embed", "code", "rotate", "perks", "compare", "testimonials", "badges", "faq", "picture", "price", "shelf", "timer"} {
		assert.Empty(t, shown(t, context(noon), kind, m.Fields{}), kind)
	}
}
