package style

import "strconv"

// Patch is a part of a picture: the colours than which 5 in 100 of its pixels
// are darker, and lighter.
type Patch struct{ Dark, Light Colour }

// Columns and rows of the patches that a picture is kept as.
const (
	PatchColumns = 16
	PatchRows    = 12
)

// Pixels is what is known of a picture's pixels: of all of them, and patch by
// patch, row by row from the top; without patches only the whole is known.
type Pixels struct {
	Patch
	Patches []Patch
}

// Box is a part of something by its edges, in shares of its width and height
// from the left and from the top.
type Box struct{ Left, Top, Right, Bottom float64 }

// Whole is all of it.
var Whole = Box{0, 0, 1, 1}

// In is the darkest and the lightest that lies in a part of the picture.
func (p Pixels) In(b Box) Patch {
	if len(p.Patches) != PatchColumns*PatchRows {
		return p.Patch
	}
	at := func(share float64, n int) int { return min(max(int(share*float64(n)), 0), n-1) }
	const hair = 1e-9 // an edge that only touches the next patch has nothing of it
	out, first := Patch{}, true
	for y := at(b.Top+hair, PatchRows); y <= at(b.Bottom-hair, PatchRows); y++ {
		for x := at(b.Left+hair, PatchColumns); x <= at(b.Right-hair, PatchColumns); x++ {
			one := p.Patches[y*PatchColumns+x]
			if first || one.Dark.Luminance() < out.Dark.Luminance() {
				out.Dark = one.Dark
			}
			if first || one.Light.Luminance() > out.Light.Luminance() {
				out.Light = one.Light
			}
			first = false
		}
	}
	return out
}

// Bytes are the patches as they are kept.
func (p Pixels) Bytes() []byte {
	out := make([]byte, 0, 6*len(p.Patches))
	for _, one := range p.Patches {
		out = append(out, one.Dark.R, one.Dark.G, one.Dark.B, one.Light.R, one.Light.G, one.Light.B)
	}
	return out
}

// ReadPatches reads what [Pixels.Bytes] wrote; nil when it is something else.
func ReadPatches(raw []byte) []Patch {
	if len(raw) != 6*PatchColumns*PatchRows {
		return nil
	}
	out := make([]Patch, 0, PatchColumns*PatchRows)
	for ; len(raw) > 0; raw = raw[6:] {
		out = append(out, Patch{Colour{raw[0], raw[1], raw[2]}, Colour{raw[3], raw[4], raw[5]}})
	}
	return out
}

// Size is the width and height of something, in CSS pixels.
type Size struct{ Width, Height float64 }

// Behind is the part of a band's picture that lies behind a part of the band,
// as the look lays it there (CSS Backgrounds 3, 3.6 and 3.9: the share of the
// picture at its position stands on that share of the band), and whether the
// picture covers all of that part. prefix is "" or [Wide].
func (l Look) Behind(prefix string, picture, band Size, part Box, focusX, focusY int) (behind Box, covered bool) {
	if picture.Width <= 0 || picture.Height <= 0 || band.Width <= 0 || band.Height <= 0 {
		return Whole, true
	}
	across, down := band.Width/picture.Width, band.Height/picture.Height
	scale := max(across, down)
	if l.at(prefix, "fit", "cover") == "contain" {
		scale = min(across, down)
	}
	wide, high := picture.Width*scale, picture.Height*scale
	x, _ := strconv.ParseFloat(l.at(prefix, "focus_x", strconv.Itoa(focusX)), 64)
	y, _ := strconv.ParseFloat(l.at(prefix, "focus_y", strconv.Itoa(focusY)), 64)
	left, top := (band.Width-wide)*x/100, (band.Height-high)*y/100
	behind = Box{
		(part.Left*band.Width - left) / wide, (part.Top*band.Height - top) / high,
		(part.Right*band.Width - left) / wide, (part.Bottom*band.Height - top) / high,
	}
	const hair = 1e-9
	covered = behind.Left >= -hair && behind.Top >= -hair && behind.Right <= 1+hair && behind.Bottom <= 1+hair
	clamp := func(v float64) float64 { return min(max(v, 0), 1) }
	return Box{clamp(behind.Left), clamp(behind.Top), clamp(behind.Right), clamp(behind.Bottom)}, covered
}

// OverPicture is the worst contrast of words on a part of a picture under the
// look's veil, and the least veil (percent, in steps of 5) under which they have
// at least that; -1 when none does. prefix is "" or [Wide].
func (l Look) OverPicture(prefix string, words Colour, p Patch, least float64) (ratio float64, enough int) {
	veil, share := l.veil(prefix)
	under := func(percent int) float64 {
		s := float64(percent) / 100
		return min(Contrast(words, Over(veil, s, p.Dark)), Contrast(words, Over(veil, s, p.Light)))
	}
	enough = -1
	for percent := 95; percent >= 0 && under(percent) >= least; percent -= 5 {
		enough = percent
	}
	return under(share), enough
}

// Veiled is a part of a picture as it is seen under the look's veil.
func (l Look) Veiled(prefix string, p Patch) Patch {
	veil, share := l.veil(prefix)
	s := float64(share) / 100
	return Patch{Over(veil, s, p.Dark), Over(veil, s, p.Light)}
}

// At is what a look sets on screens of a kind: prefix is "" for a phone, or
// [Wide] for wider ones, which take what phones have unless they have their own.
func (l Look) At(prefix, name string) string { return l.at(prefix, name, "") }
