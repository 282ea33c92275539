package desk

import (
	"fmt"
	"html/template"
	"strings"

	"chrysagon/core/compose"
	"chrysagon/core/manuscript"
)

// manner is one of those in which a band can be set, with a little picture of it.
type manner struct {
	compose.Manner
	Picture template.HTML
	Set     bool // the band is set in it
	Chosen  bool // by hand, and not because it suits what the band holds
}

func manners(s manuscript.Schema, b manuscript.Band) []manner {
	now := compose.Of(s, b).Manner.Name
	var out []manner
	for _, m := range compose.Manners(s, b) {
		out = append(out, manner{Manner: m, Picture: sketched(m), Set: m.Name == now, Chosen: m.Name == b.Manner})
	}
	return out
}

// drawnAs says how each mark of a sketch is drawn: by which class of the studio's.
var drawnAs = map[compose.Mark]string{
	compose.MarkHead: "head", compose.MarkFigure: "figure", compose.MarkPress: "press", compose.MarkCard: "on-card", compose.MarkNight: "on-night",
	compose.MarkLight: "light", compose.MarkText: "text",
}

// sketched draws the little picture of a manner.
func sketched(m compose.Manner) template.HTML {
	var out strings.Builder
	fmt.Fprintf(&out, `<svg class="sketched" viewBox="0 0 %d %d" aria-hidden="true">`, compose.SketchWidth, compose.SketchHeight)
	for _, b := range m.Boxes() {
		switch b.Is {
		case compose.MarkRule, compose.MarkUpward, compose.MarkDashed:
			class := "rule"
			if b.Is == compose.MarkDashed {
				class = "rule torn"
			}
			fmt.Fprintf(&out, `<path class=%q d="M%d %dh%dv%d"/>`, class, b.X, b.Y, b.Width, b.Height)
		case compose.MarkText:
			for y := b.Y; y < b.Y+b.Height; y += 2 {
				fmt.Fprintf(&out, `<path class="text" d="M%d %d.5h%d"/>`, b.X, y, b.Width)
			}
		case compose.MarkHead, compose.MarkFigure, compose.MarkPress, compose.MarkCard, compose.MarkNight, compose.MarkLight:
			fmt.Fprintf(&out, `<rect class=%q x="%d" y="%d" width="%d" height="%d"/>`, drawnAs[b.Is], b.X, b.Y, b.Width, b.Height)
		}
	}
	out.WriteString("</svg>")
	return template.HTML(out.String()) //nolint:gosec // numbers and our own names alone
}
