package pictures_test

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// held makes a JPEG of 64 by 32 whose upper left corner is red, as a camera
// writes it that was held in one of the eight ways (Exif 2.32, 4.6.4).
func held(t *testing.T, orientation byte) []byte {
	t.Helper()
	i := image.NewRGBA(image.Rect(0, 0, 64, 32))
	for y := range 32 {
		for x := range 64 {
			i.Set(x, y, color.RGBA{B: 200, A: 255})
			if x < 16 && y < 16 {
				i.Set(x, y, color.RGBA{R: 255, A: 255})
			}
		}
	}
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, i, &jpeg.Options{Quality: 95}))
	tiff := []byte{'I', 'I', 42, 0, 8, 0, 0, 0, 1, 0, 0x12, 0x01, 3, 0, 1, 0, 0, 0, orientation, 0, 0, 0, 0, 0, 0, 0}
	exif := append([]byte("Exif\x00\x00"), tiff...)
	segment := append([]byte{0xff, 0xe1, 0, byte(len(exif) + 2)}, exif...)
	raw := out.Bytes()
	return append(append(bytes.Clone(raw[:2]), segment...), raw[2:]...)
}

func TestPicturesOfCamerasStandUpright(t *testing.T) {
	shop := testkit.Open(t)
	// Where the red corner comes to stand, by the pictures of the standard.
	for orientation, corner := range map[byte]string{1: "upper left", 2: "upper right", 3: "lower right", 4: "lower left", 5: "upper left", 6: "upper right", 7: "lower right", 8: "lower left", 9: "upper left"} {
		pic, err := shop.App.Pictures.Upload(ctx, "held.jpg", held(t, orientation))
		require.NoError(t, err)
		want := []int{64, 32}
		if orientation >= 5 && orientation <= 8 {
			want = []int{32, 64}
		}
		assert.Equal(t, want, []int{pic.Width, pic.Height}, orientation)
		shown, err := shop.App.Pictures.PictureAt(ctx, pic.Hash, 64, "")
		require.NoError(t, err)
		got, _, err := image.Decode(bytes.NewReader(shown.Bytes))
		require.NoError(t, err)
		red := ""
		for name, at := range map[string]image.Point{"upper left": {5, 5}, "upper right": {pic.Width - 6, 5}, "lower left": {5, pic.Height - 6}, "lower right": {pic.Width - 6, pic.Height - 6}} {
			if r, _, b, _ := got.At(at.X, at.Y).RGBA(); r > b {
				red += name
			}
		}
		assert.Equal(t, corner, red, orientation)
	}
}
