package check_test

import (
	"testing"

	"chrysagon/core/check"
	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/core/target"

	"github.com/stretchr/testify/assert"
)

func page(purpose, layout string, links []m.LinkAt, pieces ...m.Piece) check.Page {
	return check.Page{Schema: schema(),
		Purpose: purpose, Layout: layout, Address: "here", Links: links, Moment: now,
		Manuscript: m.Page{Version: 1, Bands: []m.Band{{ID: "b", Name: "Band", Tone: m.Card, Columns: []m.Column{{Width: 1, Pieces: pieces}}}}},
		Facts: facts.Facts{
			Menu:    []facts.Page{{Name: "About"}, {Name: "Contact"}},
			Pages:   map[string]facts.Page{"guide": {Name: "Gift guide", Address: "guide"}},
			Sold:    map[string]facts.Page{"ember": {Name: "Night flight", Address: "night-flight"}, "gull": {Name: "Here", Address: "here"}},
			Shelves: map[string]facts.Shelf{"all": {Goods: []string{"ember", "gull", "wisp"}}},
			Groups:  map[string]facts.Group{"g": {Name: "Light wind", Address: "light-wind"}, "lost": {Name: "Lost"}},
		},
	}
}

// Every way that leads off a page is listed with where it leads; the page's own
// yes and no, what stands on it, calls, mails and files lead nowhere else, and
// legal links are counted apart.
func TestWaysOutAreCountedAndNamed(t *testing.T) {
	link := func(text string) m.LinkAt {
		to, err := target.Parse(text)
		assert.NoError(t, err)
		return m.LinkAt{Piece: "p", Target: to}
	}
	for _, stays := range []string{"checkout", "yes", "no", "band:b", "tel:", "mailto:", "file:f", "product:gull", "product:wisp"} {
		assert.Empty(t, check.Ways(page("sales", "bare", []m.LinkAt{link(stays)})), stays)
	}
	for leads, to := range map[string]string{
		"page:guide": "Gift guide", "home": "the shop’s first page", "https://else.example/": "https://else.example/", "product:ember": "Night flight", "appointment": "an appointment",
	} {
		assert.Equal(t, []check.Way{{PieceID: "p", To: to}}, check.Ways(page("sales", "bare", []m.LinkAt{link(leads)})), leads)
	}
	p := page("shelf", "full", nil,
		m.Piece{ID: "s", Kind: "shelf", Fields: m.Fields{"shelf": "all"}},
		m.Piece{ID: "g", Kind: "groups", Fields: m.Fields{"items": []any{map[string]any{"group": "g"}, map[string]any{"group": "lost"}}}})
	assert.Equal(t, 5, check.WaysOut(p), "the store's name and two pages, one of the goods, one group")
	legal := 0
	for _, w := range check.Ways(p) {
		if w.Legal {
			legal++
		}
	}
	assert.Equal(t, 3, legal)
}

func TestCallsToActionAndTheirGoals(t *testing.T) {
	p := page("sales", "bare", nil,
		m.Piece{ID: "go", Kind: "button", Fields: m.Fields{"label": "Order mine", "second": "Read on", "second_target": "band:b"}},
		m.Piece{ID: "empty", Kind: "button", Fields: m.Fields{}},
		m.Piece{ID: "c", Kind: "checkout", Fields: m.Fields{"button": "Order and pay"}})
	var says []string
	for _, c := range check.Calls(p) {
		says = append(says, c.Says)
	}
	assert.Equal(t, []string{"Order mine", "Read on", "Order and pay"}, says)
	assert.Equal(t, 1, check.Goals(p), "the band is the one in which the checkout stands")
	p.Manuscript.Bands[0].Columns[0].Pieces[0].Fields["second_target"] = "https://else.example"
	assert.Equal(t, 2, check.Goals(p))
	ask := page("opt_in", "bare", nil, m.Piece{ID: "f", Kind: "form", Fields: m.Fields{}}, m.Piece{ID: "yes", Kind: "answer", Fields: m.Fields{}},
		m.Piece{ID: "r", Kind: "rotate", Fields: m.Fields{"items": []any{map[string]any{"label": "See", "target": "home"}, map[string]any{"title": "No button"}}}},
		m.Piece{ID: "l", Kind: "product", Fields: m.Fields{"product": "ember", "label": "See the Ember"}})
	assert.Len(t, check.Calls(ask), 4)
	assert.Equal(t, 4, check.Goals(ask))
}
