package manuscript

import "maps"

// Sells is the product that a page sells, or the band of it with an ID: the one
// that what acts there names (a checkout, an upsell's answer), and where that
// names none, the first that anything does. It is the one place that says so:
// what names no product follows, see [Schema.Follow].
func (s Schema) Sells(p Page, band string) string {
	for _, b := range p.Bands {
		if b.ID == band {
			if id := s.sellsIn([]Band{b}); id != "" {
				return id
			}
		}
	}
	return s.sellsIn(p.Bands)
}

func (s Schema) sellsIn(bands []Band) string {
	first := ""
	for _, b := range bands {
		for _, c := range b.Columns {
			for _, p := range c.Pieces {
				id := p.Fields.Text(product)
				if id == "" || !s.names(p.Kind) {
					continue
				}
				if s[p.Kind].Sells {
					return id
				}
				if first == "" {
					first = id
				}
			}
		}
	}
	return first
}

// product is the field by which a kind names its product.
const product = "product"

func (s Schema) names(kind string) bool {
	f, ok := s[kind].Field(product)
	return ok && f.Type == Product
}

// Follow is a page in which every piece that could name a product and names none
// has that which its band or its page sells. The page handed in stays as it is.
func (s Schema) Follow(p Page) Page {
	bands, changed := make([]Band, len(p.Bands)), false
	for i, b := range p.Bands {
		bands[i] = b
		sold := s.Sells(p, b.ID)
		if sold == "" {
			continue
		}
		columns, here := make([]Column, len(b.Columns)), false
		for j, c := range b.Columns {
			columns[j] = c
			for k, piece := range c.Pieces {
				if !s.names(piece.Kind) || piece.Fields.Text(product) != "" {
					continue
				}
				if len(columns[j].Pieces) == len(c.Pieces) && &columns[j].Pieces[0] == &c.Pieces[0] {
					columns[j].Pieces = append([]Piece{}, c.Pieces...)
				}
				fields := maps.Clone(piece.Fields)
				if fields == nil {
					fields = Fields{}
				}
				fields[product] = sold
				columns[j].Pieces[k].Fields = fields
				here = true
			}
		}
		if here {
			bands[i].Columns, changed = columns, true
		}
	}
	if changed {
		p.Bands = bands
	}
	return p
}
