package factbook

import (
	"fmt"

	"chrysagon/core/facts"
	"chrysagon/store"

	"gorm.io/gorm"
)

// ReadFiles reads the files that links lead to.
func ReadFiles(db *gorm.DB, ids []string, f *facts.Facts) error {
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
