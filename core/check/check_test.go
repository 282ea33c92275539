package check_test

import (
	"strings"
	"testing"
	"time"

	"chrysagon/core/check"
	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/ledger"
	m "chrysagon/core/manuscript"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/own"
	"chrysagon/core/style"

	"github.com/stretchr/testify/assert"
)

var now = time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)

func sound() check.Page {
	end := now.Add(96 * time.Hour)
	piece := func(id, kind string, f m.Fields) m.Piece { return m.Piece{ID: id, Kind: kind, Fields: f} }
	return check.Page{Schema: schema(),
		Purpose: "sales", Title: "Ember 180", Description: "A kite with a lantern.", Moment: now,
		Manuscript: m.Page{Version: 1, Bands: []m.Band{{ID: "b", Columns: []m.Column{{Width: 1, Pieces: []m.Piece{
			piece("h", "heading", m.Fields{"text": "Fly the dark", "level": "1"}),
			piece("go", "button", m.Fields{"label": "Order"}),
			piece("pic", "picture", m.Fields{"picture": "ember"}),
			piece("t", "timer", m.Fields{"deadline": "friday"}),
			piece("c", "checkout", m.Fields{"product": "ember"}),
			piece("l", "legal", m.Fields{}),
		}}}}}},
		Facts: facts.Facts{
			Products:  map[string]goods.Product{"ember": {ID: "ember", Name: "Ember 180", Stock: 3}},
			Deadlines: map[string]deadline.Deadline{"friday": {ID: "friday", At: end, Zone: "UTC"}},
			Pictures:  map[string]facts.Picture{"ember": {ID: "ember", Alt: "A kite"}},
			Offers:    []offer.Offer{{ID: "week", ProductID: "ember", Conditions: offer.Conditions{Ends: end}}},
		},
	}
}

func TestASoundPageHasNoFindings(t *testing.T) { assert.Empty(t, check.Run(sound())) }

