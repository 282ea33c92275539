package pictures_test

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"os"
	"testing"

	"chrysagon/app/pictures"
	"chrysagon/core/style"
	"chrysagon/internal/testkit"
	"chrysagon/store"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A drawn picture is judged by what it shows, not by the colours it names: the
// dunes' sky is pale all over, though dark lines are drawn on it.
func TestADrawnPictureIsJudgedByWhatItShows(t *testing.T) {
	raw, err := os.ReadFile("../../demo/pictures/dunes.svg")
	require.NoError(t, err)
	row := store.Picture{Bytes: raw}
	require.NoError(t, pictures.NoteDrawn(&row))
	patches := style.ReadPatches(row.Patches)
	require.NotNil(t, patches)
	sky, err := style.ParseColour("#dfeaf0")
	require.NoError(t, err)
	assert.Equal(t, sky, patches[0].Dark)
	sand := patches[len(patches)-1]
	assert.Equal(t, "#d6b672", sand.Light.String())
	require.Error(t, pictures.NoteDrawn(&store.Picture{Bytes: []byte("<svg><unheard/></svg>")}))
}

// Half of a picture is black, half white; one of a single pixel is no trouble.
func TestAnUploadIsJudgedPatchByPatch(t *testing.T) {
	shop := testkit.Open(t)
	half := image.NewRGBA(image.Rect(0, 0, 200, 100))
	for y := range 100 {
		for x := range 200 {
			half.Set(x, y, map[bool]color.Color{true: color.Black, false: color.White}[x < 100])
		}
	}
	for name, img := range map[string]image.Image{"half": half, "dot": image.NewRGBA(image.Rect(0, 0, 1, 1))} {
		var raw bytes.Buffer
		require.NoError(t, png.Encode(&raw, img))
		row, err := shop.App.Pictures.Upload(t.Context(), name+".png", raw.Bytes())
		require.NoError(t, err)
		patches := style.ReadPatches(row.Patches)
		require.Len(t, patches, style.PatchColumns*style.PatchRows)
		last := patches[style.PatchColumns-1]
		assert.Equal(t, "#ffffff", last.Dark.String(), "what shows through is taken for white")
		if name == "half" {
			assert.Equal(t, "#000000", patches[0].Light.String())
		}
	}
}
