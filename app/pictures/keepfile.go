package pictures

import (
	"context"
	"strings"

	"chrysagon/core/refusal"
	"chrysagon/store"
)

// KeepFile keeps what a buyer of a digital product downloads.
func (l *Library) KeepFile(ctx context.Context, productID, name string, raw []byte) error {
	if len(raw) == 0 || len(raw) > 100<<20 {
		return refusal.Of(refusal.ErrInvalid, "A file to download has from 1 byte to 100 MB.")
	}
	if _, err := store.One[store.Product](l.Store.On(ctx).Where("id = ? AND form = 'digital'", productID), "Only a digital product has a file."); err != nil {
		return err
	}
	return l.Store.On(ctx).Save(&store.File{ProductID: productID, Name: PictureName(name) + extension(name), Bytes: raw}).Error
}

func extension(name string) string {
	i := strings.LastIndexByte(name, '.')
	if i < 0 || len(name)-i > 8 {
		return ""
	}
	return name[i:]
}
