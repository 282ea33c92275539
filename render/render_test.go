package render_test

import (
	"strings"
	"testing"
	"time"

	"chrysagon/core/appointment"
	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/mailing"
	m "chrysagon/core/manuscript"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/style"
	"chrysagon/pieces"
	"chrysagon/pieces/all"
	"chrysagon/render"
	"chrysagon/web"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

var noon = time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)

func renderer(t require.TestingT) *render.Renderer {
	assets, err := web.Open()
	require.NoError(t, err)
	registry, err := all.Registry()
	require.NoError(t, err)
	return render.New(registry, assets)
}

// everything is a page with a band of each arrangement, filled in.
func everything(t require.TestingT, r *render.Renderer) m.Page {
	page := m.Page{Version: m.Version}
	n := 0
	id := func() string {
		n++
		return strings.Repeat("x", n%7+1) + string(rune('a'+n%26)) + strings.Repeat("y", n/26)
	}
	for _, a := range all.Arrangements() {
		band := a.Band(r.Registry.Schema(), id)
		for i := range band.Columns {
			for j := range band.Columns[i].Pieces {
				fill(r.Registry.Schema()[band.Columns[i].Pieces[j].Kind], band.Columns[i].Pieces[j].Fields)
			}
		}
		page.Bands = append(page.Bands, band)
	}
	require.NoError(t, r.Registry.Schema().Validate(page))
	return page
}

func fill(kind m.Kind, fields m.Fields) {
	for _, f := range kind.Fields {
		switch f.Type {
		case m.Attribute:
			fields[f.Name] = "lines"
		case m.Line, m.Prose, m.Rich:
			fields[f.Name] = `Wind & "sail" <script>alert(1)</script>`
			if sound, ok := map[string]string{"average": "4.8", "count": "212", "opens": "9:30", "closes": "18"}[f.Name]; ok {
				fields[f.Name] = sound
			}
		case m.Product:
			fields[f.Name] = "ember"
		case m.Shelf:
			fields[f.Name] = "stood"
		case m.Deadline:
			fields[f.Name] = "friday"
		case m.Picture:
			fields[f.Name] = "ember"
		case m.List:
			item := m.Fields{}
			fill(m.Kind{Fields: f.Items}, item)
			if f.Name == "bumps" {
				item["product"] = "cell"
			}
			fields[f.Name] = []any{map[string]any(item)}
		case m.Group:
			fields[f.Name] = "night"
		case m.Video:
			fields[f.Name] = "flight"
		case m.Mailing:
			fields[f.Name] = "guide"
		case m.Sign:
			fields[f.Name] = "kayak"
		case m.Link:
			fields[f.Name] = "tel:+351 255 000 111"
		case m.File: // no field holds one
		case m.Choice, m.Slots:
		}
	}
}

func world() facts.Facts {
	end := noon.Add(96 * time.Hour)
	return facts.Facts{
		Store: facts.Store{Name: "Gustwell", Currency: "EUR", Zone: "Europe/Lisbon", LegalName: "Gustwell Kiteworks", ContactEmail: "hello@gustwell.example"},
		Products: map[string]goods.Product{
			"ember": {ID: "ember", Name: "Ember 180", Price: money.Of(6800, "EUR"), Stock: 3, Form: goods.Physical},
			"cell":  {ID: "cell", Name: "Lantern cell", Price: money.Of(900, "EUR"), Stock: 3, Form: goods.Physical},
		},
		Deadlines: map[string]deadline.Deadline{"friday": {ID: "friday", Name: "Friday", At: end, Zone: "Europe/Lisbon"}},
		Pictures:  map[string]facts.Picture{"ember": {ID: "ember", Alt: `A "kite"`, Path: "/pictures/x.svg", Width: 4, Height: 3}},
		Mailings:  map[string]mailing.List{"guide": {ID: "guide", Name: "The <b>guide</b>", Why: "You asked for the wind guide.", Confirmed: true}},
		Videos:    map[string]facts.Video{"flight": {ID: "flight", Name: "First flight", Path: "/videos/x.mp4", Mime: "video/mp4"}},
		Slots:     map[string][]appointment.Slot{"15": {{At: noon.Add(24 * time.Hour), Minutes: 15}}, "30": {{At: noon.Add(24 * time.Hour), Minutes: 30}}},
		Groups:    map[string]facts.Group{"night": {ID: "night", Name: "Night <b>kites</b>", Address: "night-kites"}},
		Shelves:   map[string]facts.Shelf{"stood": {ID: "stood", Name: "Stood long", Goods: []string{"ember", "cell"}}},
		Described: map[string]facts.Described{"ember": {Text: "<p>It <b>glows</b>.</p>", Has: []facts.Has{{Label: "Wingspan", Words: "180 cm"}}}},
		Offers:    []offer.Offer{{ID: "week", Name: "Week", Kind: offer.PercentOff, Percent: decimal.NewFromInt(25), ProductID: "ember", Conditions: offer.Conditions{Starts: noon.Add(-time.Hour), Ends: end}}},
	}
}

