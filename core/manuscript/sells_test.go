package manuscript_test

import (
	"testing"

	m "chrysagon/core/manuscript"

	"github.com/stretchr/testify/assert"
)

// What names no product follows the one place that says what is sold: its band's,
// then its page's.
func TestPiecesFollowWhatIsSold(t *testing.T) {
	product := m.Field{Name: "product", Type: m.Product}
	s := m.Schema{"answer": {Name: "answer", Traits: m.Traits{Takes: m.TakesAnswer}, Fields: []m.Field{product}}, "price": {Name: "price", Fields: []m.Field{product}}, "text": {Name: "text"}}
	piece := func(id, kind, sells string) m.Piece {
		f := m.Fields{}
		if sells != "" {
			f["product"] = sells
		}
		return m.Piece{ID: id, Kind: kind, Fields: f}
	}
	band := func(id string, list ...m.Piece) m.Band {
		return m.Band{ID: id, Columns: []m.Column{{Width: 1, Pieces: list}}}
	}
	page := m.Page{Bands: []m.Band{
		band("top", piece("p1", "price", ""), piece("t", "text", "")),
		band("own", piece("p2", "price", "gull"), piece("p3", "price", "")),
		band("act", piece("a", "answer", "bag")),
	}}
	sold := func(p m.Page, id string) string {
		out := ""
		p.Walk(func(_ m.Band, x m.Piece) {
			if x.ID == id {
				out = x.Fields.Text("product")
			}
		})
		return out
	}
	followed := s.Follow(page)
	assert.Equal(t, "bag", sold(followed, "p1"), "the page's")
	assert.Equal(t, "gull", sold(followed, "p2"), "unless it says otherwise")
	assert.Equal(t, "gull", sold(followed, "p3"), "its band's")
	assert.Empty(t, sold(followed, "t"))
	assert.Empty(t, sold(page, "p1"), "the page handed in stays")
	assert.Equal(t, "bag", s.Sells(page, ""))
	none := m.Page{Bands: []m.Band{band("top", piece("p1", "price", "gull"), piece("a", "answer", ""))}}
	assert.Equal(t, "gull", sold(s.Follow(none), "a"), "an answer that names none follows what the page shows")

	s["order"] = m.Kind{Name: "order", Traits: m.Traits{Takes: m.TakesOrder, Fills: func(f m.Fields) bool { return f.Text("fill") == "lists" }}, Fields: []m.Field{product}}
	order := piece("o", "order", "")
	page = m.Page{Bands: []m.Band{band("top", piece("p1", "price", "gull")), band("act", order)}}
	assert.Equal(t, "gull", sold(s.Follow(page), "o"))
	assert.False(t, s.Filled(page))
	order.Fields["fill"] = "lists"
	assert.Empty(t, sold(s.Follow(page), "o"), "what is filled from lists follows no product that its page shows")
	assert.True(t, s.Filled(page))
}
