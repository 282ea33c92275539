package app

import (
	"bytes"
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"image"
	_ "image/gif" // decoders for what is uploaded
	"image/jpeg"
	"image/png"
	"math"
	"path"
	"slices"
	"strings"

	"chrysagon/core/style"
	"chrysagon/store"

	"golang.org/x/image/draw"
	_ "golang.org/x/image/webp" // likewise
	"gorm.io/gorm"
)

// Limits of a picture that is uploaded.
const (
	MaxPictureBytes  = 20 << 20
	maxPicturePixels = 50_000_000
)

// pictureWidths are those that pages need.
var pictureWidths = []int{320, 640, 960, 1280, 1920}

// Upload keeps a picture: the original as it came, and the sizes that pages
// need, encoded anew, so that nothing of the file but its pixels is ever sent.
// It is judged by its content, not by its name.
func (a *App) Upload(ctx context.Context, name string, raw []byte) (store.Picture, error) {
	name = pictureName(name)
	if len(raw) > MaxPictureBytes {
		return store.Picture{}, refuse(ErrInvalid, "“%s” is %d MB; at most %d MB fit. Make it smaller.", name, len(raw)>>20, MaxPictureBytes>>20)
	}
	config, format, err := image.DecodeConfig(bytes.NewReader(raw))
	if err != nil {
		return store.Picture{}, refuse(ErrInvalid, "“%s” is not a picture that can be read. JPEG, PNG, GIF and WebP can.", name)
	}
	if config.Width < 1 || config.Height < 1 || config.Width > 20_000 || config.Height > 20_000 || config.Width*config.Height > maxPicturePixels {
		return store.Picture{}, refuse(ErrInvalid, "“%s” has %d by %d pixels, which is too many. Make it smaller.", name, config.Width, config.Height)
	}
	sum := sha256.Sum256(raw)
	hash := hex.EncodeToString(sum[:12])
	var known store.Picture
	if err := a.db(ctx).Omit("bytes").Where("hash = ?", hash).Find(&known).Error; err != nil || known.ID != "" {
		return known, err // the same picture, uploaded before
	}
	full, _, err := image.Decode(bytes.NewReader(raw))
	if err != nil {
		return store.Picture{}, refuse(ErrInvalid, "“%s” is damaged: it begins like a %s and does not go on like one.", name, strings.ToUpper(format))
	}
	row := store.Picture{ID: NewID(), Name: name, Mime: "image/jpeg", Width: config.Width, Height: config.Height, Hash: hash, Bytes: raw, AddedAt: a.Now()}
	if translucent(full) {
		row.Mime = "image/png"
	}
	dark, light := extremes(full)
	row.Dark, row.Light = dark.String(), light.String()
	sizes, err := resize(full, row)
	if err != nil {
		return row, err
	}
	err = a.Store.In(ctx, func(tx *gorm.DB) error {
		if err := tx.Create(&row).Error; err != nil {
			return err
		}
		return tx.Create(&sizes).Error
	})
	return row, err
}