func draw(t require.TestingT, r *render.Renderer, in render.Input) render.Result {
	in.Place.Address = "night-flight"
	drawn, err := r.Page(in)
	require.NoError(t, err)
	return drawn
}

func TestWordsStayWords(t *testing.T) {
	r := renderer(t)
	html := string(draw(t, r, render.Input{Page: everything(t, r), Title: "</title><script>", Description: `"><script>`, Facts: world(), Moment: noon}).HTML)
	assert.NotContains(t, html, "<script>")
	assert.NotContains(t, html, "<b>air</b>")
	assert.Equal(t, 1, strings.Count(html, "<script"), "only our own script, by its address")
	assert.Contains(t, html, "<b>Wind &amp; &#34;sail&#34; &lt;script&gt;alert(1)&lt;/script&gt;</b><span>")
	for _, attribute := range []string{" onclick", " onload", " onerror", "javascript:", " style="} {
		assert.NotContains(t, html, attribute, "the page's policy forbids it")
	}
}

func TestAProofRunsAndSendsNothing(t *testing.T) {
	r := renderer(t)
	html := string(draw(t, r, render.Input{Page: everything(t, r), Facts: world(), Moment: noon, Proof: true}).HTML)
	assert.NotContains(t, html, "<script")
	for _, part := range strings.Split(html, `<button class="act`)[1:] {
		assert.Contains(t, strings.SplitN(part, ">", 2)[0], "disabled")
	}
}

func TestTheBumpIsNeverTickedBeforehand(t *testing.T) {
	r := renderer(t)
	page := everything(t, r)
	html := string(draw(t, r, render.Input{Page: page, Facts: world(), Moment: noon}).HTML)
	assert.Contains(t, html, `name="bump" value="1">`)
	ticked := string(draw(t, r, render.Input{Page: page, Facts: world(), Moment: noon, Form: pieces.Form{Values: map[string]string{"bump": "1"}}}).HTML)
	assert.Contains(t, ticked, `name="bump" value="1" checked>`, "but what a visitor ticked is kept")
}

func TestWhatIsGoneTakesNoRoom(t *testing.T) {
	r := renderer(t)
	page := m.Page{Version: 1, Bands: []m.Band{{ID: "hurry", Tone: m.Card, Columns: []m.Column{{Width: 1, Pieces: []m.Piece{
		{ID: "t", Kind: "timer", Fields: m.Fields{"deadline": "friday", "then": "hide"}},
	}}}}}}
	before := draw(t, r, render.Input{Page: page, Facts: world(), Moment: noon})
	assert.Contains(t, string(before.HTML), `id="band-hurry"`)
	assert.Contains(t, string(before.HTML), "Until Friday 27 November 2026, 12:00", "without script it is a written moment")
	after := draw(t, r, render.Input{Page: page, Facts: world(), Moment: before.Until})
	assert.NotContains(t, string(after.HTML), "band-hurry", "the band goes with its only piece")
	assert.True(t, after.Until.IsZero(), "nothing changes any more")
	page.Bands[0].Columns[0].Pieces[0].Fields["then"] = "words"
	assert.Contains(t, string(draw(t, r, render.Input{Page: page, Facts: world(), Moment: before.Until}).HTML), "This ended on Friday 27 November 2026, 12:00, Lisbon time.")
}

func TestSoldOutClosesTheCheckout(t *testing.T) {
	r := renderer(t)
	f := world()
	ember := f.Products["ember"]
	ember.Stock = 0
	f.Products["ember"] = ember
	html := string(draw(t, r, render.Input{Page: everything(t, r), Facts: f, Moment: noon}).HTML)
	assert.Contains(t, html, "Sold out: the last Ember 180 has been sold.")
	assert.NotContains(t, html, "data-checkout ")
	ember.Form = goods.Digital
	f.Products["ember"] = ember
	html = string(draw(t, r, render.Input{Page: everything(t, r), Facts: f, Moment: noon}).HTML)
	assert.NotContains(t, html, "Sold out", "what is downloaded does not run out")
	assert.Contains(t, html, `data-sent=""`, "and needs no address, but for the bump that goes by parcel")
}

