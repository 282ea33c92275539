package manuscript

import (
	"cmp"
	"slices"
)

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
				sold, _ := s.Buys(p)
				if len(sold) == 0 || !s.names(p.Kind) {
					continue
				}
				id := sold[0]
				if s[p.Kind].Sells() {
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

// Buys is what pressing a piece can buy: the goods it sells or lets choose from, and its
// order bumps. Of a piece that takes no order it is the product that it names.
func (s Schema) Buys(p Piece) (sells, bumps []string) {
	options, bumps := s.Options(p)
	for _, id := range slices.Concat(options...) {
		if !slices.Contains(sells, id) {
			sells = append(sells, id)
		}
	}
	return sells, bumps
}

// Options are the goods of each thing that pressing a piece can buy, of which one is
// chosen, and its order bumps.
func (s Schema) Options(p Piece) (options [][]string, bumps []string) {
	if of := s[p.Kind].Traits.Sold; of != nil {
		return of(p.Fields)
	}
	if id := p.Fields.Text(product); id != "" {
		options = [][]string{{id}}
	}
	return options, nil
}

// Filled tells whether goods of a page's lists are put into an order on it.
func (s Schema) Filled(p Page) bool {
	found := false
	p.Walk(func(_ Band, piece Piece) { found = found || s.Fills(piece) })
	return found
}

// Fills tells whether goods of its page's lists are put into a piece's order.
func (s Schema) Fills(p Piece) bool {
	of := s[p.Kind].Traits.Fills
	return of != nil && of(p.Fields)
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
	whole := s.sellsIn(p.Bands)
	if whole == "" {
		return p
	}
	p.Bands = slices.Clone(p.Bands)
	for i := range p.Bands {
		b := &p.Bands[i]
		sold := cmp.Or(s.sellsIn(p.Bands[i:i+1]), whole)
		b.Columns = slices.Clone(b.Columns)
		for j := range b.Columns {
			b.Columns[j].Pieces = s.following(b.Columns[j].Pieces, sold)
		}
	}
	return p
}

// following are pieces of which those that follow name what is sold.
func (s Schema) following(pieces []Piece, sold string) []Piece {
	// Into what is filled from lists nothing else is put unasked.
	follows := func(p Piece) bool { return s.names(p.Kind) && p.Fields.Text(product) == "" && !s.Fills(p) }
	if !slices.ContainsFunc(pieces, follows) {
		return pieces
	}
	pieces = slices.Clone(pieces)
	for i, p := range pieces {
		if !follows(p) {
			continue
		}
		fields := Fields{product: sold}
		for name, value := range p.Fields {
			if name != product {
				fields[name] = value
			}
		}
		pieces[i].Fields = fields
	}
	return pieces
}
