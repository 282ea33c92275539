package checkout

import (
	"strings"

	rules "chrysagon/core/checkout"
	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

// switched are the fields that are switched, by the block in which they stand.
var switched = map[rules.Block][]string{
	rules.Who: {"name", "phone", "company"}, rules.Where: {"address", "extra", "payer"}, rules.More: {"tax", "note"},
}

var blocks = map[rules.Block]string{rules.Who: "Who buys", rules.Where: "Where it goes", rules.More: "What else", rules.Pay: "Payment"}

// sketch is the checkout as a picture of its parts.
func sketch(c *pieces.Context, p m.Piece) pieces.Sketch {
	sale, _ := Resolve(c, p)
	form := Form(p.Fields)
	travels := false
	if len(sale.Options) > 0 {
		chosen, _ := sale.Read(nil)
		travels = sale.MayTravel(c, chosen)
	}
	of := func(name string) pieces.Switch { return pieces.SwitchOf(declared, p, name) }
	out := pieces.Sketch{In: of("parts"), Side: of("summary").Value}
	for _, name := range []string{"summary", "codes", "legal"} {
		out.Beside = append(out.Beside, of(name))
	}
	asked := form.Fields(For(c.Facts, travels), nil)
	for n := 1; n <= max(form.Parts, 1); n++ {
		sheet := pieces.SketchSheet{}
		for _, b := range form.Order() {
			if form.PartOf(b) != n {
				continue
			}
			sheet.Blocks = append(sheet.Blocks, sketched(form, b, asked, travels, of))
		}
		sheet.Title = sheet.Blocks[0].Title
		out.Sheets = append(out.Sheets, sheet)
	}
	return out
}

func sketched(form rules.Form, b rules.Block, asked []rules.Field, travels bool, of func(string) pieces.Switch) pieces.SketchBlock {
	out := pieces.SketchBlock{Title: blocks[b]}
	if b != rules.Pay {
		out.Field, out.Up, out.Down = "order", moved(form, b, -1), moved(form, b, 1)
	}
	if b == rules.Who {
		out.Boxes = append(out.Boxes, pieces.SketchBox{Label: "Email", Says: "always", State: string(rules.Needed)})
	}
	for _, name := range switched[b] {
		s := of(name)
		box := pieces.SketchBox{Label: s.Label, Says: s.Says(), State: s.Value, Switch: &s}
		if name == "address" {
			box.State = map[bool]string{true: string(rules.Needed), false: string(rules.Absent)}[travels || s.Value == string(rules.Needed)]
			if s.Value == string(rules.Shown) && !travels {
				box.State = string(rules.Shown)
			}
			if travels {
				box.Says = "a parcel goes"
			}
		}
		out.Boxes = append(out.Boxes, box)
	}
	for _, f := range asked {
		if f.Block == b && (f.Name == "consent" || (b == rules.More && strings.HasPrefix(f.Name, "q"))) {
			says := "if they like"
			if f.Needed() {
				says = "needed"
			}
			out.Boxes = append(out.Boxes, pieces.SketchBox{Label: f.Label, Says: says, State: string(f.Asks)})
		}
	}
	if b == rules.Pay {
		out.Boxes = append(out.Boxes, pieces.SketchBox{Label: "Card", Says: "the till’s own field", State: string(rules.Needed)})
		for _, w := range beside {
			s := of(string(w))
			state := map[bool]string{true: string(rules.Needed), false: string(rules.Absent)}[s.Value == "yes"]
			out.Boxes = append(out.Boxes, pieces.SketchBox{Label: s.Label, Says: s.Says(), State: state, Switch: &s})
		}
	}
	return out
}

// moved is the order of the blocks once one has passed its neighbour; "" where there is
// none to pass: who buys stays first in more than one part.
func moved(form rules.Form, b rules.Block, by int) string {
	order := form.Order()[:3]
	i := 0
	for j := range order {
		if order[j] == b {
			i = j
		}
	}
	if form.Parts > 1 && (b == rules.Who || i+by == 0) {
		return ""
	}
	if i+by < 0 || i+by >= len(order) {
		return ""
	}
	order[i], order[i+by] = order[i+by], order[i]
	var names []string
	for _, b := range order {
		names = append(names, string(b))
	}
	return strings.Join(names, " ")
}
