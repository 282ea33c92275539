package app

import (
	"bytes"
	"context"
	"fmt"

	"chrysagon/core/facts"
	"chrysagon/store"

	"gorm.io/gorm"
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
func (a *App) UploadVideo(ctx context.Context, name string, raw []byte) (store.Video, error) {
	name = pictureName(name)
	if len(raw) > MaxVideoBytes {
		return store.Video{}, refuse(ErrInvalid, "“%s” is %d MB; at most %d MB fit. Make it smaller.", name, len(raw)>>20, MaxVideoBytes>>20)
	}
	row := store.Video{ID: NewID(), Name: name, Mime: videoMime(raw), Hash: hashOf(raw), Size: len(raw), Bytes: raw, AddedAt: a.Now()}
	if row.Mime == "" {
		return row, refuse(ErrInvalid, "“%s” is not a video that browsers play. MP4 and WebM are.", name)
	}
	return keepOnce(a.db(ctx), row.Hash, row)
}

// VideoAt finds a video by its content's hash, without its bytes.
func (a *App) VideoAt(ctx context.Context, hash string) (store.Video, error) {
	return one[store.Video](a.db(ctx).Omit("bytes").Where("hash = ?", hash), "There is no such video.")
}

// VideoPart reads so many bytes of a video, from a place on.
func (a *App) VideoPart(ctx context.Context, id string, from, length int) ([]byte, error) {
	var raw []byte
	err := a.db(ctx).Raw("SELECT substring(bytes FROM ? FOR ?) FROM videos WHERE id = ?", from+1, length, id).Row().Scan(&raw)
	return raw, err
}

func readVideos(db *gorm.DB, ids []string, f *facts.Facts) error {
	if len(ids) == 0 {
		return nil
	}
	var rows []store.Video
	if err := db.Omit("bytes").Where("id IN ?", ids).Find(&rows).Error; err != nil {
		return fmt.Errorf("read the videos: %w", err)
	}
	f.Videos = map[string]facts.Video{}
	for _, r := range rows {
		f.Videos[r.ID] = facts.Video{ID: r.ID, Name: r.Name, Path: VideoPath(r), Mime: r.Mime}
	}
	return nil
}

// VideoPath is a video's address, which holds its content's hash.
func VideoPath(v store.Video) string {
	return "/videos/" + v.Hash + map[string]string{"video/mp4": ".mp4", "video/webm": ".webm"}[v.Mime]
}
