package store

import (
	"time"
)

// Picture is one picture of the store's shelf.
type Picture struct {
	ID         string `gorm:"primaryKey"`
	Name       string
	Alt        string
	Mime       string
	Width      int
	Height     int
	Hash       string
	Bytes      []byte
	AddedAt    time.Time
	Dark       string // its darkest and lightest places, as #rrggbb
	Light      string
	Patches    []byte // the same of its parts; see style.Pixels
	Source     string // hash of the file as it came; Hash is that of what is shown
	CropX      int    // what is cut out of it, in thousandths
	CropY      int
	CropW      int `gorm:"default:1000"`
	CropH      int `gorm:"default:1000"`
	FocusX     int `gorm:"default:50"` // what stays in view, in percent
	FocusY     int `gorm:"default:50"`
	ComesFrom  string
	Permission string // by what right it is shown
}

// Handout is one file that pages hand out.
type Handout struct {
	ID      string `gorm:"primaryKey"`
	Name    string
	Mime    string
	Hash    string
	Size    int // bytes
	Bytes   []byte
	AddedAt time.Time
}

// Type is one font file of the store's own; the house says what it is called.
type Type struct {
	ID      string `gorm:"primaryKey"`
	Mime    string
	Bytes   []byte
	AddedAt time.Time
}

// Video is one video of the store's shelf.
type Video struct {
	ID      string `gorm:"primaryKey"`
	Name    string
	Mime    string
	Hash    string
	Size    int // bytes
	Bytes   []byte
	AddedAt time.Time
}

// PictureSize is a picture at one of the widths that pages need.
type PictureSize struct {
	PictureID string `gorm:"primaryKey"`
	Width     int    `gorm:"primaryKey"`
	Mime      string `gorm:"primaryKey"`
	Bytes     []byte
}