func TestEachFault(t *testing.T) {
	pieces := func(p *check.Page) []m.Piece { return p.Manuscript.Bands[0].Columns[0].Pieces }
	for what, c := range map[string]struct {
		spoil func(*check.Page)
		stops bool
	}{
		"no title":            {func(p *check.Page) { p.Title = "" }, false},
		"161 characters long": {func(p *check.Page) { p.Description = strings.Repeat("d", 161) }, false},
		"A heading is empty":  {func(p *check.Page) { pieces(p)[0].Fields["text"] = "" }, false},
		"no headline":         {func(p *check.Page) { pieces(p)[0].Fields["level"] = "2" }, false},
		"No button leads":     {func(p *check.Page) { pieces(p)[1].Kind = "text" }, false},
		"first heading is not": {func(p *check.Page) {
			p.Manuscript.Bands = append([]m.Band{{ID: "a", Columns: []m.Column{{Width: 1, Pieces: []m.Piece{{ID: "x", Kind: "heading", Fields: m.Fields{"text": "Before"}}}}}}}, p.Manuscript.Bands...)
		}, false},
		"lead to different places": {func(p *check.Page) {
			pieces(p)[2] = m.Piece{ID: "n", Kind: "button", Fields: m.Fields{"label": "order ", "target": "band:b"}}
		}, false},
		"asks for something else": {func(p *check.Page) {
			pieces(p)[2] = m.Piece{ID: "n", Kind: "button", Fields: m.Fields{"label": "Read", "target": "home"}}
			pieces(p)[3] = m.Piece{ID: "o", Kind: "button", Fields: m.Fields{"label": "See", "target": "https://else.example"}}
		}, false},
		"asks for a name":   {func(p *check.Page) { pieces(p)[2] = m.Piece{ID: "f", Kind: "form", Fields: m.Fields{"name": "yes"}} }, false},
		"a finger needs 24": {func(p *check.Page) { pieces(p)[5].Look = style.Look{"size": "60", "line": "100"} }, false},
		"weighs 400 KB": {func(p *check.Page) {
			p.Facts.Pictures["ember"] = facts.Picture{ID: "ember", Alt: "A kite", Weight: 400 << 10}
		}, false},
		"Code of your own": {func(p *check.Page) { p.Facts.Store.Own = own.Code{{Name: "Confetti", Kind: own.Foot, Text: "go()"}} }, false},
		"tell https://count.example": {func(p *check.Page) {
			p.Manuscript.Own = own.Code{{Name: "Footfall", Kind: own.Measure, Text: "https://count.example/t.js"}}
		}, false},
		"name another site": {func(p *check.Page) {
			p.Manuscript.Own = own.Code{{Name: "Sky", Kind: own.Styles, Text: "main{background:url(//sky.example/a.png)}"}}
		}, false},
		"2 pictures are missing": {func(p *check.Page) {
			pieces(p)[2] = m.Piece{ID: "g", Kind: "gallery", Fields: m.Fields{"items": []any{map[string]any{"picture": "gone"}, map[string]any{"picture": "ember"}, map[string]any{"picture": "too"}}}}
		}, false},
		"A picture is missing": {func(p *check.Page) { pieces(p)[2].Fields["picture"] = "" }, false},
		"no words for those":   {func(p *check.Page) { p.Facts.Pictures["ember"] = facts.Picture{ID: "ember"} }, false},
		"In “”: Groups are not chosen yet.": {func(p *check.Page) {
			pieces(p)[2] = m.Piece{ID: "g", Kind: "groups", Fields: m.Fields{}}
			p.Blank = map[string]string{"g": "Groups are not chosen yet", "gone": "of no piece"}
		}, false},
		"has passed":               {func(p *check.Page) { p.Moment = now.Add(200 * time.Hour) }, false},
		"no deadline and will not": {func(p *check.Page) { pieces(p)[3].Fields["deadline"] = "" }, false},
		"at which nothing changes": {func(p *check.Page) { p.Facts.Offers[0].Ends = now.Add(time.Hour) }, true},
		"is what the template says": {func(p *check.Page) {
			p.Template = map[string]bool{"Say in one line what they get": true}
			pieces(p)[0].Fields["text"] = "<p>Say in  one line what they get</p>"
		}, true},
		"nobody has written it": {func(p *check.Page) {
			p.Template = map[string]bool{"Plain words sell better than large ones.": true}
			pieces(p)[2] = m.Piece{ID: "t", Kind: "text", Fields: m.Fields{"text": "Plain words sell better than large ones."}}
		}, false},
		"shows Cell at €9.00, and the press charges": {func(p *check.Page) {
			p.Facts.Store.Currency, p.Facts.Store.Zone = "EUR", "UTC"
			p.Facts.Offers[0].Kind, p.Facts.Offers[0].Amount = offer.AmountOff, money.Of(100, "EUR")
			p.Facts.Products["ember"] = goods.Product{ID: "ember", Name: "Ember 180", Price: money.Of(6800, "EUR"), Stock: 3}
			p.Facts.Products["cell"] = goods.Product{ID: "cell", Name: "Cell", Price: money.Of(900, "EUR"), Stock: 3}
			pieces(p)[2] = m.Piece{ID: "p", Kind: "price", Fields: m.Fields{"product": "cell"}}
		}, true},
		"nothing is sent by it": {func(p *check.Page) {
			pieces(p)[2] = m.Piece{ID: "f", Kind: "form", Fields: m.Fields{"thanks": "It is on its way. Look into your mail."}}
		}, true},
		"I can end it in every letter": {func(p *check.Page) {
			p.Facts.Files = map[string]facts.File{"knots": {ID: "knots"}}
			pieces(p)[2] = m.Piece{ID: "f", Kind: "form", Fields: m.Fields{"gives": "file:knots", "thanks": "Look into your mail.", "consent": "I can end it in every letter."}}
		}, true},
		"“When one is gone” press the reader": {func(p *check.Page) {
			pieces(p)[2] = m.Piece{ID: "t", Kind: "text", Fields: m.Fields{"text": "When one is gone, it is gone."}}
		}, false},
		"is sold out":                  {func(p *check.Page) { p.Facts.Products["ember"] = goods.Product{Name: "Ember 180"} }, false},
		"Nothing is chosen to be sold": {func(p *check.Page) { pieces(p)[4].Fields["product"] = "" }, true},
		"needs one checkout; it has 0": {func(p *check.Page) { pieces(p)[4].Kind = "text" }, true},
		"privacy, terms and contact":   {func(p *check.Page) { pieces(p)[5].Kind = "text" }, false},
		"weighs 15.0 KB":               {func(p *check.Page) { p.FirstView = 15 * 1024 }, false},
		"has 40 characters":            {func(p *check.Page) { pieces(p)[1].Fields["label"] = strings.Repeat("b", 40) }, false},
		"lead to the same place": {func(p *check.Page) {
			pieces(p)[2] = m.Piece{ID: "go2", Kind: "button", Fields: m.Fields{"label": "Buy"}}
		}, false},
		"nothing can be acted on": {func(p *check.Page) {
			pieces(p)[1] = m.Piece{ID: "long", Kind: "text", Fields: m.Fields{"text": strings.Repeat("words ", 250)}}
		}, false},
		"The code FROST does not work": {func(p *check.Page) {
			pieces(p)[2], p.Codes = m.Piece{ID: "code", Kind: "code", Fields: m.Fields{"code": "FROST"}}, map[string]string{"FROST": "It is used up."}
		}, false},
		"is missing":                {func(p *check.Page) { p.Manuscript.Bands[0].Look = style.Look{"picture": "gone"} }, false},
		"too faint on their ground": {func(p *check.Page) { pieces(p)[0].Look = style.Look{"colour": "#dddddd"} }, false},
		"cannot be read over":       {func(p *check.Page) { p.Manuscript.Bands[0].Look = style.Look{"picture": "ember"} }, false},
	} {
		p := sound()
		c.spoil(&p)
		found := check.Run(p)
		var said []string
		for _, f := range found {
			said = append(said, f.What)
			assert.NotEmpty(t, f.Remedy)
		}
		assert.Contains(t, strings.Join(said, "\n"), what)
		assert.Equal(t, c.stops, check.Stopping(found), what)
	}
}

