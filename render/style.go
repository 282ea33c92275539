package render

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"chrysagon/core/compose"
	"chrysagon/core/facts"
	"chrysagon/core/manuscript"
	"chrysagon/core/own"
	"chrysagon/core/style"
)

// Style is the page's stylesheet: the house, the ground, the styles of the kinds
// it uses, how its bands are composed, their columns, and its local looks.
func (r *Renderer) Style(in Input) string {
	var css strings.Builder
	house := in.Facts.Store.House
	css.WriteString(house.CSS(r.Assets.Path))
	css.WriteString(house.Faces(r.Assets.Path, dressed(in.Page)...))
	bands := in.Page.Bands
	if in.Layout == "full" && !r.Registry.Schema().Has(in.Page, isLegal) {
		bands = append(slices.Clone(bands), r.storeFoot())
	}
	kinds := manuscript.Page{Bands: bands}.Kinds()
	if composition := in.composition(); composition < compose.Version {
		css.WriteString(r.Assets.Past(composition, "page"))
		for _, kind := range kinds {
			css.WriteString(r.Assets.Past(composition, "pieces/"+kind))
		}
		css.WriteString(firstColumns(in.Page))
	} else {
		css.WriteString(house.Composed())
		css.WriteString(r.Assets.Sheet("page"))
		for _, kind := range kinds {
			css.WriteString(r.Assets.Sheet("pieces/" + kind))
		}
		for _, sheet := range r.sheets(bands) {
			css.WriteString(r.Assets.Sheet("compose/" + strings.ReplaceAll(sheet, "/", ".")))
		}
		css.WriteString(house.Finish())
		css.WriteString(columnRules(in.Page))
	}
	css.WriteString(r.looks(in))
	for _, text := range ownCode(in).Texts(own.Styles) {
		css.WriteString("\n" + text)
	}
	if in.Proof { // its buttons send nothing, and look as those that do
		css.WriteString(".act[disabled]{opacity:1}")
	}
	return strings.ReplaceAll(css.String(), "\ufeff", "")
}

// dressed are the looks of a page's pieces.
func dressed(page manuscript.Page) []style.Look {
	var out []style.Look
	page.Walk(func(_ manuscript.Band, p manuscript.Piece) { out = append(out, p.Look) })
	return out
}

// sheets are those by which bands are composed, each once: families and shapes first, so
// that what a manner says comes after.
func (r *Renderer) sheets(bands []manuscript.Band) []string {
	var out []string
	for _, b := range bands {
		for _, sheet := range compose.Of(r.Registry.Schema(), b).Sheets() {
			if !slices.Contains(out, sheet) {
				out = append(out, sheet)
			}
		}
	}
	slices.SortFunc(out, func(a, b string) int {
		return cmp.Or(cmp.Compare(strings.Count(a, "/"), strings.Count(b, "/")), cmp.Compare(a, b))
	})
	return out
}

// columnRules declares the widths of columns, as they are given and changed over.
func columnRules(page manuscript.Page) string {
	var css strings.Builder
	for _, b := range page.Bands {
		rule := "." + columnsName(b) + "{"
		if len(b.Columns) < 2 || strings.Contains(css.String(), rule) {
			continue
		}
		var widths []string
		for _, c := range b.Columns {
			widths = append(widths, fmt.Sprintf("minmax(0,%dfr)", c.Width))
		}
		css.WriteString(rule + "--cols:" + strings.Join(widths, " "))
		slices.Reverse(widths)
		css.WriteString(";--over:" + strings.Join(widths, " ") + "}")
	}
	return css.String()
}

// firstColumns are the widths of columns as the first composition has them.
func firstColumns(page manuscript.Page) string {
	rules := map[string]string{}
	for _, b := range page.Bands {
		if len(b.Columns) > 1 {
			var widths []string
			for _, c := range b.Columns {
				widths = append(widths, fmt.Sprintf("minmax(0,%dfr)", c.Width))
			}
			rules[columnsName(b)] = strings.Join(widths, " ")
		}
	}
	names := make([]string, 0, len(rules))
	for name := range rules {
		names = append(names, name)
	}
	slices.Sort(names)
	var css strings.Builder
	for _, name := range names {
		fmt.Fprintf(&css, "@media(min-width:768px){.%s{grid-template-columns:%s}}", name, rules[name])
	}
	return css.String()
}

