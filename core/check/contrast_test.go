package check_test

import (
	"testing"

	"chrysagon/core/check"
	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/core/style"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Whatever faint looks a page wears, what is proposed mends them: after it the
// same check finds nothing there.
func TestWhatMendsFaintWordsDoes(t *testing.T) {
	for name, spoil := range map[string]func(*check.Page){
		"a heading": func(p *check.Page) { p.Manuscript.Bands[0].Columns[0].Pieces[0].Look = style.Look{"colour": "#eeeeee"} },
		"a button": func(p *check.Page) {
			p.Manuscript.Bands[0].Columns[0].Pieces[1].Look = style.Look{"ground": "night", "colour": "ink"}
		},
		"a price": func(p *check.Page) {
			p.Manuscript.Bands[0].Columns[0].Pieces = append(p.Manuscript.Bands[0].Columns[0].Pieces, m.Piece{ID: "cost", Kind: "price", Fields: m.Fields{"product": "ember"}, Look: style.Look{"struck_colour": "#eeeeee"}})
		},
		"a price asked, on wide screens": func(p *check.Page) {
			p.Manuscript.Bands[0].Columns[0].Pieces = append(p.Manuscript.Bands[0].Columns[0].Pieces, m.Piece{ID: "cost", Kind: "price", Fields: m.Fields{"product": "ember"}, Look: style.Look{"wide.now_colour": "#f4f4f4"}})
		},
		"a band":    func(p *check.Page) { p.Manuscript.Bands[0].Look = style.Look{"ground": "#336699", "colour": "#557799"} },
		"a picture": func(p *check.Page) { p.Manuscript.Bands[0].Look = style.Look{"picture": "ember", "colour": "#ffffff"} },
		"a picture, veiled wrongly": func(p *check.Page) {
			p.Manuscript.Bands[0].Look = style.Look{"picture": "ember", "colour": "#ffffff", "veil_of": "light", "veil": "50"}
		},
		"dark words on a picture":    func(p *check.Page) { p.Manuscript.Bands[0].Look = style.Look{"picture": "ember"} },
		"the picture behind is gone": func(p *check.Page) { p.Manuscript.Bands[0].Look = style.Look{"picture": "gone"} },
	} {
		p := sound()
		for i := range p.Manuscript.Bands {
			p.Manuscript.Bands[i].Tone = m.Card
		}
		p.Facts.Pictures["ember"] = facts.Picture{ID: "ember", Alt: "A kite", Pixels: style.Pixels{Patch: style.Patch{Dark: style.Colour{R: 20, G: 30, B: 40}, Light: style.Colour{R: 240, G: 230, B: 200}}}}
		spoil(&p)
		found := check.Run(p)
		require.Len(t, found, 1, name)
		require.NotNil(t, found[0].Mend, name)
		mended, _, err := schema().Apply(p.Manuscript, *found[0].Mend)
		require.NoError(t, err, name)
		p.Manuscript = mended
		assert.Empty(t, check.Run(p), name)
	}
}

func TestAHouseOfFaintColoursIsNotThePagesFault(t *testing.T) {
	p := sound()
	p.Facts.Store.House = style.House{Palette: map[string]string{"ink": "#aaaaaa"}}
	assert.Empty(t, check.Run(p), "the house style's own check says it, once for all pages")
}