func pictureName(name string) string {
	name = strings.TrimSpace(strings.TrimSuffix(path.Base(strings.ReplaceAll(name, `\`, "/")), path.Ext(name)))
	if runes := []rune(name); len(runes) > 80 {
		name = string(runes[:80])
	}
	if name == "" || name == "." {
		return "Picture"
	}
	return name
}

func translucent(i image.Image) bool {
	if o, ok := i.(interface{ Opaque() bool }); ok {
		return !o.Opaque()
	}
	return false
}

// extremes are the colours than which 5 in 100 of a picture's pixels are
// darker, and lighter; judged from some ten thousand of them. What shows through
// is taken for white.
func extremes(full image.Image) (dark, light style.Colour) {
	b := full.Bounds()
	step := max(1, int(math.Sqrt(float64(b.Dx()*b.Dy())/10_000)))
	var seen []style.Colour
	for y := b.Min.Y; y < b.Max.Y; y += step {
		for x := b.Min.X; x < b.Max.X; x += step {
			r, g, bl, alpha := full.At(x, y).RGBA()
			white := 0xffff - alpha
			seen = append(seen, style.Colour{R: uint8((r + white) >> 8), G: uint8((g + white) >> 8), B: uint8((bl + white) >> 8)})
		}
	}
	slices.SortFunc(seen, func(a, b style.Colour) int { return cmp.Compare(a.Luminance(), b.Luminance()) })
	return seen[len(seen)*5/100], seen[len(seen)*95/100]
}

// fittingWidths are the widths in which a picture of some width is kept.
func fittingWidths(width int) []int {
	var out []int
	for _, w := range pictureWidths {
		if w < width {
			out = append(out, w)
		}
	}
	if width <= pictureWidths[len(pictureWidths)-1] {
		out = append(out, width)
	}
	return out
}

// resize makes the sizes that are smaller than the picture, and one as wide as
// it is, up to the largest.
func resize(full image.Image, row store.Picture) ([]store.PictureSize, error) {
	var out []store.PictureSize
	for _, w := range fittingWidths(row.Width) {
		h := max(1, row.Height*w/row.Width)
		small := image.NewRGBA(image.Rect(0, 0, w, h))
		draw.CatmullRom.Scale(small, small.Bounds(), full, full.Bounds(), draw.Src, nil)
		var b bytes.Buffer
		var err error
		if row.Mime == "image/png" {
			err = png.Encode(&b, small)
		} else {
			err = jpeg.Encode(&b, small, &jpeg.Options{Quality: 84})
		}
		if err != nil {
			return nil, fmt.Errorf("encode a picture: %w", err)
		}
		out = append(out, store.PictureSize{PictureID: row.ID, Width: w, Mime: row.Mime, Bytes: b.Bytes()})
	}
	return out, nil
}

// PictureAt reads a picture at a width, or the size nearest above it. Drawn
// pictures have no sizes; they are sent as they are.
func (a *App) PictureAt(ctx context.Context, hash string, width int) (store.Picture, error) {
	pic, err := one[store.Picture](a.db(ctx).Where("hash = ?", hash), "There is no such picture.")
	if err != nil || pic.Mime == "image/svg+xml" {
		return pic, err
	}
	if width <= 0 {
		width = 1280
	}
	var size store.PictureSize
	err = a.db(ctx).Raw("SELECT * FROM picture_sizes WHERE picture_id = ? ORDER BY (width < ?), abs(width - ?) LIMIT 1", pic.ID, width, width).Scan(&size).Error
	if err == nil && size.Width > 0 {
		pic.Bytes, pic.Mime = size.Bytes, size.Mime
	}
	return pic, err
}

// ShowOn puts a picture among a product's, and before its name where it has none.
func (a *App) ShowOn(ctx context.Context, productID, pictureID string) error {
	err := a.Store.In(ctx, func(tx *gorm.DB) error {
		if _, err := one[store.Product](tx.Where("id = ?", productID), "There is no such product."); err != nil {
			return err
		}
		if err := tx.Exec(`INSERT INTO product_pictures (product_id, picture_id, position)
			SELECT ?, ?, coalesce(max(position), 0) + 1 FROM product_pictures WHERE product_id = ? ON CONFLICT DO NOTHING`, productID, pictureID, productID).Error; err != nil {
			return err
		}
		return tx.Exec("UPDATE products SET picture_id = ? WHERE id = ? AND picture_id IS NULL", pictureID, productID).Error
	})
	if err == nil {
		a.tell(FactsChanged)
	}
	return err
}

// LeadPicture makes a picture the one that stands for a product.
func (a *App) LeadPicture(ctx context.Context, productID, pictureID string) error {
	err := a.db(ctx).Exec("UPDATE products SET picture_id = ? WHERE id = ? AND EXISTS (SELECT FROM pictures WHERE id = ?)", pictureID, productID, pictureID).Error
	a.tell(FactsChanged)
	return err
}
