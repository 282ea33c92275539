// Package rotate is a few offers that take turns. They move by themselves only
// while nobody points at them, can be stopped, and keep still for whom asked for
// less motion (WCAG 2.2, 2.2.2). Without script a visitor scrolls through them.
package rotate

import (
	"embed"
	"fmt"
	"html/template"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the offers by turns.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "rotate", Role: m.One, Title: "Offers by turns", Traits: m.Traits{Pressed: true, Acts: true, Silent: true, Calls: func(f m.Fields) []m.Call {
		var out []m.Call
		for _, item := range f.List("items") {
			out = append(out, m.Call{Says: item.Text("label"), Target: item.Text("target")})
		}
		return out
	}}, Fields: []m.Field{
		{Name: "items", Label: "Offers", Type: m.List, Items: []m.Field{
			{Name: "title", Label: "Title", Type: m.Line, Empty: "Name the offer"},
			{Name: "text", Label: "Words", Type: m.Prose, Empty: "Say what it is"},
			{Name: "label", Label: "Button", Type: m.Line, Empty: "Words of its button"},
			{Name: "target", Label: "Leads to", Type: m.Link},
		}},
		{Name: "seen", Label: "shown", Type: m.Choice, Default: "one", Options: []m.Option{{Value: "one", Label: "one at a time"}, {Value: "beside", Label: "side by side where there is room"}}},
		{Name: "turn", Label: "the next one comes", Type: m.Choice, Default: "6", Options: turns},
	}},
	Files: files,
	View:  view,
	Tell: func(_ *pieces.Context, p m.Piece) pieces.Telling {
		return pieces.Say("arrows-exchange", "Offers by turns", fmt.Sprintf(": %d, the next one %s", len(p.Fields.Texts("items", "title")), pieces.Label(turns, p.Fields.Text("turn"), "6")))
	},
}

// turns say when the next offer comes: after so many seconds, or by hand.
var turns = []m.Option{{Value: "6", Label: "after 6 seconds"}, {Value: "10", Label: "after 10 seconds"}, {Value: "0", Label: "when a visitor moves it"}}

type shown struct {
	Cards                 []card
	Seen, Turn            string
	Back, On, Pause, Play template.HTML
}

type card struct {
	Title, Text, Label string
	Href               template.URL
}

func view(c *pieces.Context, p m.Piece) any {
	s := shown{
		Seen: pieces.Or(p.Fields.Text("seen"), "one"), Turn: pieces.Or(p.Fields.Text("turn"), "6"),
		Back: c.Icon("chevron-left"), On: c.Icon("chevron-right"), Pause: c.Icon("player-pause"), Play: c.Icon("player-play"),
	}
	for _, item := range p.Fields.List("items") {
		if item.Text("title") == "" {
			continue
		}
		one := card{Title: item.Text("title"), Text: item.Text("text")}
		if href, ok := c.Href(item.Text("target")); ok && item.Text("label") != "" {
			one.Label, one.Href = item.Text("label"), href
		}
		s.Cards = append(s.Cards, one)
	}
	if s.Cards == nil {
		return nil
	}
	return s
}
