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
	"chrysagon/core/style"

	"github.com/stretchr/testify/assert"
)

var now = time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)

func sound() check.Page {
	end := now.Add(96 * time.Hour)
	piece := func(id, kind string, f m.Fields) m.Piece { return m.Piece{ID: id, Kind: kind, Fields: f} }
	return check.Page{
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
		"no title":                     {func(p *check.Page) { p.Title = "" }, false},
		"161 characters long":          {func(p *check.Page) { p.Description = strings.Repeat("d", 161) }, false},
		"A heading is empty":           {func(p *check.Page) { pieces(p)[0].Fields["text"] = "" }, false},
		"0 headlines":                  {func(p *check.Page) { pieces(p)[0].Fields["level"] = "2" }, false},
		"No button leads":              {func(p *check.Page) { pieces(p)[1].Kind = "text" }, false},
		"A picture is missing":         {func(p *check.Page) { pieces(p)[2].Fields["picture"] = "" }, false},
		"no words for those":           {func(p *check.Page) { p.Facts.Pictures["ember"] = facts.Picture{ID: "ember"} }, false},
		"has passed":                   {func(p *check.Page) { p.Moment = now.Add(200 * time.Hour) }, false},
		"no deadline and will not":     {func(p *check.Page) { pieces(p)[3].Fields["deadline"] = "" }, false},
		"at which no offer":            {func(p *check.Page) { p.Facts.Offers[0].Ends = now.Add(time.Hour) }, false},
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
