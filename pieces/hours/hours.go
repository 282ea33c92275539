// Package hours is where the store is and when it is open, with whether it is
// open now, by the store's own clock.
package hours

import (
	"embed"

	"chrysagon/core/deadline"
	"chrysagon/core/hours"
	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

var days = []m.Option{
	{Value: "weekdays", Label: "Monday to Friday"}, {Value: "daily", Label: "Every day"}, {Value: "monday", Label: "Monday"}, {Value: "tuesday", Label: "Tuesday"},
	{Value: "wednesday", Label: "Wednesday"}, {Value: "thursday", Label: "Thursday"}, {Value: "friday", Label: "Friday"}, {Value: "saturday", Label: "Saturday"}, {Value: "sunday", Label: "Sunday"},
}

// Kind declares the hours.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "hours", Role: m.Table, Title: "Address and hours", Fields: []m.Field{
		{Name: "address", Label: "Address", Type: m.Prose, Empty: "The store’s own address is taken"},
		{Name: "items", Label: "Hours", Type: m.List, Items: []m.Field{
			{Name: "days", Label: "Days", Type: m.Choice, Default: "weekdays", Options: days},
			{Name: "opens", Label: "from", Type: m.Line, Empty: "10:00"},
			{Name: "closes", Label: "to", Type: m.Line, Empty: "18:00"},
		}},
	}},
	Files: files, Live: true,
	View: view,
	Tell: tell,
}

type row struct{ Days, Opens, Closes string }

// read gives the hours that can be read, and how many cannot.
func read(p m.Piece) (rows []row, spans []hours.Span, unclear int) {
	for _, item := range p.Fields.List("items") {
		if item.Text("opens") == "" && item.Text("closes") == "" {
			continue
		}
		opens, err := hours.Clock(item.Text("opens"))
		closes, fault := hours.Clock(item.Text("closes"))
		if err != nil || fault != nil {
			unclear++
			continue
		}
		which := pieces.Or(item.Text("days"), "weekdays")
		spans = append(spans, hours.Span{Days: hours.Days[which], Opens: opens, Closes: closes})
		rows = append(rows, row{pieces.Label(days, which, "weekdays"), item.Text("opens"), item.Text("closes")})
	}
	return rows, spans, unclear
}

func says(c *pieces.Context, spans []hours.Span) string {
	if len(spans) == 0 {
		return ""
	}
	now, err := hours.At(spans, c.Moment, c.Facts.Store.Zone)
	if err != nil {
		return ""
	}
	c.Holds(now.Changes)
	if now.Open {
		return "Open now, until " + deadline.Short(now.Changes, c.Facts.Store.Zone) + "."
	}
	return "Closed now; opens " + deadline.Short(now.Changes, c.Facts.Store.Zone) + "."
}

func view(c *pieces.Context, p m.Piece) any {
	rows, spans, _ := read(p)
	address := pieces.Or(p.Fields.Text("address"), c.Facts.Store.LegalAddress)
	if address == "" && rows == nil {
		return nil
	}
	return map[string]any{"Address": address, "Rows": rows, "Says": says(c, spans), "Icon": c.Icon("map-pin")}
}

func tell(c *pieces.Context, p m.Piece) pieces.Telling {
	_, spans, unclear := read(p)
	if unclear > 0 {
		return pieces.Lack("map-pin", "Hours", "has a time that cannot be read; write it like 9:30")
	}
	if len(spans) == 0 {
		return pieces.Say("map-pin", "Address", ", without opening hours yet")
	}
	return pieces.Say("map-pin", "Hours", ": "+says(c, spans))
}