// A reduced price whose former price cannot be proved is named, with the day
// from which one could be.
func TestAnUnprovedFormerPriceIsNamed(t *testing.T) {
	p := sound()
	p.Manuscript.Bands[0].Columns[0].Pieces = append(p.Manuscript.Bands[0].Columns[0].Pieces, m.Piece{ID: "pr", Kind: "price", Fields: m.Fields{"product": "ember"}})
	p.Facts.Store.Currency = "EUR"
	p.Facts.Products["ember"] = goods.Product{ID: "ember", Name: "Ember 180", Stock: 3, Price: money.Of(6800, "EUR")}
	p.Facts.Offers = []offer.Offer{{ID: "week", Name: "Week", Kind: offer.AmountOff, Amount: money.Of(1000, "EUR"), ProductID: "ember", Conditions: p.Facts.Offers[0].Conditions}}
	p.Facts.Ledgers = map[string][]ledger.Entry{"ember": {{Since: p.Moment.AddDate(0, 0, -10), Price: 6800}}}
	found := check.Run(p)
	if assert.Len(t, found, 1) {
		assert.Equal(t, check.Notice, found[0].Gravity)
		assert.Contains(t, found[0].What, "on sale for less than 30 days")
		assert.Contains(t, found[0].Remedy, "on can be proved")
	}
	p.Facts.Ledgers["ember"][0].Since = p.Moment.AddDate(0, 0, -31)
	assert.Empty(t, check.Run(p))
}

// What a shelf shows is looked at like what stands alone: what is left of it, what
// its prices can prove, where it leads.
func TestAShelfIsLookedAt(t *testing.T) {
	p := sound()
	p.Purpose = "shelf"
	p.Facts.Store.Currency = "EUR"
	shelf := m.Piece{ID: "s", Kind: "shelf", Fields: m.Fields{"shelf": "all", "show": "4"}}
	p.Manuscript.Bands[0].Columns[0].Pieces[4] = shelf
	p.Facts.Products = map[string]goods.Product{
		"ember": {ID: "ember", Name: "Ember 180", Stock: 3, Price: money.Of(6800, "EUR")}, "gull": {ID: "gull", Name: "Gull 90", Price: money.Of(2900, "EUR")},
	}
	said := func(ids ...string) string {
		p.Facts.Shelves = map[string]facts.Shelf{"all": {ID: "all", Name: "Everything", Goods: ids}}
		var out []string
		for _, f := range check.Run(p) {
			if f.PieceID == "s" {
				out = append(out, f.What)
			}
		}
		return strings.Join(out, "\n")
	}
	assert.Contains(t, said(), "Nothing stands on the shelf “Everything” now.")
	assert.Contains(t, said("ember"), "Only one thing stands on the shelf")
	assert.Contains(t, said("ember", "gull"), "One of the goods shown on “Everything” is sold out.")
	assert.Contains(t, said("ember", "gull"), "2 of the goods shown on “Everything” lead nowhere")
	p.Facts.Sold = map[string]facts.Page{"ember": {Name: "Night flight"}, "gull": {Name: "Night flight"}}
	assert.NotContains(t, said("ember", "gull"), "lead nowhere")
	p.Facts.Offers = []offer.Offer{{ID: "week", Name: "Week", Kind: offer.AmountOff, Amount: money.Of(1000, "EUR"), ProductID: "ember", Conditions: p.Facts.Offers[0].Conditions}}
	p.Facts.Ledgers = map[string][]ledger.Entry{"ember": {{Since: p.Moment.AddDate(0, 0, -10), Price: 6800}}}
	assert.Contains(t, said("ember", "gull"), "One price on the shelf is reduced without a former price")
}

// Every picture of a page weighs, behind a band and in a list too.
func TestPicturesAreWeighedWhereverTheyAre(t *testing.T) {
	p := sound()
	for _, id := range []string{"a", "b", "c", "d", "e", "f"} {
		p.Facts.Pictures[id] = facts.Picture{ID: id, Name: id, Alt: id, Weight: 290 << 10}
	}
	p.Facts.Pictures["a"] = facts.Picture{ID: "a", Name: "Sky", Weight: 400 << 10, Pixels: style.Pixels{Patch: style.Patch{Dark: style.Colour{R: 255, G: 255, B: 255}, Light: style.Colour{R: 255, G: 255, B: 255}}}}
	p.Manuscript.Bands[0].Look = style.Look{"picture": "a"}
	p.Manuscript.Bands[0].Columns[0].Pieces[2] = m.Piece{ID: "g", Kind: "gallery", Fields: m.Fields{"items": []any{map[string]any{"picture": "b"}, map[string]any{"picture": "c"}, map[string]any{"picture": "d"}, map[string]any{"picture": "e"}, map[string]any{"picture": "f"}}}}
	var said []string
	for _, f := range check.Run(p) {
		said = append(said, f.What)
	}
	assert.Contains(t, strings.Join(said, "\n"), "The picture “Sky” weighs 400 KB")
	assert.Contains(t, strings.Join(said, "\n"), "weigh 1.8 MB together")
}
