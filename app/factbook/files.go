package factbook

import (
	"chrysagon/core/facts"
	"chrysagon/store"

	"gorm.io/gorm"
)

// File reads a file that links lead to.
func File(db *gorm.DB, id string) (facts.File, error) {
	row, err := store.One[store.Handout](db.Omit("bytes").Where("id = ?", id), "There is no such file.")
	return fileOf(row), err
}

// VideoPath is a video's address, which holds its content's hash.
func VideoPath(v store.Video) string {
	return "/videos/" + v.Hash + map[string]string{"video/mp4": ".mp4", "video/webm": ".webm"}[v.Mime]
}
