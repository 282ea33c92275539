package pictures

import (
	"bytes"
	"cmp"
	"fmt"
	"image"
	"image/color"
	"math"
	"slices"

	"chrysagon/core/style"
	"chrysagon/store"

	"github.com/srwiley/oksvg"
	"github.com/srwiley/rasterx"
	"golang.org/x/image/draw"
)

// notePixels notes in a picture's row what its pixels are, as a whole and patch
// by patch.
func notePixels(row *store.Picture, full image.Image) {
	b := full.Bounds()
	all := patch(full, b, 10_000)
	row.Dark, row.Light = all.Dark.String(), all.Light.String()
	px := style.Pixels{Patch: all}
	for y := range style.PatchRows {
		for x := range style.PatchColumns {
			part := image.Rect(
				b.Min.X+x*b.Dx()/style.PatchColumns, b.Min.Y+y*b.Dy()/style.PatchRows,
				b.Min.X+(x+1)*b.Dx()/style.PatchColumns, b.Min.Y+(y+1)*b.Dy()/style.PatchRows,
			)
			px.Patches = append(px.Patches, patch(full, part, 400))
		}
	}
	row.Patches = px.Bytes()
}

// patch is the darkest and lightest of a part of a picture, judged from about as
// many of its pixels as are asked for. What shows through is taken for white.
func patch(full image.Image, part image.Rectangle, about int) style.Patch {
	part.Max.X, part.Max.Y = max(part.Max.X, part.Min.X+1), max(part.Max.Y, part.Min.Y+1) // of a picture smaller than its patches
	part = part.Intersect(full.Bounds())
	step := max(1, int(math.Sqrt(float64(part.Dx()*part.Dy())/float64(about))))
	at := func(x, y int) color.RGBA64 { return color.RGBA64Model.Convert(full.At(x, y)).(color.RGBA64) } //nolint:forcetypeassert // what that model makes
	if quick, ok := full.(image.RGBA64Image); ok {                                                       // without a colour for each pixel on the heap
		at = quick.RGBA64At
	}
	var seen []style.Colour
	for y := part.Min.Y; y < part.Max.Y; y += step {
		for x := part.Min.X; x < part.Max.X; x += step {
			c := at(x, y)
			white := 0xffff - c.A
			seen = append(seen, style.Colour{R: uint8((c.R + white) >> 8), G: uint8((c.G + white) >> 8), B: uint8((c.B + white) >> 8)})
		}
	}
	if len(seen) == 0 {
		return style.Patch{Light: style.Colour{R: 255, G: 255, B: 255}}
	}
	slices.SortFunc(seen, func(a, b style.Colour) int { return cmp.Compare(a.Luminance(), b.Luminance()) })
	return style.Patch{Dark: seen[len(seen)*5/100], Light: seen[len(seen)*95/100]}
}

// NoteDrawn notes what the pixels of a drawn picture (SVG) come to. Only
// pictures that ship with the program are drawn; none is uploaded so.
func NoteDrawn(row *store.Picture) error {
	full, err := drawn(row.Bytes, 160)
	if err != nil {
		return err
	}
	notePixels(row, full)
	return nil
}

// drawn makes pixels of a drawn picture, at a width.
func drawn(raw []byte, width int) (image.Image, error) {
	icon, err := oksvg.ReadIconStream(bytes.NewReader(raw), oksvg.StrictErrorMode)
	if err != nil {
		return nil, fmt.Errorf("read a drawn picture: %w", err)
	}
	height := max(1, int(math.Round(float64(width)*icon.ViewBox.H/icon.ViewBox.W)))
	icon.SetTarget(0, 0, float64(width), float64(height))
	out := image.NewRGBA(image.Rect(0, 0, width, height))
	draw.Draw(out, out.Bounds(), image.NewUniform(color.White), image.Point{}, draw.Src)
	icon.Draw(rasterx.NewDasher(width, height, rasterx.NewScannerGV(width, height, out, out.Bounds())), 1)
	return out, nil
}
