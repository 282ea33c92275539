// Package way is the way to the store: a sketch of what lies around it, each place on
// its own side and with how far it is, and a link that opens a map.
package way

import (
	"embed"
	"strings"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// side is a way to look from the store, as compasses name them.
type side struct {
	m.Option
	x, y   int    // where a place on it stands in the sketch, from the middle
	anchor string // on which side of the place its words stand, in the terms of SVG
}

var sides = []side{
	{m.Option{Value: "n", Label: "north"}, 0, -84, "middle"}, {m.Option{Value: "ne", Label: "north-east"}, 64, -54, "start"},
	{m.Option{Value: "e", Label: "east"}, 76, 0, "start"}, {m.Option{Value: "se", Label: "south-east"}, 64, 54, "start"},
	{m.Option{Value: "s", Label: "south"}, 0, 84, "middle"}, {m.Option{Value: "sw", Label: "south-west"}, -64, 54, "end"},
	{m.Option{Value: "w", Label: "west"}, -76, 0, "end"}, {m.Option{Value: "nw", Label: "north-west"}, -64, -54, "end"},
}

func options() []m.Option {
	var out []m.Option
	for _, s := range sides {
		out = append(out, s.Option)
	}
	return out
}

// Kind declares the way.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "way", Role: m.Table, Title: "Way here", Fields: []m.Field{
		{Name: "address", Label: "Address", Type: m.Prose, Empty: "The store’s own address is taken"},
		{Name: "items", Label: "Around it", Type: m.List, Items: []m.Field{
			{Name: "what", Label: "Place", Type: m.Line, Empty: "Harbour"},
			{Name: "side", Label: "lies to the", Type: m.Choice, Default: "n", Options: options()},
			{Name: "far", Label: "and is", Type: m.Line, Empty: "5 minutes on foot"},
		}},
		{Name: "label", Label: "Words of the link", Type: m.Line, Empty: "Open the map"},
		{Name: "target", Label: "opens", Type: m.Link},
	}, Traits: m.Traits{Acts: true, Calls: func(f m.Fields) []m.Call {
		return []m.Call{{Says: pieces.Or(f.Text("label"), "Open the map"), Target: f.Text("target")}}
	}}},
	Files: files,
	View:  view,
	Tell:  tell,
}

// place is one place of the sketch, from the store in its middle.
type place struct {
	What, Far    string
	X, Y         int // where it stands
	WordX, WordY int // where its words stand
	Anchor       string
	says         string
}

func places(p m.Piece) []place {
	var out []place
	for _, item := range p.Fields.List("items") {
		what := strings.TrimSpace(item.Text("what"))
		if what == "" {
			continue
		}
		on := sides[0]
		for _, s := range sides {
			if s.Value == item.Text("side") {
				on = s
			}
		}
		one := place{What: what, Far: item.Text("far"), X: on.x, Y: on.y, WordX: on.x, WordY: on.y + 4, Anchor: on.anchor, says: what + " to the " + on.Label}
		switch {
		case on.anchor == "start":
			one.WordX += 10
		case on.anchor == "end":
			one.WordX -= 10
		case on.y < 0:
			one.WordY -= 33
		default:
			one.WordY += 19
		}
		if one.Far != "" {
			one.says += ", " + one.Far
		}
		out = append(out, one)
	}
	return out
}

func view(c *pieces.Context, p m.Piece) any {
	around := places(p)
	address := pieces.Or(p.Fields.Text("address"), c.Facts.Store.LegalAddress)
	if address == "" && around == nil {
		return nil
	}
	var says []string
	for _, one := range around {
		says = append(says, one.says)
	}
	shown := map[string]any{"Address": address, "Around": around, "Says": strings.Join(says, "; "), "Icon": c.Icon("map-pin"), "Name": c.Facts.Store.Name}
	if href, ok := c.Href(p.Fields.Text("target")); ok && p.Fields.Text("target") != "" {
		shown["Href"], shown["Label"] = href, pieces.Or(p.Fields.Text("label"), "Open the map")
	}
	return shown
}

func tell(_ *pieces.Context, p m.Piece) pieces.Telling {
	around := places(p)
	if len(around) == 0 {
		return pieces.Lack("map-pin", "Way here", "has nothing around it yet")
	}
	var names []string
	for _, one := range around {
		names = append(names, one.What)
	}
	return pieces.Say("map-pin", "Way here", ", by "+strings.Join(names, ", "))
}