// looks writes what departs from the house: page, then bands, then pieces.
func (r *Renderer) looks(in Input) string {
	address := func(id string, width int) string {
		if p, ok := in.Facts.Pictures[id]; ok {
			return p.At(width)
		}
		return ""
	}
	focus := func(id string) (int, int) {
		if f := in.Facts.Pictures[id].Focus; f.Class() != "" {
			return f.X, f.Y
		}
		return 50, 50
	}
	var css strings.Builder
	if slices.ContainsFunc(dressed(in.Page), func(l style.Look) bool { return l["aside"] != "" || l[style.Wide+"aside"] != "" }) {
		css.WriteString("main{overflow-x:clip}") // what is nudged over the edge of the screen makes it no wider
	}
	for _, f := range focuses(in) {
		fmt.Fprintf(&css, ".%s{object-position:%d%% %d%%}", f.Class(), f.X, f.Y)
	}
	css.WriteString(in.Page.Look.CSS(style.Under{House: in.Facts.Store.House, Selector: "main", On: style.OnPage}))
	for _, b := range in.Page.Bands {
		css.WriteString(b.Look.CSS(style.Under{House: in.Facts.Store.House, Selector: "#band-" + b.ID, On: style.OnBand, Address: address, Focus: focus, Scene: scenery(in.Facts.Store.House, b)}))
		if in.composition() == compose.First || compose.Of(r.Registry.Schema(), b).Manner.On == compose.OnBand {
			css.WriteString(inks(in, b))
		}
		reordered := false
		for _, c := range b.Columns {
			for _, p := range c.Pieces {
				css.WriteString(p.Look.CSS(style.Under{House: in.Facts.Store.House, Selector: "#p-" + p.ID, On: style.OnPiece, Button: r.Registry.Schema()[p.Kind].Traits.Button}))
				reordered = reordered || p.Look["order"] != ""
			}
		}
		if reordered { // on a phone, all pieces of the band are neighbours
			fmt.Fprintf(&css, "@media(max-width:767px){#band-%s .in{display:flex;flex-direction:column}#band-%s .in>div{display:contents}}", b.ID, b.ID)
		}
	}
	return css.String()
}

// focuses are those of the page's pictures that are not in the middle, each once.
func focuses(in Input) []facts.Focus {
	var out []facts.Focus
	for _, pic := range in.Facts.Pictures {
		if pic.Focus.Class() != "" && !slices.Contains(out, pic.Focus) {
			out = append(out, pic.Focus)
		}
	}
	for _, g := range in.Facts.Groups {
		if g.Picture.Focus.Class() != "" && !slices.Contains(out, g.Picture.Focus) {
			out = append(out, g.Picture.Focus)
		}
	}
	slices.SortFunc(out, func(a, b facts.Focus) int { return cmp.Or(cmp.Compare(a.X, b.X), cmp.Compare(a.Y, b.Y)) })
	return out
}

// fonts are the addresses of the type families a page is set in.
func (r *Renderer) fonts(h style.House) []string {
	var out []string
	for _, f := range h.Fonts() {
		if f.Own() {
			out = append(out, "/types/"+f.ID)
		} else {
			out = append(out, r.Assets.Path(f.ID+".woff2"))
		}
	}
	return out
}

// inks lets everything that is written on a ground of a band's own be read
// there: prices, hints, links.
func inks(in Input, b manuscript.Band) string {
	phone, wide := inksOn(in, b, ""), inksOn(in, b, style.Wide)
	var css string
	if phone != "" {
		css = "#band-" + b.ID + "{" + phone + "}"
	}
	if wide != phone && wide != "" {
		css += "@media(min-width:768px){#band-" + b.ID + "{" + wide + "}}"
	}
	return css
}

func inksOn(in Input, b manuscript.Band, prefix string) string {
	house := in.Facts.Store.House
	words := house.Colour("ink")
	if b.Tone == manuscript.Night {
		words = house.Shade("on-night")
	}
	if v := b.Look.At(prefix, "colour"); v != "" {
		words = house.Look(v)
	}
	if pic, ok := in.Facts.Pictures[b.Look.At(prefix, "picture")]; ok {
		seen := b.Look.Veiled(prefix, pic.Pixels.Patch)
		return house.InksOn(words, seen.Dark, seen.Light)
	}
	if v := b.Look.At(prefix, "ground"); v != "" {
		return house.InksOn(words, house.Look(v))
	}
	if s, ok := sceneOf(b, prefix); ok {
		return house.InksOn(words, s.Grounds(house)...)
	}
	return ""
}
