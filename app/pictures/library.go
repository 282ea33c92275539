package pictures

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/jpeg"
	"slices"
	"strings"
	"unicode/utf8"

	"chrysagon/app/factbook"
	"chrysagon/core/facts"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"golang.org/x/image/draw"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// PictureOf is one picture of the shelf by its ID; false when it is gone.
func (l *Library) PictureOf(ctx context.Context, id string) (facts.Picture, bool, error) {
	var row store.Picture
	if err := l.Store.On(ctx).Omit("bytes").Where("id = ?", id).Limit(1).Find(&row).Error; err != nil {
		return facts.Picture{}, false, fmt.Errorf("read a picture: %w", err)
	}
	return factbook.PictureFacts(row), row.ID != "", nil
}

// PictureUse is one place where a picture is shown.
type PictureUse struct{ Name, Path string }

// Owned is one picture of the store, with where it is shown.
type Owned struct {
	store.Picture
	Uses   []PictureUse
	Former []Former // live pages that show what it was before it was replaced or cut
	Kept   bool     // some edition shows it, so it can be put back
}

// Wrong says what is wrong with it wherever it is shown.
func (p Owned) Wrong() []string {
	var out []string
	for _, j := range factbook.PictureFacts(p.Picture).Judged() {
		if j.Mend {
			out = append(out, j.Says)
		}
	}
	return out
}

// Spare tells whether nothing shows it and nothing could bring it back.
func (p Owned) Spare() bool { return len(p.Uses) == 0 && !p.Kept }

// Unproved tells whether it is shown while nothing says where it comes from, or by
// what right.
func (p Owned) Unproved() bool {
	return len(p.Uses) > 0 && (p.ComesFrom == "" || p.Permission == "")
}

// Cut tells whether a part of it is cut out.
func (p Owned) Cut() bool { return p.CropW < 1000 || p.CropH < 1000 }

// Collection is the store's pictures, the newest first, and what is missing.
type Collection struct {
	Pictures []Owned
	Missing  []PictureUse // places that name a picture which is gone
	Spare    int
	Wordless int // without words for those who cannot see them
	Unproved int // shown, and without a source or a permission
}

// Collection reads it: what pages, goods and groups show, in drafts and in editions.
func (l *Library) Collection(ctx context.Context) (Collection, error) {
	var shelf Collection
	var rows []store.Picture
	if err := l.Store.On(ctx).Omit("bytes").Order("added_at DESC, name").Find(&rows).Error; err != nil {
		return shelf, fmt.Errorf("read the pictures: %w", err)
	}
	uses, err := l.pictureUses(ctx)
	if err != nil {
		return shelf, err
	}
	var kept []string
	if err := l.Store.On(ctx).Raw(`SELECT p.id FROM pictures p WHERE EXISTS (SELECT FROM editions e WHERE strpos(e.content::text, '"' || p.id || '"') > 0)
		OR EXISTS (SELECT FROM edition_pictures s WHERE s.hash = p.hash) OR EXISTS (SELECT FROM templates t WHERE strpos(t.manuscript::text, '"' || p.id || '"') > 0)`).Scan(&kept).Error; err != nil {
		return shelf, fmt.Errorf("read what editions show: %w", err)
	}
	former, err := l.Formers(ctx)
	if err != nil {
		return shelf, err
	}
	for _, r := range rows {
		p := Owned{Picture: r, Uses: uses[r.ID], Kept: slices.Contains(kept, r.ID)}
		for _, f := range former {
			if f.PictureID == r.ID {
				p.Former = append(p.Former, f)
			}
		}
		if delete(uses, r.ID); p.Spare() {
			shelf.Spare++
		}
		if p.Alt == "" {
			shelf.Wordless++
		}
		if p.Unproved() {
			shelf.Unproved++
		}
		shelf.Pictures = append(shelf.Pictures, p)
	}
	for _, places := range uses {
		shelf.Missing = append(shelf.Missing, places...)
	}
	slices.SortFunc(shelf.Missing, func(a, b PictureUse) int { return strings.Compare(a.Name, b.Name) })
	return shelf, nil
}

