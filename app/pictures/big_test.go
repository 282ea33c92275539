package pictures_test

import (
	"bytes"
	"context"
	"image"
	"image/png"
	"math/rand/v2"
	"testing"

	"chrysagon/app/pictures"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

// A picture of nearly the largest size that is taken, of noise, which no format
// makes small: it is taken, and what a phone is sent of it is a fraction.
func TestAPictureOfNearlyTwentyMegabytesIsTaken(t *testing.T) {
	if testing.Short() {
		t.Skip("takes seconds")
	}
	shop := testkit.Open(t)
	noise := rand.New(rand.NewPCG(1, 2))
	i := image.NewNRGBA(image.Rect(0, 0, 2500, 2500))
	for at := range i.Pix {
		i.Pix[at] = byte(noise.Uint32())
		if at%4 == 3 {
			i.Pix[at] = 255
		}
	}
	var raw bytes.Buffer
	require.NoError(t, png.Encode(&raw, i))
	require.Greater(t, raw.Len(), pictures.MaxPictureBytes*85/100)
	require.Less(t, raw.Len(), pictures.MaxPictureBytes)
	pic, err := shop.App.Pictures.Upload(ctx, "noise.png", raw.Bytes())
	require.NoError(t, err)
	phone, err := shop.App.Pictures.PictureAt(ctx, pic.Hash, 640, "image/webp")
	require.NoError(t, err)
	assert.Less(t, len(phone.Bytes), raw.Len()/40)
	assert.Equal(t, int64(0), shop.Number("SELECT count(*) FROM picture_sizes WHERE picture_id = $1 AND width > 1920", pic.ID))
}
