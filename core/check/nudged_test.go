package check_test

import (
	"testing"

	"chrysagon/core/check"
	m "chrysagon/core/manuscript"
	"chrysagon/core/style"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestWhatIsNudgedOffAPhoneIsFound(t *testing.T) {
	found := func(look style.Look) []check.Finding {
		var out []check.Finding
		page := check.Page{Schema: schema(), Manuscript: m.Page{Version: m.Version, Bands: []m.Band{{ID: "b", Name: "Opening", Beat: m.Attention, Tone: m.Card, Columns: []m.Column{{Width: 1, Pieces: []m.Piece{
			{ID: "h", Kind: "heading", Fields: m.Fields{"text": "Fly the dark", "level": "1"}, Look: look},
		}}}}}}}
		for _, f := range check.Run(page) {
			if f.PieceID == "h" && f.Mend != nil {
				out = append(out, f)
			}
		}
		return out
	}
	for _, fine := range []style.Look{nil, {"aside": "20"}, {"aside": "-20"}, {"wide.aside": "300"}, {"aside": "0"}, {"aside": "120", "seen": "wide"}} {
		assert.Empty(t, found(fine), fine)
	}
	off := found(style.Look{"aside": "-120"})
	require.Len(t, off, 1)
	assert.Equal(t, "In “Opening” a heading is nudged 120 pixels to the left: on a phone it is cut off there.", off[0].What)
	assert.Equal(t, check.Mend, off[0].Gravity)
}
