package pictures_test

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"hash/crc32"
	"image"
	"testing"

	"chrysagon/app/pictures"
	"chrysagon/internal/testkit"
	"chrysagon/store"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Pictures are judged by content; what is sent is encoded anew in the widths
// that pages need, and the original is kept.
func TestPicturesAreKeptAndResized(t *testing.T) {
	shop := testkit.Open(t)
	raw := testkit.Picture(t, 1000, 500, "jpeg")
	pic, err := shop.App.Pictures.Upload(ctx, `C:\fakepath\Dunes at dusk.png`, append(raw, "<script>alert(1)</script>"...))
	require.NoError(t, err)
	assert.Equal(t, "Dunes at dusk", pic.Name)
	assert.Equal(t, "image/jpeg", pic.Mime, "whatever its name says")
	assert.Equal(t, int64(4), shop.Number(`SELECT count(*) FROM picture_sizes WHERE picture_id = $1 AND mime = 'image/jpeg' AND width IN (320, 640, 960, 1000)`, pic.ID))
	for want, got := range map[int]int{200: 320, 640: 640, 700: 960, 5000: 1000} {
		sized, err := shop.App.Pictures.PictureAt(ctx, pic.Hash, want, "image/*")
		require.NoError(t, err)
		config, _, err := image.DecodeConfig(bytes.NewReader(sized.Bytes))
		require.NoError(t, err)
		assert.Equal(t, []int{got, got / 2}, []int{config.Width, config.Height})
		assert.NotContains(t, string(sized.Bytes), "<script>")
	}
	assert.Equal(t, int64(len(raw)+25), shop.Number(`SELECT length(bytes) FROM pictures WHERE id = $1`, pic.ID), "the original as it came")
	again, err := shop.App.Pictures.Upload(ctx, "other name.jpg", append(raw, "<script>alert(1)</script>"...))
	require.NoError(t, err)
	assert.Equal(t, pic.ID, again.ID, "the same picture is kept once")
	clear, err := shop.App.Pictures.Upload(ctx, "x", testkit.Picture(t, 40, 40, "png"))
	require.NoError(t, err)
	assert.Equal(t, "image/png", clear.Mime, "what one can see through stays so")
	huge := testkit.Picture(t, 8, 8, "png")
	copy(huge[16:], []byte{0, 0, 0x4e, 0x20, 0, 0, 0x4e, 0x20}) // says it has 20,000 by 20,000 pixels
	binary.BigEndian.PutUint32(huge[29:], crc32.ChecksumIEEE(huge[12:29]))
	for why, bad := range map[string][]byte{
		"is a drawing":          []byte("<svg xmlns='http://www.w3.org/2000/svg'><script/></svg>"),
		"is not a picture that": []byte("GIF89 or not"), "is damaged": raw[:len(raw)/3], "too many": huge, "at most 20 MB": make([]byte, pictures.MaxPictureBytes+1),
	} {
		_, err := shop.App.Pictures.Upload(ctx, "bad.jpg", bad)
		require.ErrorContains(t, err, why)
	}
}

func TestAPictureIsCutReplacedAndLookedAfter(t *testing.T) {
	shop := testkit.Open(t)
	raw := testkit.Picture(t, 1000, 500, "jpeg")
	pic, err := shop.App.Pictures.Upload(ctx, "Dunes.jpg", raw)
	require.NoError(t, err)
	modern, err := shop.App.Pictures.PictureAt(ctx, pic.Hash, 640, "image/avif,image/webp,*/*")
	require.NoError(t, err)
	assert.Equal(t, "image/webp", modern.Mime, "in a modern format, to those that read it")
	config, format, err := image.DecodeConfig(bytes.NewReader(modern.Bytes))
	require.NoError(t, err)
	assert.Equal(t, "webp 640", fmt.Sprint(format, " ", config.Width))

	require.NoError(t, shop.App.Pictures.Crop(ctx, pic.ID, 250, 0, 500, 1000))
	var row store.Picture
	read := func(id string) store.Picture {
		row = store.Picture{}
		require.NoError(t, shop.App.Store.DB.Where("id = ?", id).Find(&row).Error)
		return row
	}
	cut := read(pic.ID)
	assert.Equal(t, []int{500, 500}, []int{cut.Width, cut.Height})
	assert.NotEqual(t, pic.Hash, cut.Hash, "another address, since addresses are kept for ever")
	assert.Len(t, cut.Bytes, len(raw), "the file stays as it came")
	require.NoError(t, shop.App.Pictures.Crop(ctx, pic.ID, 0, 0, 1000, 1000))
	assert.Equal(t, pic.Hash, read(pic.ID).Hash, "the whole again is what it was")
	for _, bad := range [][4]int{{-1, 0, 500, 500}, {600, 0, 500, 500}, {0, 0, 5, 500}} {
		require.ErrorContains(t, shop.App.Pictures.Crop(ctx, pic.ID, bad[0], bad[1], bad[2], bad[3]), "does not lie on the picture")
	}
	require.ErrorContains(t, shop.App.Pictures.Crop(ctx, "ember", 0, 0, 500, 500), "is drawn")

	require.ErrorContains(t, shop.App.Pictures.Describe(ctx, pic.ID, pictures.Picturing{Name: "Dunes", FocusX: 120}), "from 0 to 100")
	require.NoError(t, shop.App.Pictures.Describe(ctx, pic.ID, pictures.Picturing{Name: "Dunes", Alt: "Pale dunes", FocusX: 0, FocusY: 70}))
	assert.Equal(t, "Pale dunes 0 70", fmt.Sprint(read(pic.ID).Alt, " ", row.FocusX, " ", row.FocusY))

	ember := read("ember")
	require.NoError(t, shop.App.Pictures.ReplacePicture(ctx, "ember", pic.ID))
	assert.Equal(t, "Dunes", read("ember").Name, "pages name the same ID and show the other picture")
	assert.NotEqual(t, ember.Patches, row.Patches, "and words on it are judged by that one")
	assert.Equal(t, int64(4), shop.Number("SELECT count(*) FROM picture_sizes WHERE picture_id = 'ember' AND mime = 'image/jpeg'"))
	require.NoError(t, shop.App.Pictures.ReplacePicture(ctx, "ember", pic.ID))
	assert.Equal(t, ember, read("ember"), "doing it again brings it back whole")

	shelf, err := shop.App.Pictures.Collection(ctx)
	require.NoError(t, err)
	spare := map[string]bool{}
	for _, p := range shelf.Pictures {
		spare[p.ID] = p.Spare()
	}
	for id, nobodySeesIt := range map[string]bool{"ember": false, "ember-night": true, "bag": false, "gull": false, "night-dunes": true, pic.ID: true} {
		assert.Equal(t, nobodySeesIt, spare[id], id)
	}
	require.ErrorContains(t, shop.App.Pictures.DropPicture(ctx, "ember"), "is shown somewhere")
	require.NoError(t, shop.App.Pictures.DropPicture(ctx, pic.ID))
	shop.Exec("UPDATE products SET picture_id = NULL; DELETE FROM product_pictures; UPDATE goods_groups SET picture_id = NULL; DELETE FROM pictures WHERE id = 'ember'")
	shelf, err = shop.App.Pictures.Collection(ctx)
	require.NoError(t, err)
	assert.NotEmpty(t, shelf.Missing, "a page names a picture that is gone")
}
