package factbook

import (
	"slices"

	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/store"
)

// said is what is said of goods.
type said struct {
	Texts      []struct{ ID, Description string }
	Attributes []store.Attribute
}

func (s *said) parts(products []string) []store.Part {
	return []store.Part{
		{SQL: "SELECT v.id, p.description " + store.GoodsFrom + " WHERE v.id = ANY(?::text[]) AND p.description <> ''", Args: []any{store.TextArray(products)}, Into: &s.Texts},
		{SQL: "SELECT * FROM attributes ORDER BY label, name", Into: &s.Attributes},
	}
}

// describe puts what is said of goods into facts, in which they are already.
func (s shown) describe(products []string, f *facts.Facts) {
	f.Described = map[string]facts.Described{}
	for _, id := range products {
		product, known := f.Products[id]
		if !known {
			continue
		}
		d := facts.Described{Has: s.said.of(product)}
		if i := slices.IndexFunc(s.said.Texts, func(t struct{ ID, Description string }) bool { return t.ID == id }); i >= 0 {
			d.Text = s.said.Texts[i].Description
		}
		f.Described[id] = d
	}
}

// of are the attributes of one of the goods.
func (s said) of(product goods.Product) []facts.Has {
	var out []facts.Has
	for _, a := range s.Attributes {
		if v, has := product.Attributes[a.Name]; has && v.String() != "" {
			out = append(out, facts.Has{Label: a.Label, Words: goods.Attribute{Unit: a.Unit}.Words(v)})
		}
	}
	return out
}
