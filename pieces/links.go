package pieces

import (
	"html/template"

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
