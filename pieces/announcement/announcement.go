// Package announcement is one line across the page, with a link or without.
package announcement

import (
	"embed"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the announcement.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "announcement", Role: m.Notice, Title: "Announcement", Traits: m.Traits{Silent: true}, Fields: []m.Field{
		{Name: "text", Label: "Words", Type: m.Line, Empty: "Announce one thing"},
		{Name: "target", Label: "leads to", Type: m.Link},
		{Name: "icon", Label: "with the sign", Type: m.Sign},
	}},
	Files: files,
	View: func(c *pieces.Context, p m.Piece) any {
		if p.Fields.Text("text") == "" {
			return nil
		}
		href, _ := c.Href(p.Fields.Text("target"))
		return map[string]any{"Text": p.Fields.Text("text"), "Href": href, "Sign": c.Sign(p.Fields.Text("icon"))}
	},
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		if _, ok := c.Href(p.Fields.Text("target")); ok {
			return pieces.Say("speakerphone", "Announcement", " → "+c.Leads(p.Fields.Text("target")))
		}
		return pieces.Say("speakerphone", "Announcement", ", without a link")
	},
}
