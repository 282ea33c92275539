package pieces

import (
	"html/template"

	"chrysagon/core/facts"
	"chrysagon/core/manuscript"
)

// Linked is a link that was put into a menu or a footer by hand.
type Linked struct {
	Label string
	Href  template.URL
}

// Links are those of a list of words and targets that say something and lead somewhere.
func (c *Context) Links(items []manuscript.Fields) []Linked {
	var out []Linked
	for _, item := range items {
		if href, ok := c.Href(item.Text("target")); ok && item.Text("text") != "" {
			out = append(out, Linked{item.Text("text"), href})
		}
	}
	return out
}

// Menu is the store's: by hand, or the pages that are live and have a place in it.
func (c *Context) Menu() []Linked {
	if byHand := c.byHand(c.Facts.Store.Menu); byHand != nil {
		return byHand
	}
	var out []Linked
	for _, p := range c.Facts.Menu {
		out = append(out, Linked{p.Name, template.URL("/" + p.Address)}) //nolint:gosec // an address of ours
	}
	return out
}

// Foot is what stands in the store's footer beside what the law asks for.
func (c *Context) Foot() []Linked { return c.byHand(c.Facts.Store.Foot) }

func (c *Context) byHand(list []facts.Link) []Linked {
	var items []manuscript.Fields
	for _, l := range list {
		items = append(items, manuscript.Fields{"text": l.Text, "target": l.Target})
	}
	return c.Links(items)
}

// LinksField declares such a list.
func LinksField(label string) manuscript.Field {
	return manuscript.Field{Name: "links", Label: label, Type: manuscript.List, Most: 12, Bare: true, Items: []manuscript.Field{
		{Name: "text", Label: "Words", Type: manuscript.Line, Empty: "What the link says"},
		{Name: "target", Label: "leads to", Type: manuscript.Link},
	}}
}
