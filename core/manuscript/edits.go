package manuscript

import "chrysagon/core/rich"

// Edit is a text that differs between two states of a page, with what it says
// in each; empty where it is missing.
type Edit struct {
	Band  string
	Piece string
	Was   string
	Is    string
}

// Edits lists the words that differ between two states of a page, in reading
// order of the later one, then what is gone.
func (s Schema) Edits(before, after Page) []Edit {
	type key struct {
		piece, field string
		item         int
	}
	was, seen := map[key]string{}, map[key]bool{}
	each := func(p Page, visit func(Band, key, string)) {
		p.Walk(func(b Band, piece Piece) {
			count := map[string]int{}
			eachField(s[piece.Kind].Fields, piece.Fields, func(f Field, values Fields) {
				if f.Written() {
					visit(b, key{piece.ID, f.Name, count[f.Name]}, rich.Text(values.Text(f.Name)))
					count[f.Name]++
				}
			})
		})
	}
	each(before, func(_ Band, k key, text string) { was[k] = text })
	var out []Edit
	each(after, func(b Band, k key, text string) {
		seen[k] = true
		if was[k] != text {
			out = append(out, Edit{b.Name, k.piece, was[k], text})
		}
	})
	each(before, func(b Band, k key, text string) {
		if !seen[k] && text != "" {
			out = append(out, Edit{b.Name, k.piece, text, ""})
		}
	})
	return out
}
