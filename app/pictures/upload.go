package pictures

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"image"
	"image/jpeg"
	"image/png"
	"path"
	"slices"
	"strings"

	"chrysagon/app/factbook"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"github.com/gen2brain/webp"
	"golang.org/x/image/draw"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Limits of a picture that is uploaded.
const (
	MaxPictureBytes  = 20 << 20
	maxPicturePixels = 50_000_000
)

// Upload keeps a picture: the original as it came, and the sizes that pages
// need, encoded anew, so that nothing of the file but its pixels is ever sent.
// It is judged by its content, not by its name.
func (l *Library) Upload(ctx context.Context, name string, raw []byte) (store.Picture, error) {
	row, _, err := l.KeepPicture(ctx, name, raw, Whole)
	return row, err
}

// keepOnce keeps a row under its content's hash, or gives the one that is kept
// already.
func keepOnce[T any](db *gorm.DB, hash string, row T) (T, error) {
	var known T
	found := db.Omit("bytes").Where("hash = ?", hash).Limit(1).Find(&known)
	if found.Error != nil || found.RowsAffected > 0 {
		return known, found.Error
	}
	return row, db.Create(&row).Error
}

// Part is what is cut out of a picture: x, y, width and height in thousandths.
type Part [4]int

// Whole is all of a picture.
var Whole = Part{0, 0, 1000, 1000}

// Sound tells whether it lies on the picture and can be seen.
func (p Part) Sound() bool {
	return p[0] >= 0 && p[1] >= 0 && p[2] >= 10 && p[3] >= 10 && p[0]+p[2] <= 1000 && p[1]+p[3] <= 1000
}

// hash names a part of the file of that hash.
func (p Part) hash(source string) string {
	if p == Whole {
		return source
	}
	return hashOf([]byte(source), fmt.Appendf(nil, "%d %d %d %d", p[0], p[1], p[2], p[3]))
}

// KeepPicture keeps a part of a picture, once; fresh tells whether it was not
// on the shelf before.
func (l *Library) KeepPicture(ctx context.Context, name string, raw []byte, p Part) (row store.Picture, fresh bool, err error) {
	source := hashOf(raw)
	if err := l.Store.On(ctx).Omit("bytes").Where("hash = ?", p.hash(source)).Find(&row).Error; err != nil || row.ID != "" {
		return row, false, err // the same picture, uploaded before
	}
	full, err := opened(name, raw)
	if err != nil {
		return store.Picture{}, false, err
	}
	row = store.Picture{ID: store.NewID(), Name: PictureName(name), Source: source, Hash: p.hash(source), Bytes: raw, AddedAt: l.Store.Now(), CropX: p[0], CropY: p[1], CropW: p[2], CropH: p[3], FocusX: 50, FocusY: 50}
	if p != Whole {
		full = cut(full, p)
	}
	sizes, err := measure(full, &row)
	if err != nil {
		return row, false, err
	}
	err = l.Store.In(ctx, func(tx *gorm.DB) error {
		if err := tx.Create(&row).Error; err != nil {
			return err
		}
		return tx.Create(&sizes).Error
	})
	return row, true, err
}

// opened decodes a file that was handed in as a picture, or says why it is none.
func opened(name string, raw []byte) (image.Image, error) {
	name = PictureName(name)
	if len(raw) > MaxPictureBytes {
		return nil, refusal.Of(refusal.ErrInvalid, "“%s” is %d MB; at most %d MB fit. Make it smaller.", name, len(raw)>>20, MaxPictureBytes>>20)
	}
	config, format, err := image.DecodeConfig(bytes.NewReader(raw))
	if err != nil {
		if bytes.Contains(bytes.ToLower(raw[:min(len(raw), 1000)]), []byte("<svg")) {
			return nil, refusal.Of(refusal.ErrInvalid, "“%s” is a drawing (SVG), which can hold scripts and is not taken. Save it as PNG, at twice the width it is shown at.", name)
		}
		return nil, refusal.Of(refusal.ErrInvalid, "“%s” is not a picture that can be read. JPEG, PNG, GIF and WebP can.", name)
	}
	if config.Width < 1 || config.Height < 1 || config.Width > 20_000 || config.Height > 20_000 || config.Width*config.Height > maxPicturePixels {
		return nil, refusal.Of(refusal.ErrInvalid, "“%s” has %d by %d pixels, which is too many. Make it smaller.", name, config.Width, config.Height)
	}
	full, _, err := image.Decode(bytes.NewReader(raw))
	if err != nil {
		return nil, refusal.Of(refusal.ErrInvalid, "“%s” is damaged: it begins like a %s and does not go on like one.", name, strings.ToUpper(format))
	}
	return upright(full, orientation(raw)), nil
}

func hashOf(parts ...[]byte) string {
	sum := sha256.Sum256(slices.Concat(parts...))
	return hex.EncodeToString(sum[:12])
}

// measure notes in a row what its pixels are, and makes the sizes of it.
func measure(full image.Image, row *store.Picture) ([]store.PictureSize, error) {
	row.Mime, row.Width, row.Height = "image/jpeg", full.Bounds().Dx(), full.Bounds().Dy()
	if translucent(full) {
		row.Mime = "image/png"
	}
	notePixels(row, full)
	return resize(full, *row)
}

