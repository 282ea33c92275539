package manuscript

import "chrysagon/core/rich"

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
			targets := []string{values.Text(f.Name)}
			switch {
			case f.Type == Rich:
				targets = rich.Targets(targets[0])
			case f.Type != Link:
				return
			case targets[0] == "":
				targets[0] = f.Default
			}
			for _, text := range targets {
				if to, err := ParseTarget(text); err == nil && to.Kind != Nowhere {
					out = append(out, LinkAt{piece.ID, to})
				}
			}
		})
	})
	return out
}
