package check_test

import (
	"strings"
	"testing"

	"chrysagon/core/check"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	m "chrysagon/core/manuscript"
	"chrysagon/core/purpose"
	"chrysagon/core/style"
	"chrysagon/pieces/all"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// letter is a letter in which nothing is wrong: a headline, some words, a button to a page.
func letter(t *testing.T) check.Page {
	t.Helper()
	r, err := all.Registry()
	require.NoError(t, err)
	return check.Page{
		Schema: schema(), Mailable: r.InLetters(), Purpose: purpose.Letter, Title: "What the wind says", Description: "Three signs, read from the ground.", Moment: now, FirstView: 9000,
		Manuscript: m.Page{Version: 1, Bands: []m.Band{{ID: "b", Name: "All of it", Columns: []m.Column{{Width: 1, Pieces: []m.Piece{
			{ID: "h", Kind: "heading", Fields: m.Fields{"text": "Good evening, {name|friend}", "level": "1"}},
			{ID: "t", Kind: "text", Fields: m.Fields{"text": "Smoke shows it first, then the grass, and last of all the line in your hand. Look in that order."}},
			{ID: "go", Kind: "button", Fields: m.Fields{"label": "Read how", "target": "page:knots"}},
		}}}}}},
		Facts: facts.Facts{Store: facts.Store{House: style.Houses[0].House}, Pages: map[string]facts.Page{"knots": {Name: "Knots", Address: "knots", Live: true}}, Pictures: map[string]facts.Picture{"ember": {ID: "ember", Alt: "A kite"}},
			Products: map[string]goods.Product{"ember": {ID: "ember", Name: "Ember 180", Stock: 3}}},
	}
}

func run(p check.Page) []check.Finding {
	p.Links = p.Schema.Links(p.Manuscript)
	return check.Run(p)
}

func TestASoundLetterHasNoFindings(t *testing.T) { assert.Empty(t, run(letter(t))) }

// Each fault that a letter can have is found, and nothing else with it.
func TestEachFaultOfALetter(t *testing.T) {
	pieces := func(p *check.Page) []m.Piece { return p.Manuscript.Bands[0].Columns[0].Pieces }
	put := func(p *check.Page, id, kind string, f m.Fields) {
		c := &p.Manuscript.Bands[0].Columns[0]
		c.Pieces = append(c.Pieces, m.Piece{ID: id, Kind: kind, Fields: f})
	}
	says := func(text string) func(*check.Page) {
		return func(p *check.Page) { pieces(p)[1].Fields["text"] = pieces(p)[1].Fields.Text("text") + " " + text }
	}
	alone := func(text string) func(*check.Page) { // with no button to lead anywhere
		return func(p *check.Page) {
			pieces(p)[1].Fields["text"] = pieces(p)[1].Fields.Text("text") + " " + text
			pieces(p)[2] = m.Piece{ID: "go", Kind: "divider"}
		}
	}
	home := func(text string) func(*check.Page) {
		return func(p *check.Page) {
			pieces(p)[1].Fields["text"] = pieces(p)[1].Fields.Text("text") + " " + text
			pieces(p)[2].Fields["target"] = "home"
		}
	}
	for what, spoil := range map[string]func(*check.Page){
		"has no subject":                  func(p *check.Page) { p.Title = "" },
		"The subject has 49 characters":   func(p *check.Page) { p.Title = strings.Repeat("s", 49) },
		"Nothing is written for the line": func(p *check.Page) { p.Description = "" },
		"line after the subject has 91":   func(p *check.Page) { p.Description = strings.Repeat("d", 91) },
		"little more than a picture": func(p *check.Page) {
			pieces(p)[1] = m.Piece{ID: "p", Kind: "picture", Fields: m.Fields{"picture": "ember"}}
		},
		"cannot stand in a letter":          func(p *check.Page) { put(p, "c", "video", m.Fields{}) },
		"about no order":                    func(p *check.Page) { put(p, "r", "receipt", m.Fields{}) },
		"“What was bought” is missing":      func(p *check.Page) { p.Purpose = purpose.OfOrder("confirmation").Name },
		"would read nothing in place of":    says("Yours, {name}."),
		"a letter is no page":               func(p *check.Page) { pieces(p)[2].Fields["target"] = "band:b" },
		"Nothing in the letter leads":       alone(""),
		"letter is 103 KB":                  func(p *check.Page) { p.FirstView = 103 << 10 },
		"“attached” promise something, and": says("The plan is attached."),
		"“Enclosed” promise something, and": says("Enclosed you find it."),
		"“Download” promise":                home("Download the plan."),
		"“Here it is” promise":              home("Here it is."),
		"“your guide waits” promise":        home("And your guide waits for you."),
		"“the button” promise":              alone("Press the button."),
		"“your code” promise":               says("Use your code at the end."),
		"“last chance” press the reader":    says("It is the last chance."),
		"“only 3 left” press the reader":    says("There are only 3 left."),
		"Ember 180 leads nowhere: no live":  func(p *check.Page) { put(p, "e", "product", m.Fields{"product": "ember"}) },
		"Ember 180 is shown and sold out": func(p *check.Page) {
			p.Facts.Products["ember"] = goods.Product{ID: "ember", Name: "Ember 180"}
			p.Facts.Sold = map[string]facts.Page{"ember": {Name: "Night flight"}}
			put(p, "e", "product", m.Fields{"product": "ember"})
		},
		"“Click here” does not say what":    func(p *check.Page) { pieces(p)[2].Fields["label"] = "Click here" },
		"The words of the letter stand out": func(p *check.Page) { p.Facts.Store.House = faintHouse("ink", "#cfd2cf") },
	} {
		p := letter(t)
		spoil(&p)
		found := run(p)
		require.NotEmpty(t, found, what)
		matches := 0
		for _, f := range found {
			assert.NotEmpty(t, f.Remedy, what)
			if strings.Contains(f.What, what) {
				matches++
			}
		}
		assert.Equal(t, 1, matches, "%s: %+v", what, found)
	}
}

// What is promised and kept is no fault: by a link to a page or a file, by a code that stands
// there, by goods that lead to their pages.
func TestWhatALetterKeepsIsNoFault(t *testing.T) {
	for text, pieces := range map[string][]m.Piece{
		"Here it is. Download it by the button.":      nil,
		"Your gift waits inside.":                     {{ID: "f", Kind: "button", Fields: m.Fields{"label": "Open", "target": "file:plan"}}},
		"Use the code when you order.":                {{ID: "c", Kind: "code", Fields: m.Fields{"code": "LANTERN"}}},
		"The button leads on; it is no secret code.":  nil,
		"Attach the line first, then the bridle.":     nil,
		"We keep a detached view of the clicked line": nil,
	} {
		p := letter(t)
		words := p.Manuscript.Bands[0].Columns[0].Pieces[1].Fields
		words["text"] = words.Text("text") + " " + text
		p.Manuscript.Bands[0].Columns[0].Pieces = append(p.Manuscript.Bands[0].Columns[0].Pieces, pieces...)
		for _, f := range run(p) {
			assert.NotContains(t, f.What, "promise something", text)
		}
	}
}

// faintHouse is a house with one colour of its own.
func faintHouse(token, colour string) style.House {
	h := style.Houses[0].House
	h.Palette = map[string]string{token: colour}
	return h
}