// baseName is a file's name without its folders.
func baseName(name string) string {
	name = strings.TrimSpace(path.Base(strings.ReplaceAll(strings.ToValidUTF8(name, ""), `\`, "/")))
	if name == "" || name == "." || name == "/" {
		return "File"
	}
	return name
}

// PictureName is what a picture is called before its owner says otherwise: its file's name.
func PictureName(name string) string {
	name = strings.TrimSpace(strings.TrimSuffix(baseName(name), path.Ext(name)))
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

// resize makes the sizes that are smaller than the picture, and one as wide as
// it is, up to the largest; each in the format that every browser reads, and in
// WebP where that is smaller.
func resize(full image.Image, row store.Picture) ([]store.PictureSize, error) {
	var out []store.PictureSize
	for _, w := range factbook.FittingWidths(row.Width) {
		h := max(1, row.Height*w/row.Width)
		small := image.NewRGBA(image.Rect(0, 0, w, h))
		draw.CatmullRom.Scale(small, small.Bounds(), full, full.Bounds(), draw.Src, nil)
		var plain, modern bytes.Buffer
		var err error
		if row.Mime == "image/png" {
			err = png.Encode(&plain, small)
		} else {
			err = jpeg.Encode(&plain, small, &jpeg.Options{Quality: 84})
		}
		if err == nil {
			err = webp.Encode(&modern, small, webp.Options{Quality: 80, Method: 2})
		}
		if err != nil {
			return nil, fmt.Errorf("encode a picture: %w", err)
		}
		out = append(out, store.PictureSize{PictureID: row.ID, Width: w, Mime: row.Mime, Bytes: plain.Bytes()})
		if modern.Len() < plain.Len() {
			out = append(out, store.PictureSize{PictureID: row.ID, Width: w, Mime: modernMime, Bytes: modern.Bytes()})
		}
	}
	return out, nil
}

const modernMime = "image/webp"

// PictureAt reads a picture at a width, or the size nearest above it, in WebP
// where the browser accepts that. Drawn pictures have no sizes; they are sent
// as they are.
func (l *Library) PictureAt(ctx context.Context, hash string, width int, accept string) (store.Picture, error) {
	pic, err := store.One[store.Picture](l.Store.On(ctx).Omit("bytes").Where("hash = ?", hash), "There is no such picture.")
	if err != nil {
		return pic, err
	}
	if pic.Mime == "image/svg+xml" {
		return pic, l.Store.On(ctx).Raw("SELECT bytes FROM pictures WHERE id = ?", pic.ID).Row().Scan(&pic.Bytes)
	}
	if width <= 0 {
		width = 1280
	}
	var size store.PictureSize
	err = l.Store.On(ctx).Raw("SELECT * FROM picture_sizes WHERE picture_id = ? AND (mime <> ? OR ?) ORDER BY (width < ?), abs(width - ?), mime <> ? LIMIT 1",
		pic.ID, modernMime, strings.Contains(accept, modernMime), width, width, modernMime).Scan(&size).Error
	if err == nil && size.Width > 0 {
		pic.Bytes, pic.Mime = size.Bytes, size.Mime
	}
	return pic, err
}

// drawnWidth is the width at which a drawn picture is made pixels for those who
// do not draw SVG.
const drawnWidth = 1200

// PictureAsPixels reads a picture for those who do not draw SVG: of a drawn one,
// the pixels it comes to, which are made once and kept.
func (l *Library) PictureAsPixels(ctx context.Context, hash string, width int, accept string) (store.Picture, error) {
	pic, err := l.PictureAt(ctx, hash, width, accept)
	if err != nil || pic.Mime != "image/svg+xml" {
		return pic, err
	}
	var size store.PictureSize
	if err := l.Store.On(ctx).Where("picture_id = ? AND mime = 'image/png'", pic.ID).Limit(1).Find(&size).Error; err != nil {
		return pic, err
	}
	if size.Width == 0 {
		full, err := drawn(pic.Bytes, drawnWidth)
		if err != nil {
			return pic, err
		}
		var out bytes.Buffer
		if err := png.Encode(&out, full); err != nil {
			return pic, fmt.Errorf("encode “%s”: %w", pic.Name, err)
		}
		size = store.PictureSize{PictureID: pic.ID, Width: drawnWidth, Mime: "image/png", Bytes: out.Bytes()}
		if err := l.Store.On(ctx).Clauses(clause.OnConflict{DoNothing: true}).Create(&size).Error; err != nil {
			return pic, err
		}
	}
	pic.Mime, pic.Bytes = size.Mime, size.Bytes
	return pic, nil
}

// ShowOn puts a picture among a product's, and before its name where it has none.
func (l *Library) ShowOn(ctx context.Context, productID, pictureID string) error {
	err := l.Store.In(ctx, func(tx *gorm.DB) error {
		if _, err := store.One[store.Product](tx.Where("id = ?", productID), "There is no such product."); err != nil {
			return err
		}
		if err := tx.Exec(`INSERT INTO product_pictures (product_id, picture_id, position)
			SELECT ?, ?, coalesce(max(position), 0) + 1 FROM product_pictures WHERE product_id = ? ON CONFLICT DO NOTHING`, productID, pictureID, productID).Error; err != nil {
			return err
		}
		return tx.Exec("UPDATE products SET picture_id = ? WHERE id = ? AND picture_id IS NULL", pictureID, productID).Error
	})
	if err == nil {
		l.News.FactsChanged()
	}
	return err
}

// LeadPicture makes a picture the one that stands for a product.
func (l *Library) LeadPicture(ctx context.Context, productID, pictureID string) error {
	err := l.Store.On(ctx).Exec("UPDATE products SET picture_id = ? WHERE id = ? AND EXISTS (SELECT FROM pictures WHERE id = ?)", pictureID, productID, pictureID).Error
	l.News.FactsChanged()
	return err
}
