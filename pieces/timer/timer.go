// Package timer counts down to a deadline of the store. It ticks by the
// server's clock; without script it is the moment, written out.
package timer

import (
	"embed"

	"chrysagon/core/deadline"
	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the timer.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "timer", Role: m.Clock, Title: "Timer", Traits: m.Traits{Counts: true}, Fields: []m.Field{
		{Name: "caption", Label: "Words", Type: m.Line, Empty: "Say what ends"},
		{Name: "deadline", Label: "Count down to", Type: m.Deadline},
		{Name: "then", Label: "and then", Type: m.Choice, Default: "hide", Options: []m.Option{
			{Value: "hide", Label: "hide it"}, {Value: "words", Label: "say that it has ended"},
		}},
	}},
	Files: files, Live: true,
	View: view,
	Letter: func(c *pieces.Context, p m.Piece) []pieces.Block {
		d, ok := c.Deadline(pieces.Or(p.Fields.Text("deadline"), c.Ends()))
		if !ok || d.Passed(c.Moment) {
			return nil
		}
		return []pieces.Block{{As: pieces.Moment, Text: pieces.Or(p.Fields.Text("caption"), "Until"), Second: d.Told()}}
	},
	Tell: tell,
}

func view(c *pieces.Context, p m.Piece) any {
	d, ok := c.Deadline(pieces.Or(p.Fields.Text("deadline"), c.Ends()))
	if !ok {
		return nil
	}
	if d.Passed(c.Moment) {
		if pieces.Or(p.Fields.Text("then"), "hide") == "hide" {
			return nil
		}
		return map[string]any{"Ended": "This ended on " + d.Told() + "."}
	}
	return map[string]any{
		"Caption": p.Fields.Text("caption"),
		"At":      d.At.UnixMilli(),
		"Written": d.Told(),
		"Left":    deadline.Until(d.At, c.Moment),
		"Proof":   c.Proof,
	}
}

func tell(c *pieces.Context, p m.Piece) pieces.Telling {
	d, ok := c.Deadline(pieces.Or(p.Fields.Text("deadline"), c.Ends()))
	if !ok {
		return pieces.Lack("hourglass", "Timer", "has no deadline, and no offer on what is sold here ends by one")
	}
	then := " — then hidden"
	if p.Fields.Text("then") == "words" {
		then = " — then it says that it has ended"
	}
	if d.Passed(c.Moment) {
		then = " — passed" + then[len(" — then"):]
	}
	t := pieces.Say("hourglass", "Timer", " to ", d.Name, ", "+d.Short()+then)
	return t
}
