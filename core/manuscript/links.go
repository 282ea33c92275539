package manuscript

// LinkAt is one link of a page: where it stands and where it leads.
type LinkAt struct {
	Piece  string
	Target Target
}

// Links collects the links of a page that lead somewhere, in reading order,
// from what its kinds declare.
func (s Schema) Links(p Page) []LinkAt {
	var out []LinkAt
	p.Walk(func(_ Band, piece Piece) {
		eachField(s[piece.Kind].Fields, piece.Fields, func(f Field, values Fields) {
			if f.Type != Link {
				return
			}
			text := values.Text(f.Name)
			if text == "" {
				text = f.Default
			}
			if to, err := ParseTarget(text); err == nil && to.Kind != Nowhere {
				out = append(out, LinkAt{piece.ID, to})
			}
		})
	})
	return out
}
