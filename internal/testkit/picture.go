package testkit

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"testing"

	"github.com/stretchr/testify/require"
)

func Picture(t testing.TB, w, h int, as string) []byte {
	t.Helper()
	img := image.NewNRGBA(image.Rect(0, 0, w, h))
	for x := range w {
		img.Set(x, h/2, color.NRGBA{R: 200, A: 120})
	}
	var b bytes.Buffer
	if as == "png" {
		require.NoError(t, png.Encode(&b, img))
	} else {
		require.NoError(t, jpeg.Encode(&b, img, nil))
	}
	return b.Bytes()
}
