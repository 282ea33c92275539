package pictures

import (
	"bytes"
	"context"
	"unicode/utf8"

	"chrysagon/core/refusal"
	"chrysagon/core/words"
	"chrysagon/store"
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
func (l *Library) UploadFile(ctx context.Context, name string, raw []byte) (store.Handout, error) {
	row := store.Handout{ID: store.NewID(), Name: words.Cut(baseName(name), 120), Mime: handoutMime(raw), Hash: hashOf(raw, []byte(name)), Size: len(raw), Bytes: raw, AddedAt: l.Store.Now()}
	switch {
	case len(raw) == 0:
		return row, refusal.Of(refusal.ErrInvalid, "“%s” is empty.", row.Name)
	case len(raw) > MaxHandoutBytes:
		return row, refusal.Of(refusal.ErrInvalid, "“%s” is %d MB; at most %d MB fit.", row.Name, len(raw)>>20, MaxHandoutBytes>>20)
	case row.Mime == "":
		return row, refusal.Of(refusal.ErrInvalid, "“%s” cannot be handed out. PDF, zip, EPUB, office documents and plain text can.", row.Name)
	}
	return keepOnce(l.Store.On(ctx), row.Hash, row)
}

// Handout reads a file by its content's hash.
func (l *Library) Handout(ctx context.Context, hash string) (store.Handout, error) {
	return store.One[store.Handout](l.Store.On(ctx).Where("hash = ?", hash), "There is no such file.")
}

// TypeFile reads a font file of the store's own.
func (l *Library) TypeFile(ctx context.Context, id string) (store.Type, error) {
	return store.One[store.Type](l.Store.On(ctx).Where("id = ?", id), "There is no such font file.")
}
