package render

import (
	"encoding/json"
	"fmt"
	"html/template"
	"strings"
	"time"

	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/core/rich"
	"chrysagon/core/target"
	"chrysagon/pieces"
)

// meta is what a page says to search engines and to those who share it: its
// one address, a card, and its goods in the terms of schema.org.
func (r *Renderer) meta(c *pieces.Context, in Input) template.HTML {
	if in.Origin == "" || in.Proof || in.Place.Upsell || in.Facts.Order != nil {
		return ""
	}
	at := in.Origin + "/" + in.Place.Address
	// A page of a list is a page of its own; other orders of it, and some of it, are not for
	// search engines.
	if c.Paged != "" && !in.Facts.View.Plain() && !in.Facts.View.Own() {
		at += "?" + in.Facts.View.String()
	}
	var out strings.Builder
	tag := func(name, content string) {
		if content != "" {
			fmt.Fprintf(&out, `<meta property="%s" content="%s">`, name, esc(content))
		}
	}
	fmt.Fprintf(&out, `<link rel="canonical" href="%s">`, esc(at))
	if c.Paged != "" && in.Facts.View.Own() {
		out.WriteString(`<meta name="robots" content="noindex, follow">`)
	}
	if words := in.Page.Sharing.Keywords; words != "" {
		fmt.Fprintf(&out, `<meta name="keywords" content="%s">`, esc(words))
	}
	title := pieces.Or(in.Title, in.Facts.Store.Name)
	tag("og:type", "website")
	tag("og:site_name", in.Facts.Store.Name)
	tag("og:title", title)
	tag("og:description", in.Description)
	tag("og:url", at)
	if pic, ok := Shared(in); ok {
		tag("og:image", in.Origin+pic.Shareable())
		tag("og:image:alt", pic.Alt)
	}
	if data := r.structured(c, in, at); data != nil {
		raw, err := json.Marshal(data) // encoding/json escapes <, > and &, so it cannot end the element
		if err == nil {
			out.WriteString(`<script type="application/ld+json">`)
			out.Write(raw)
			out.WriteString("</script>")
		}
	}
	return template.HTML(out.String()) //nolint:gosec // every text in it went through esc or encoding/json
}

// Shared is the picture a shared card shows: the one that was chosen, or the
// first on the page.
func Shared(in Input) (facts.Picture, bool) {
	if pic, ok := in.Facts.Pictures[in.Page.Sharing.Picture]; ok {
		return pic, true
	}
	var found facts.Picture
	in.Page.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if pic, ok := in.Facts.Pictures[p.Fields.Text("picture")]; ok && found.Path == "" {
			found = pic
		}
	})
	return found, found.Path != ""
}

// structured is the page's goods and questions as JSON-LD with the terms of
// schema.org: Product, Offer, FAQPage.
func (r *Renderer) structured(c *pieces.Context, in Input, at string) any {
	var graph []any
	in.Page.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		switch is := r.Registry.Schema()[p.Kind].Traits; {
		case is.Takes == manuscript.TakesOrder || is.Shows:
			sells, _ := r.Registry.Schema().Buys(p)
			for _, id := range sells {
				if product, ok := in.Facts.Products[id]; ok {
					if node := productNode(c, in, product, at); node != nil {
						graph = append(graph, node)
					}
				}
			}
		case is.Stands:
			if node := r.listNode(c, in, p); node != nil {
				graph = append(graph, node)
			}
		case is.Asked:
			if node := questionsNode(p); node != nil {
				graph = append(graph, node)
			}
		}
	})
	if graph == nil {
		return nil
	}
	if in.Place.Address != "" {
		graph = append(graph, map[string]any{"@type": "BreadcrumbList", "itemListElement": []any{
			map[string]any{"@type": "ListItem", "position": 1, "name": in.Facts.Store.Name, "item": in.Origin + "/"},
			map[string]any{"@type": "ListItem", "position": 2, "name": pieces.Or(in.Title, in.Facts.Store.Name), "item": at},
		}})
	}
	return map[string]any{"@context": "https://schema.org", "@graph": graph}
}

// listNode is a list of goods with where each is sold: ItemList.
func (r *Renderer) listNode(c *pieces.Context, in Input, p manuscript.Piece) any {
	kind, _ := r.Registry.Kind(p.Kind)
	if kind.Lists == nil {
		return nil
	}
	var items []any
	for _, id := range kind.Lists(c, p) {
		href, leads := c.Href(string(target.Product) + ":" + id)
		if !leads || !strings.HasPrefix(string(href), "/") {
			continue
		}
		items = append(items, map[string]any{"@type": "ListItem", "position": len(items) + 1, "url": in.Origin + string(href), "name": in.Facts.Products[id].Name})
	}
	if items == nil {
		return nil
	}
	return map[string]any{"@type": "ItemList", "numberOfItems": len(items), "itemListElement": items}
}

func productNode(c *pieces.Context, in Input, product goods.Product, at string) any {
	q, err := c.Quote(offer.Item{ProductID: product.ID, Quantity: 1, Via: offer.Page})
	if err != nil || len(q.Lines) == 0 {
		return nil
	}
	available := "https://schema.org/InStock"
	if product.SoldOut() {
		available = "https://schema.org/SoldOut"
	}
	price := q.Lines[0].Price
	o := map[string]any{"@type": "Offer", "url": at, "price": price.Plain(), "priceCurrency": price.Currency, "availability": available}
	if !q.NextChange.IsZero() && len(q.Lines[0].Trail) > 0 {
		o["priceValidUntil"] = q.NextChange.UTC().Format(time.RFC3339)
	}
	node := map[string]any{"@type": "Product", "name": product.Name, "offers": o}
	if product.SKU != "" {
		node["sku"] = product.SKU
	}
	if pic, ok := in.Facts.Pictures[product.PictureID]; ok {
		node["image"] = in.Origin + pic.Shareable()
	}
	switch said := rich.Text(in.Facts.Described[product.ID].Text); {
	case said != "":
		node["description"] = said
	case in.Description != "":
		node["description"] = in.Description
	}
	return node
}

func questionsNode(p manuscript.Piece) any {
	var list []any
	for _, item := range p.Fields.List("items") {
		if item.Text("question") != "" && item.Text("answer") != "" {
			list = append(list, map[string]any{"@type": "Question", "name": item.Text("question"), "acceptedAnswer": map[string]any{"@type": "Answer", "text": rich.Text(item.Text("answer"))}})
		}
	}
	if list == nil {
		return nil
	}
	return map[string]any{"@type": "FAQPage", "mainEntity": list}
}
