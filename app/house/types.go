package house

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"strings"

	"chrysagon/app/house/typeface"
	"chrysagon/core/refusal"
	"chrysagon/core/style"
	"chrysagon/store"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// MaxTypeBytes is how large a font file may be.
const MaxTypeBytes = 2 << 20

// AddType takes a font file to the house; licence is what its owner notes, else what the file
// says of itself. Pages are set in it when the house, or a look, asks for it.
func (k *Keeper) AddType(ctx context.Context, name string, raw []byte, licence string) (style.Type, error) {
	if len(raw) > MaxTypeBytes {
		return style.Type{}, refusal.Of(refusal.ErrInvalid, "“%s” is %d KB; a font file that a page can wait for has at most %d MB. Choose its WOFF2, or a file with fewer signs.", name, len(raw)>>10, MaxTypeBytes>>20)
	}
	face, err := typeface.Read(raw)
	if err != nil {
		return style.Type{}, refusal.Of(refusal.ErrInvalid, "“%s” cannot be used: %s.", name, err.Error())
	}
	sum := sha256.Sum256(raw)
	t := style.Type{ID: "type-" + hex.EncodeToString(sum[:8]), Name: face.Name, Generic: "sans-serif", Least: face.Least, Most: face.Most, Format: face.Format, Licence: strings.TrimSpace(licence)}
	if face.Serif {
		t.Generic = "serif"
	}
	if t.Licence == "" {
		t.Licence = face.Licence
	}
	if t.Licence == "" {
		return t, refusal.Of(refusal.ErrInvalid, "“%s” says nothing of its licence. Note by what you may put it on pages that everybody reads, and add it again.", name)
	}
	err = k.Store.In(ctx, func(tx *gorm.DB) error {
		row, err := locked(tx)
		if err != nil {
			return err
		}
		h, err := withType(row.House, t)
		if err != nil {
			return err
		}
		if err := tx.Clauses(clause.OnConflict{DoNothing: true}).Create(&store.Type{ID: t.ID, Mime: face.Mime, Bytes: raw, AddedAt: k.Store.Now()}).Error; err != nil {
			return fmt.Errorf("keep a font file: %w", err)
		}
		return tx.Exec("UPDATE store SET house = ?", h).Error
	})
	k.News.FactsChanged()
	return t, err
}
