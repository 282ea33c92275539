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
	p.Walk(func(_ Band, piece Piece) { out = takeLinks(out, piece.ID, s[piece.Kind].Fields, piece.Fields) })
	return out
}

func takeLinks(out []LinkAt, piece string, declared []Field, values Fields) []LinkAt {
	for _, f := range declared {
		switch f.Type { //nolint:exhaustive // only links lead anywhere
		case List:
			for _, item := range values.List(f.Name) {
				out = takeLinks(out, piece, f.Items, item)
			}
		case Link:
			text := values.Text(f.Name)
			if text == "" {
				text = f.Default
			}
			if to, err := ParseTarget(text); err == nil && to.Kind != Nowhere {
				out = append(out, LinkAt{piece, to})
			}
		}
	}
	return out
}
