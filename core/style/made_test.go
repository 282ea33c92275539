package style_test

import (
	"testing"

	"chrysagon/core/style"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestEveryHouseThatShipsIsRead(t *testing.T) {
	require.Len(t, style.Houses, 12)
	for i, m := range style.Houses {
		require.NoError(t, m.House.Validate(), m.Name)
		for _, r := range m.House.Contrasts() {
			assert.True(t, r.Holds(), "%s: %s has %.2f of %.1f", m.Title, r.What, r.Ratio, r.Least)
		}
		for _, other := range style.Houses[i+1:] {
			assert.False(t, m.House.Equal(other.House), "%s and %s are the same", m.Name, other.Name)
			if m.House.HeadFamily() == other.House.HeadFamily() && m.House.BodyFamily() == other.House.BodyFamily() {
				t.Errorf("%s and %s are set alike", m.Name, other.Name)
			}
			apart := style.Apart(m.House.Colour("action"), other.House.Colour("action")) + style.Apart(m.House.Colour("night"), other.House.Colour("night"))
			assert.Greater(t, apart, 0.05, "%s and %s look alike", m.Name, other.Name)
		}
		found, ok := style.HouseOf(m.Name)
		assert.True(t, ok)
		assert.Equal(t, m.Title, found.Title)
	}
}

// drawn is any house that reads.
func drawn(t *rapid.T) style.House {
	return rapid.SampledFrom(style.Houses).Draw(t, "house").House
}

// A word moves several settings and says which; whatever words follow each other, what
// they come to is valid and read as well as what ships.
func TestAWordMovesSeveralSettingsAndSaysWhich(t *testing.T) {
	for _, turn := range style.Turns {
		h, moved := style.House{}.Turned(turn.Name)
		assert.GreaterOrEqual(t, len(moved), 2, turn.Name)
		assert.False(t, h.Equal(style.House{}), turn.Name)
	}
	same, moved := style.House{}.Turned("louder than that")
	assert.True(t, same.Equal(style.House{}))
	assert.Empty(t, moved)
	rapid.Check(t, func(t *rapid.T) {
		h := drawn(t)
		for range rapid.IntRange(1, 6).Draw(t, "words") {
			before := h
			var moved []string
			h, moved = h.Turned(rapid.SampledFrom(style.Turns).Draw(t, "word").Name)
			assert.NoError(t, h.Validate())
			assert.Equal(t, len(moved) > 0, !h.Equal(before), "%v", moved)
			for _, r := range h.Contrasts() {
				assert.True(t, r.Holds(), "%s has %.2f", r.What, r.Ratio)
			}
		}
	})
}

// A house made from any picture is valid and read, and the same each time.
func TestAHouseCanBeMadeFromAnyPicture(t *testing.T) {
	_, ok := style.Like(style.Pixels{})
	assert.False(t, ok, "of nothing, none is made")
	colour := rapid.Custom(func(t *rapid.T) style.Colour {
		return style.Colour{R: rapid.Uint8().Draw(t, "r"), G: rapid.Uint8().Draw(t, "g"), B: rapid.Uint8().Draw(t, "b")}
	})
	rapid.Check(t, func(t *rapid.T) {
		p := style.Pixels{}
		for range rapid.IntRange(1, 40).Draw(t, "patches") {
			p.Patches = append(p.Patches, style.Patch{Dark: colour.Draw(t, "dark"), Light: colour.Draw(t, "light")})
		}
		h, ok := style.Like(p)
		assert.True(t, ok)
		assert.NoError(t, h.Validate())
		for _, r := range h.Contrasts() {
			assert.True(t, r.Holds(), "%s has %.2f", r.What, r.Ratio)
		}
		again, _ := style.Like(p)
		assert.True(t, h.Equal(again))
	})
}

// The picture's own colour is the house's.
func TestAHouseIsLikeItsPicture(t *testing.T) {
	var p style.Pixels
	for range 20 {
		p.Patches = append(p.Patches, style.Patch{Dark: style.Colour{R: 20, G: 24, B: 60}, Light: style.Colour{R: 214, G: 60, B: 40}}, style.Patch{Dark: style.Colour{R: 240, G: 236, B: 220}, Light: style.Colour{R: 250, G: 246, B: 236}})
	}
	h, ok := style.Like(p)
	require.True(t, ok)
	assert.Less(t, style.Apart(h.Colour("action"), style.Colour{R: 214, G: 60, B: 40}), 0.08)
	assert.Less(t, style.Apart(h.Colour("night"), style.Colour{R: 20, G: 24, B: 60}), 0.08)
}
