// Package button is a call to action that leads to one place.
package button

import (
	"embed"

	m "chrysagon/core/manuscript"
	"chrysagon/core/target"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the button.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "button", Role: m.Press, Title: "Button", Traits: m.Traits{Button: true, Acts: true, Silent: true, Calls: func(f m.Fields) []m.Call {
		return []m.Call{{Says: f.Text("label"), Target: pieces.Or(f.Text("target"), string(target.Checkout))}, {Says: f.Text("second"), Target: f.Text("second_target")}}
	}}, Fields: []m.Field{
		{Name: "label", Label: "Words", Type: m.Line, Empty: "Name the action"},
		{Name: "target", Label: "leads to", Type: m.Link, Default: "checkout"},
		{Name: "icon", Label: "with the sign", Type: m.Sign},
		{Name: "icon_at", Label: "which stands", Type: m.Choice, Default: "before", Options: []m.Option{{Value: "before", Label: "before the words"}, {Value: "after", Label: "after them"}}},
		{Name: "second", Label: "Second button", Type: m.Line, Empty: "Words of a second button, if there is one"},
		{Name: "second_target", Label: "the second leads to", Type: m.Link},
	}},
	Files: files,
	Letter: func(c *pieces.Context, p m.Piece) []pieces.Block {
		var out []pieces.Block
		for _, one := range []struct{ label, target string }{{"label", pieces.Or(p.Fields.Text("target"), "checkout")}, {"second", p.Fields.Text("second_target")}} {
			if href, ok := c.Href(one.target); ok && p.Fields.Text(one.label) != "" {
				out = append(out, pieces.Block{As: pieces.Press, Text: p.Fields.Text(one.label), Href: href})
			}
		}
		return out
	},
	View: func(c *pieces.Context, p m.Piece) any {
		view := map[string]any{}
		for name, target := range map[string]string{"label": pieces.Or(p.Fields.Text("target"), "checkout"), "second": p.Fields.Text("second_target")} {
			if href, ok := c.Href(target); ok && p.Fields.Text(name) != "" {
				shown := map[string]any{"Label": p.Fields.Text(name), "Href": href}
				if name == "label" {
					shown[pieces.Or(p.Fields.Text("icon_at"), "before")] = c.Sign(p.Fields.Text("icon"))
				}
				view[name] = shown
			}
		}
		if len(view) == 0 {
			return nil
		}
		return view
	},
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		if p.Fields.Text("label") == "" {
			return pieces.Lack("click", "Button", "has no words yet")
		}
		target := pieces.Or(p.Fields.Text("target"), "checkout")
		if _, ok := c.Href(target); !ok {
			return pieces.Lack("click", "Button", "leads to "+c.Leads(target))
		}
		told := pieces.Say("click", "Button", " → "+c.Leads(target))
		if second := p.Fields.Text("second"); second != "" {
			told.Parts = append(told.Parts, pieces.Part{Text: ", “" + second + "” → " + c.Leads(p.Fields.Text("second_target"))})
		}
		return told
	},
}
