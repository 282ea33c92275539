package proof

import (
	"slices"
	"strings"
	"time"

	"chrysagon/core/address"
	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/manuscript"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// The visitors for whom a proof can be drawn, beside one of whom nothing is
// known. Each is kept to what the page's prices and deadlines could tell apart.
const (
	seenFirst = "first"    // who orders for the first time
	seenDay   = "day"      // who first came a day ago
	seenAt    = "country:" // who has it sent there
	seenBy    = "link:"    // who came by a link
	seenIn    = "zone:"    // who is in a zone
)

// zones far from each other, in which a visitor's own midnight falls elsewhere.
var zones = []manuscript.Option{{Value: "America/Los_Angeles", Label: "Los Angeles"}, {Value: "Asia/Tokyo", Label: "Tokyo"}, {Value: "Pacific/Auckland", Label: "Auckland"}}

// Visitors lists those for whom a page can be drawn otherwise.
func Visitors(f facts.Facts, countries []string) []manuscript.Option {
	out := []manuscript.Option{{Value: "", Label: "anybody"}}
	add := func(value, label string) {
		if !slices.ContainsFunc(out, func(o manuscript.Option) bool { return o.Value == value }) {
			out = append(out, manuscript.Option{Value: value, Label: label})
		}
	}
	for _, o := range f.Offers {
		if o.FirstOrder {
			add(seenFirst, "who orders for the first time")
		}
	}
	for _, country := range countries {
		if country != f.Context.Country {
			add(seenAt+country, "who has it sent to "+address.NameOf(country))
		}
	}
	for _, o := range f.Offers {
		if o.Link != "" {
			add(seenBy+o.Link, "who came by the link “"+o.Link+"”")
		}
	}
	for _, d := range f.Deadlines {
		switch d.Kind {
		case deadline.Span:
			add(seenDay, "who first came a day ago")
		case deadline.Midnight:
			for _, z := range zones {
				add(seenIn+z.Value, "somebody in "+z.Label)
			}
		case deadline.Fixed, deadline.Repeats:
		}
	}
	return out
}

// seeAs lets facts be those of the visitor whom a request asks for.
func seeAs(c fiber.Ctx, f *facts.Facts, at time.Time) {
	as := frame.Typed(c, "as")
	country, isCountry := strings.CutPrefix(as, seenAt)
	link, isLink := strings.CutPrefix(as, seenBy)
	zone, isZone := strings.CutPrefix(as, seenIn)
	switch {
	case as == seenFirst:
		f.Context.FirstOrder = true
	case as == seenDay:
		f.Visitor.FirstSeen = map[string]time.Time{}
		for id := range f.Deadlines {
			f.Visitor.FirstSeen[id] = at.Add(-24 * time.Hour)
		}
	case isCountry && len(country) == 2:
		f.Context.Country = country
	case isLink:
		f.Context.Link = link
	case isZone:
		if _, err := time.LoadLocation(zone); err == nil {
			f.Visitor.Zone = zone
		}
	}
}
