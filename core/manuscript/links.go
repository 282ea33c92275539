package manuscript

import (
	"chrysagon/core/rich"
	"chrysagon/core/target"
)

// LinkAt is one link of a page: where it stands and where it leads.
type LinkAt struct {
	Piece  string
	Target target.Target
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
				if to, err := target.Parse(text); err == nil && to.Kind != target.Nowhere {
					out = append(out, LinkAt{piece.ID, to})
				}
			}
		})
	})
	return out
}

// Leading is what the links of a page ask of the page itself. Facts and address
// are whoever's asks.
func (s Schema) Leading(p Page) target.On {
	return target.On{
		Orders:  s.Has(p, func(t Traits) bool { return t.Takes == TakesOrder }),
		Answers: s.Has(p, func(t Traits) bool { return t.Takes == TakesAnswer }),
		Books:   s.Has(p, func(t Traits) bool { return t.Books }),
		Band: func(id string) string {
			b, _, there := p.Band(id)
			if there && b.Name == "" {
				return "a band of this page"
			}
			return b.Name
		},
	}
}