// The one law of the renderer: between the moment and “until” nothing on the
// page changes, but for what a countdown's script writes.
func TestNothingChangesBeforeUntil(t *testing.T) {
	r := renderer(t)
	page := everything(t, r)
	rapid.Check(t, func(t *rapid.T) {
		f := world()
		hour := func(name string) time.Time {
			return noon.Add(time.Duration(rapid.IntRange(-50, 150).Draw(t, name)) * time.Hour)
		}
		f.Offers[0].Starts = hour("starts")
		f.Offers[0].Ends = f.Offers[0].Starts.Add(time.Duration(rapid.IntRange(1, 80).Draw(t, "length")) * time.Hour)
		d := f.Deadlines["friday"]
		d.At = hour("deadline")
		f.Deadlines["friday"] = d
		moment := hour("moment")
		now := draw(t, r, render.Input{Page: page, Facts: f, Moment: moment})
		if now.Until.IsZero() {
			later := draw(t, r, render.Input{Page: page, Facts: f, Moment: moment.AddDate(9, 0, 0)})
			assert.Equal(t, string(now.HTML), string(later.HTML), "it holds for ever")
			return
		}
		if !now.Until.After(moment) {
			t.Fatalf("until %s is not after %s", now.Until, moment)
		}
		last := draw(t, r, render.Input{Page: page, Facts: f, Moment: now.Until.Add(-time.Nanosecond)})
		assert.Equal(t, string(now.HTML), string(last.HTML))
	})
}

func TestEveryKindCanBeToldAndMissesNothingWhenEmpty(t *testing.T) {
	r := renderer(t)
	for _, name := range r.Registry.Names() {
		kind, ok := r.Registry.Kind(name)
		require.True(t, ok)
		c := r.Context(render.Input{Facts: world(), Moment: noon})
		empty := m.Piece{ID: "p", Kind: name, Fields: m.Fields{}}
		assert.NotPanics(t, func() { kind.View(c, empty) }, name)
		full := m.Piece{ID: "p", Kind: name, Fields: m.Fields{}}
		fill(kind.Kind, full.Fields)
		if kind.Tell == nil {
			continue
		}
		assert.NotEmpty(t, kind.Tell(c, full).Parts, name)
		assert.False(t, kind.Tell(c, full).Trouble, name)
		assert.NotPanics(t, func() { kind.Tell(c, empty) }, name)
	}
}

func TestColumnsAndStylesOfWhatIsUsedOnly(t *testing.T) {
	r := renderer(t)
	page := m.Page{Version: 1, Bands: []m.Band{{ID: "a", Tone: m.Card, Columns: []m.Column{
		{Width: 7, Pieces: []m.Piece{{ID: "h", Kind: "heading", Fields: m.Fields{"text": "x"}}}},
		{Width: 5, Pieces: []m.Piece{{ID: "p", Kind: "price", Fields: m.Fields{"product": "ember"}}}},
	}}}}
	css := r.Style(render.Input{Page: page})
	assert.Contains(t, css, ".w-7-5{--cols:minmax(0,7fr) minmax(0,5fr);--over:minmax(0,5fr) minmax(0,7fr)}")
	assert.Contains(t, css, ".price")
	assert.NotContains(t, css, ".timer", "a page ships the styles of its own pieces")
}

func TestEveryFamilyOfAHouseIsShipped(t *testing.T) {
	r := renderer(t)
	for _, f := range style.Families {
		assert.NotEmpty(t, r.Assets.Path(f.ID+".woff2"), f.Name)
	}
}

// What is summed up beside a checkout is what its press orders, as the form stands.
func TestTheSummaryIsOfWhatIsOrdered(t *testing.T) {
	r := renderer(t)
	option := func(count string) any { return map[string]any{"product": "ember", "count": count} }
	page := m.Page{Version: m.Version, Bands: []m.Band{{ID: "b", Columns: []m.Column{{Width: 1, Pieces: []m.Piece{
		{ID: "c", Kind: "checkout", Fields: m.Fields{"options": []any{option("2"), option("1")}, "quantity": "chosen", "bumps": []any{map[string]any{"product": "cell"}}}},
		{ID: "s", Kind: "summary", Fields: m.Fields{}},
	}}}}}}
	summed := func(values map[string]string) string {
		html := string(draw(t, r, render.Input{Page: page, Facts: world(), Moment: noon, Form: pieces.Form{Values: values}}).HTML)
		_, after, found := strings.Cut(html, "data-summary>")
		require.True(t, found)
		sum, _, _ := strings.Cut(after, "</table>")
		return sum
	}
	assert.Contains(t, summed(nil), "2 × Ember 180")
	assert.Contains(t, summed(nil), "<b class=\"now\">€102.00</b>")
	other := summed(map[string]string{"option": "2", "quantity": "3", "bump": "1"})
	assert.Contains(t, other, "3 × Ember 180")
	assert.Contains(t, other, "Lantern cell")
	assert.Contains(t, other, "<b class=\"now\">€162.00</b>")
}
