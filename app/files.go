package app

import (
	"bytes"
	"context"
	"fmt"
	"unicode/utf8"

	"chrysagon/core/facts"
	"chrysagon/store"

	"gorm.io/gorm"
)

// MaxHandoutBytes is how large a file may be that pages hand out.
const MaxHandoutBytes = 50 << 20

// handoutMime judges a file by its content: PDF (ISO 32000-1, 7.5.2), zip (also
// EPUB and office documents), or text that can be read; "" for anything else.
func handoutMime(raw []byte) string {
	switch {
	case bytes.HasPrefix(raw, []byte("%PDF-")):
		return "application/pdf"
	case bytes.HasPrefix(raw, []byte("PK\x03\x04")):
		return "application/zip"
	case utf8.Valid(raw) && !bytes.ContainsRune(raw, 0):
		return "text/plain"
	}
	return ""
}

// UploadFile keeps a file that pages hand out, as it came. It is only ever sent
// to be kept, never to be shown.
func (a *App) UploadFile(ctx context.Context, name string, raw []byte) (store.Handout, error) {
	row := store.Handout{ID: NewID(), Name: cutTo(baseName(name), 120), Mime: handoutMime(raw), Hash: hashOf(raw, []byte(name)), Size: len(raw), Bytes: raw, AddedAt: a.Now()}
	switch {
	case len(raw) == 0:
		return row, refuse(ErrInvalid, "“%s” is empty.", row.Name)
	case len(raw) > MaxHandoutBytes:
		return row, refuse(ErrInvalid, "“%s” is %d MB; at most %d MB fit.", row.Name, len(raw)>>20, MaxHandoutBytes>>20)
	case row.Mime == "":
		return row, refuse(ErrInvalid, "“%s” cannot be handed out. PDF, zip, EPUB, office documents and plain text can.", row.Name)
	}
	return keepOnce(a.db(ctx), row.Hash, row)
}

// Handout reads a file by its content's hash.
func (a *App) Handout(ctx context.Context, hash string) (store.Handout, error) {
	return one[store.Handout](a.db(ctx).Where("hash = ?", hash), "There is no such file.")
}

// readFiles reads the files that links lead to.
func readFiles(db *gorm.DB, ids []string, f *facts.Facts) error {
	f.Files = map[string]facts.File{}
	if len(ids) == 0 {
		return nil
	}
	var rows []store.Handout
	if err := db.Omit("bytes").Where("id IN ?", ids).Find(&rows).Error; err != nil {
		return fmt.Errorf("read the files: %w", err)
	}
	for _, r := range rows {
		f.Files[r.ID] = facts.File{ID: r.ID, Name: r.Name, Path: "/files/" + r.Hash}
	}
	return nil
}
