package factbook

import (
	"fmt"

	"chrysagon/core/facts"
	"chrysagon/core/style"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Pictures reads pictures by their IDs.
func Pictures(db *gorm.DB, ids []string) (map[string]facts.Picture, error) {
	out := map[string]facts.Picture{}
	if len(ids) == 0 {
		return out, nil
	}
	var rows []store.Picture
	if err := db.Omit("bytes").Where("id IN ?", ids).Find(&rows).Error; err != nil {
		return nil, fmt.Errorf("read the pictures: %w", err)
	}
	for _, r := range rows {
		out[r.ID] = PictureFacts(r)
	}
	return out, nil
}

// PictureFacts is a picture as pages show it.
func PictureFacts(r store.Picture) facts.Picture {
	p := facts.Picture{ID: r.ID, Name: r.Name, Alt: r.Alt, Path: PicturePath(r), Width: r.Width, Height: r.Height, Pixels: pixelsOf(r), Focus: facts.Focus{X: r.FocusX, Y: r.FocusY}}
	if r.Mime != "image/svg+xml" {
		p.Sizes = FittingWidths(r.Width)
	}
	return p
}

var extensions = map[string]string{"image/svg+xml": ".svg", "image/png": ".png", "image/jpeg": ".jpg"}

// PicturePath is a picture's address. It holds the content's hash, so that it
// may be kept for ever.
func PicturePath(p store.Picture) string { return "/pictures/" + p.Hash + extensions[p.Mime] }

// pixelsOf is what is known of a picture's pixels; of one that was kept before
// they were noted, the worst there can be.
func pixelsOf(p store.Picture) style.Pixels {
	dark, errDark := style.ParseColour(p.Dark)
	light, errLight := style.ParseColour(p.Light)
	if errDark != nil || errLight != nil {
		return style.Pixels{Patch: style.Patch{Light: style.Colour{R: 255, G: 255, B: 255}}}
	}
	return style.Pixels{Patch: style.Patch{Dark: dark, Light: light}, Patches: style.ReadPatches(p.Patches)}
}

// pictureWidths are those that pages need.
var pictureWidths = []int{320, 640, 960, 1280, 1920}

// FittingWidths are the widths in which a picture of some width is kept.
func FittingWidths(width int) []int {
	var out []int
	for _, w := range pictureWidths {
		if w < width {
			out = append(out, w)
		}
	}
	if width <= pictureWidths[len(pictureWidths)-1] {
		out = append(out, width)
	}
	return out
}
