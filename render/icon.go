package render

import "chrysagon/core/facts"

// icon is the address of the picture in a browser's tab: the store's own, or the
// sign that ships.
func (r *Renderer) icon(f facts.Facts) string {
	if p, known := f.Pictures[f.Store.Icon]; known && p.Path != "" {
		return p.At(160)
	}
	return r.Assets.Path("mark.svg")
}
