package render

import (
	"bytes"
	"html/template"
	"strings"

	"chrysagon/core/compose"
	"chrysagon/core/facts"
	"chrysagon/core/manuscript"
	"chrysagon/core/target"
	"chrysagon/pieces"
)

// bar is what stays in a phone's reach once the page's first button has left the screen:
// what is asked now, and the way to the order. The script shows it (web/scripts/bar.js);
// without one it is never seen.
var bar = template.Must(template.New("bar").Parse(`<aside class="bar" id="bar" aria-label="Price" data-live hidden>` +
	`<p>{{if .Line.Struck}}<span class="vh">Instead of </span><s>{{.Line.Struck}}</s> <span class="vh">now </span>{{end}}<b class="now">{{.Line.Price}}</b></p>` +
	`<a class="act" href="#checkout">{{.Says}}</a></aside>`))

// bar draws the price bar of a page that sells one thing, in a checkout that is open.
func (r *Renderer) bar(c *pieces.Context, page manuscript.Page, body template.HTML) (template.HTML, error) {
	schema := r.Registry.Schema()
	cart := c.Cart()
	if c.Composition == compose.First || len(cart) != 1 || schema.Filled(page) || !strings.Contains(string(body), `id="checkout"`) {
		return "", nil
	}
	product := c.Facts.Products[cart[0].ProductID]
	shown, err := c.Show(cart...)
	if err != nil || product.SoldOut() {
		return "", nil //nolint:nilerr // what cannot be priced is said where it is sold
	}
	var out bytes.Buffer
	err = bar.Execute(&out, struct {
		Line facts.ShownLine
		Says string
	}{shown.Lines[0], firstCall(schema, page)})
	return template.HTML(out.String()), err //nolint:gosec // written by html/template
}

// firstCall is what the page's first button to its checkout says.
func firstCall(s manuscript.Schema, page manuscript.Page) string {
	says := ""
	page.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if of := s[p.Kind].Traits.Calls; of != nil {
			for _, call := range of(p.Fields) {
				if says == "" && call.Target == string(target.Checkout) && call.Says != "" {
					says = call.Says
				}
			}
		}
	})
	return pieces.Or(says, "Order")
}