// pictureUses says by a picture's ID where it is shown.
func (l *Library) pictureUses(ctx context.Context) (map[string][]PictureUse, error) {
	uses := map[string][]PictureUse{}
	var pages []store.Page
	if err := l.Store.On(ctx).Order("name").Find(&pages).Error; err != nil {
		return nil, fmt.Errorf("read the pages: %w", err)
	}
	for _, p := range pages {
		d, err := l.Drafts.DraftOf(p)
		if err != nil {
			return nil, err
		}
		for _, id := range l.Render.Registry.Schema().Names(d.Tree).Pictures {
			uses[id] = append(uses[id], PictureUse{p.Name, "/pages/" + p.ID})
		}
	}
	var goods []struct{ PictureID, Name, Path string }
	err := l.Store.On(ctx).Raw(`SELECT DISTINCT picture_id, name, '/goods/' || id AS path FROM products WHERE picture_id IS NOT NULL
		UNION SELECT pp.picture_id, p.name, '/goods/' || p.id FROM product_pictures pp JOIN products p ON p.id = pp.product_id
		UNION SELECT picture_id, name, '/shelves' FROM goods_groups WHERE picture_id IS NOT NULL ORDER BY name`).Scan(&goods).Error
	for _, g := range goods {
		uses[g.PictureID] = append(uses[g.PictureID], PictureUse{g.Name, g.Path})
	}
	return uses, err
}

// Picturing is what the owner says of a picture: its name, its words for those
// who cannot see it, and what stays in view where it is cut, in percent.
type Picturing struct {
	Name, Alt      string
	ComesFrom      string // who made it, and when
	Permission     string // by what right it is shown
	FocusX, FocusY int
}

// Describe changes what is said of a picture, everywhere at once.
func (l *Library) Describe(ctx context.Context, id string, p Picturing) error {
	if p.Name == "" || utf8.RuneCountInString(p.Name) > 80 || utf8.RuneCountInString(p.Alt) > 500 {
		return refusal.Of(refusal.ErrInvalid, "A picture needs a name of at most 80 characters, and at most 500 for its words.")
	}
	if utf8.RuneCountInString(p.ComesFrom) > 300 || utf8.RuneCountInString(p.Permission) > 300 {
		return refusal.Of(refusal.ErrInvalid, "Source and permission have at most 300 characters each.")
	}
	if p.FocusX < 0 || p.FocusX > 100 || p.FocusY < 0 || p.FocusY > 100 {
		return refusal.Of(refusal.ErrInvalid, "What stays in view lies on the picture: from 0 to 100 percent across and down.")
	}
	done := l.Store.On(ctx).Model(&store.Picture{}).Where("id = ?", id).Updates(map[string]any{"name": p.Name, "alt": p.Alt, "focus_x": p.FocusX, "focus_y": p.FocusY, "comes_from": p.ComesFrom, "permission": p.Permission})
	if done.Error == nil && done.RowsAffected == 0 {
		return refusal.Of(refusal.ErrNotFound, "There is no such picture.")
	}
	l.News.FactsChanged()
	return done.Error
}

// Crop shows only a part of a picture, everywhere at once: from x and y, so
// wide and so high, in thousandths of the file as it came, which is kept.
func (l *Library) Crop(ctx context.Context, id string, x, y, w, h int) error {
	p := Part{x, y, w, h}
	if !p.Sound() {
		return refusal.Of(refusal.ErrInvalid, "That part does not lie on the picture, or is too small to see.")
	}
	err := l.Store.In(ctx, func(tx *gorm.DB) error {
		row, err := store.One[store.Picture](tx.Clauses(clause.Locking{Strength: "UPDATE"}).Where("id = ?", id), "There is no such picture.")
		if err != nil {
			return err
		}
		if row.Mime == "image/svg+xml" {
			return refusal.Of(refusal.ErrInvalid, "“%s” is drawn and fits any width; it is not cut.", row.Name)
		}
		full, err := opened(row.Name, row.Bytes)
		if err != nil {
			return err
		}
		if p.hash(row.Source) == row.Hash {
			return nil // it is cut like that already
		}
		if err := keepShown(tx, row); err != nil {
			return err
		}
		row.CropX, row.CropY, row.CropW, row.CropH, row.Hash = x, y, w, h, p.hash(row.Source)
		if p != Whole {
			full = cut(full, p)
		}
		sizes, err := measure(full, &row)
		if err != nil {
			return err
		}
		return putContent(tx, row, sizes)
	})
	if store.IsDuplicate(err) {
		return refusal.Of(refusal.ErrConflict, "That part of it is on the shelf already, as a picture of its own.")
	}
	l.News.FactsChanged()
	return err
}

// cut copies a part of a picture.
func cut(full image.Image, p Part) image.Image {
	b := full.Bounds()
	from := image.Pt(b.Min.X+b.Dx()*p[0]/1000, b.Min.Y+b.Dy()*p[1]/1000)
	out := image.NewNRGBA(image.Rect(0, 0, max(1, b.Dx()*p[2]/1000), max(1, b.Dy()*p[3]/1000)))
	draw.Draw(out, out.Bounds(), full, from, draw.Src)
	return out
}

