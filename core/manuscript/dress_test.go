package manuscript_test

import (
	"testing"

	m "chrysagon/core/manuscript"
	"chrysagon/core/style"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func text(s string) *string { return &s }

func dressed(t *testing.T) m.Page {
	p := page(band("hero", heading("h", "Fly the dark")), band("more", heading("h2", "By night"), heading("h3", "By day")))
	return apply(t, p, m.Command{Op: m.Dress, Looks: []m.LookAt{
		{ID: "h2", Set: map[string]*string{"size": text("120"), "colour": text("urgent")}}, {ID: "hero", Set: map[string]*string{"ground": text("#102030")}}, {Set: map[string]*string{"align": text("center")}},
	}})
}

func TestLooksArePutOnPageBandAndPiece(t *testing.T) {
	p := dressed(t)
	assert.Equal(t, style.Look{"size": "120", "colour": "urgent"}, p.LookOf("h2"))
	assert.Equal(t, style.Look{"ground": "#102030"}, p.LookOf("hero"))
	assert.Equal(t, style.Look{"align": "center"}, p.LookOf(""))
	assert.Nil(t, p.LookOf("gone"))

	_, _, err := schema.Apply(p, m.Command{Op: m.Dress, Looks: []m.LookAt{{ID: "h2", Set: map[string]*string{"size": text("12000")}}}})
	require.ErrorContains(t, err, "bands[1].columns[0].pieces[0]: look.size", "a refusal names the place")
	_, _, err = schema.Apply(p, m.Command{Op: m.Dress, Looks: []m.LookAt{{ID: "hero", Set: map[string]*string{"size": text("120")}}}})
	require.Error(t, err, "a band has no size")
	_, _, err = schema.Apply(p, m.Command{Op: m.Dress, Looks: []m.LookAt{{ID: "gone"}}})
	require.Error(t, err)
}

// Two people dress one heading: neither takes away what the other has set.
func TestWhatIsNotNamedStays(t *testing.T) {
	p := apply(t, dressed(t), m.Command{Op: m.Dress, Looks: []m.LookAt{{ID: "h2", Set: map[string]*string{"colour": nil, "weight": text("700")}}}})
	assert.Equal(t, style.Look{"size": "120", "weight": "700"}, p.LookOf("h2"))
}

func TestALookIsPutOnAllAlikeAndClearedAgain(t *testing.T) {
	p := dressed(t)
	alike := schema.Alike(p, "h2")
	assert.Equal(t, []string{"h", "h2", "h3"}, alike)
	all := apply(t, p, p.Wearing(p.LookOf("h2"), alike...))
	for _, id := range alike {
		assert.Equal(t, p.LookOf("h2"), all.LookOf(id))
	}
	assert.Empty(t, style.Drifts(schema.Worn(all)), "and nothing drifts any more")
	bare := apply(t, all, all.Clearing(alike...))
	assert.Nil(t, bare.LookOf("h"))
	assert.Equal(t, style.Look{"ground": "#102030"}, bare.LookOf("hero"), "the band's is its own")
}

func TestAnIDThatCouldBeMoreThanANameIsRefused(t *testing.T) {
	for _, id := range []string{"", "a b", "a}b", "ä", "x\"", "a.b", "aaaaaaaaaabbbbbbbbbbccccccccccddddddddddee"} {
		require.Error(t, schema.Validate(page(band(id, heading("h", "x")))), id)
	}
}

func TestEditsNameWhatWasAndIsSaid(t *testing.T) {
	before := page(band("a", heading("h", "Fly the dark"), heading("gone", "By day")), band("b", heading("same", "Same")))
	after := page(band("b", heading("same", "Same")), band("a", heading("h", "Fly by night")), band("c", heading("new", "New")))
	edits := schema.Edits(before, after)
	require.Len(t, edits, 3, "what only moved is no edit")
	assert.Equal(t, "Fly the dark", edits[0].Was)
	assert.Equal(t, "Fly by night", edits[0].Is)
	assert.Equal(t, m.Edit{Band: after.Bands[2].Name, Piece: "new", Is: "New"}, edits[1])
	assert.Equal(t, m.Edit{Band: before.Bands[0].Name, Piece: "gone", Was: "By day"}, edits[2])
}
