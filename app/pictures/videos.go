package pictures

import (
	"bytes"
	"context"

	"chrysagon/core/refusal"
	"chrysagon/store"
)

// MaxVideoBytes is how large a video may be.
const MaxVideoBytes = 100 << 20

// videoMime judges a video by its content: MP4 by its first box (ISO/IEC
// 14496-12, 4.3), WebM by its EBML head (RFC 8794) and document type; "" for
// anything else.
func videoMime(raw []byte) string {
	head := raw[:min(len(raw), 64)]
	switch {
	case len(head) > 12 && bytes.Equal(head[4:8], []byte("ftyp")):
		return "video/mp4"
	case bytes.HasPrefix(head, []byte{0x1a, 0x45, 0xdf, 0xa3}) && bytes.Contains(head, []byte("webm")):
		return "video/webm"
	}
	return ""
}

// UploadVideo keeps a video as it came. Browsers play it in a sandbox of their
// own; it is never sent as anything else than what its content says.
func (l *Library) UploadVideo(ctx context.Context, name string, raw []byte) (store.Video, error) {
	name = PictureName(name)
	if len(raw) > MaxVideoBytes {
		return store.Video{}, refusal.Of(refusal.ErrInvalid, "“%s” is %d MB; at most %d MB fit. Make it smaller.", name, len(raw)>>20, MaxVideoBytes>>20)
	}
	row := store.Video{ID: store.NewID(), Name: name, Mime: videoMime(raw), Hash: hashOf(raw), Size: len(raw), Bytes: raw, AddedAt: l.Store.Now()}
	if row.Mime == "" {
		return row, refusal.Of(refusal.ErrInvalid, "“%s” is not a video that browsers play. MP4 and WebM are.", name)
	}
	return keepOnce(l.Store.On(ctx), row.Hash, row)
}

// VideoAt finds a video by its content's hash, without its bytes.
func (l *Library) VideoAt(ctx context.Context, hash string) (store.Video, error) {
	return store.One[store.Video](l.Store.On(ctx).Omit("bytes").Where("hash = ?", hash), "There is no such video.")
}

// VideoPart reads so many bytes of a video, from a place on.
func (l *Library) VideoPart(ctx context.Context, id string, from, length int) ([]byte, error) {
	var raw []byte
	err := l.Store.On(ctx).Raw("SELECT substring(bytes FROM ? FOR ?) FROM videos WHERE id = ?", from+1, length, id).Row().Scan(&raw)
	return raw, err
}