// putContent stores what a picture shows under its ID.
func putContent(tx *gorm.DB, row store.Picture, sizes []store.PictureSize) error {
	err := tx.Model(&store.Picture{}).Where("id = ?", row.ID).Updates(map[string]any{
		"name": row.Name, "alt": row.Alt, "mime": row.Mime, "width": row.Width, "height": row.Height, "hash": row.Hash, "bytes": row.Bytes, "added_at": row.AddedAt, "dark": row.Dark, "light": row.Light, "patches": row.Patches, "source": row.Source,
		"crop_x": row.CropX, "crop_y": row.CropY, "crop_w": row.CropW, "crop_h": row.CropH, "focus_x": row.FocusX, "focus_y": row.FocusY,
	}).Error
	if err == nil {
		err = tx.Where("picture_id = ?", row.ID).Delete(&store.PictureSize{}).Error
	}
	if err != nil || len(sizes) == 0 {
		return err
	}
	for i := range sizes {
		sizes[i].PictureID = row.ID
	}
	return tx.Create(&sizes).Error
}

// ReplacePicture puts another picture in the place of one: in drafts and on goods
// and groups at once, on live pages once they are published, since an edition
// keeps what it showed. The two change places, so that doing it again brings it
// back.
func (l *Library) ReplacePicture(ctx context.Context, id, otherID string) error {
	if id == otherID {
		return refusal.Of(refusal.ErrInvalid, "That is the same picture.")
	}
	err := l.Store.In(ctx, func(tx *gorm.DB) error {
		var pair []store.Picture
		if err := tx.Clauses(clause.Locking{Strength: "UPDATE"}).Where("id IN ?", []string{id, otherID}).Order("id").Find(&pair).Error; err != nil {
			return err
		}
		if len(pair) != 2 {
			return refusal.Of(refusal.ErrNotFound, "One of the two pictures is gone. Load the page again.")
		}
		var sizes [2][]store.PictureSize
		for i := range pair {
			if err := tx.Where("picture_id = ?", pair[i].ID).Find(&sizes[i]).Error; err != nil {
				return err
			}
		}
		// No two pictures have one address, not even for a moment.
		if err := tx.Exec("UPDATE pictures SET hash = 'of ' || id WHERE id = ?", pair[1].ID).Error; err != nil {
			return err
		}
		pair[0].ID, pair[1].ID = pair[1].ID, pair[0].ID
		if err := putContent(tx, pair[1], sizes[1]); err != nil {
			return err
		}
		return putContent(tx, pair[0], sizes[0])
	})
	l.News.FactsChanged()
	return err
}

// DropPicture takes a picture off the shelf that nothing shows.
func (l *Library) DropPicture(ctx context.Context, id string) error {
	shelf, err := l.Collection(ctx)
	if err != nil {
		return err
	}
	for _, p := range shelf.Pictures {
		switch {
		case p.ID != id:
		case !p.Spare():
			return refusal.Of(refusal.ErrInvalid, "“%s” is shown somewhere, or in an edition that could be put back. Replace it there first.", p.Name)
		default:
			return l.Store.On(ctx).Where("id = ?", id).Delete(&store.Picture{}).Error
		}
	}
	return refusal.Of(refusal.ErrNotFound, "That picture is gone already.")
}

// WholePicture is a picture uncut, small enough to choose a part of it.
func (l *Library) WholePicture(ctx context.Context, id string) (mime string, content []byte, err error) {
	row, err := store.One[store.Picture](l.Store.On(ctx).Where("id = ?", id), "There is no such picture.")
	if err != nil || row.Mime == "image/svg+xml" {
		return row.Mime, row.Bytes, err
	}
	full, err := opened(row.Name, row.Bytes)
	if err != nil {
		return "", nil, err
	}
	b := full.Bounds()
	w := min(b.Dx(), 800)
	small := image.NewRGBA(image.Rect(0, 0, w, max(1, b.Dy()*w/b.Dx())))
	draw.ApproxBiLinear.Scale(small, small.Bounds(), full, b, draw.Src, nil)
	var out bytes.Buffer
	if err := jpeg.Encode(&out, small, nil); err != nil {
		return "", nil, fmt.Errorf("encode a picture: %w", err)
	}
	return "image/jpeg", out.Bytes(), nil
}
