// Package appointment lets a visitor choose a time in the store's appointment
// book, and leaves them with it in their calendar.
package appointment

import (
	"embed"
	"html/template"
	"strconv"
	"time"

	rules "chrysagon/core/appointment"
	"chrysagon/core/deadline"
	"chrysagon/core/lead"
	m "chrysagon/core/manuscript"
	"chrysagon/core/target"
	"chrysagon/core/words"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

var lengths = []m.Option{{Value: "15", Label: "15 minutes"}, {Value: "30", Label: "30 minutes"}, {Value: "45", Label: "45 minutes"}, {Value: "60", Label: "an hour"}}

// Kind declares the chooser.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "appointment", Role: m.Ask, Title: "Appointment", Traits: m.Traits{Pressed: true, Books: true, Silent: true, Mails: func(m.Fields) bool { return true }}, Fields: []m.Field{
		{Name: "minutes", Label: "Gives appointments of", Type: m.Slots, Default: "30", Options: lengths},
		{Name: "what", Label: "What for", Type: m.Line, Empty: "A fitting in the loft, a call, a lesson"},
		{Name: "label", Label: "Button", Type: m.Line, Empty: "Take this time"},
		{Name: "thanks", Label: "Afterwards", Type: m.Line, Empty: "What they read once it is taken"},
	}},
	Files: files,
	View:  view,
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		free, ok := c.Facts.Slots[length(p)]
		if !ok {
			t := pieces.Say("calendar-event", "Appointment", " — the appointment book does not answer")
			t.Trouble = true
			return t
		}
		t := pieces.Say("calendar-event", "Appointment", " of "+pieces.Label(lengths, length(p), "30")+" — ", words.Count(len(free), "free time"), "")
		t.Trouble = len(free) == 0
		return t
	},
}

func length(p m.Piece) string { return pieces.Or(p.Fields.Text("minutes"), "30") }

// Minutes is how long an appointment is, by the value of its field.
func Minutes(value string) int {
	n, err := strconv.Atoi(value)
	if err != nil {
		return 30
	}
	return n
}

// fresh is how long a list of free times may be shown as it was read: somebody
// else may take one meanwhile, which is then said.
const fresh = time.Minute

type day struct {
	Name  string
	Times []slot
}

type slot struct {
	Value, Clock string
	Chosen       bool
}

type field struct {
	lead.Field
	Value, Error, ID string
}

type shown struct {
	Piece, Address, What, Button, Zone string
	Days                               []day
	More                               []day // behind a fold
	Fields                             []field
	SlotError, Notice, Link, Came      string
	Proof, Silent                      bool
	Phone, Dial                        string
	Sent, First                        bool
	Thanks, When, File                 string
	Icon                               template.HTML
}

// daysOpen is how many days are shown at once.
const daysOpen = 3

func view(c *pieces.Context, p m.Piece) any {
	c.Holds(c.Moment.Add(fresh))
	mine := c.Form.Piece == p.ID
	s := shown{
		First: c.Once("appointment"),
		Piece: p.ID, Address: c.Place.Address, What: p.Fields.Text("what"), Button: pieces.Or(p.Fields.Text("label"), "Take this time"), Zone: deadline.Clock(c.Facts.Store.Zone), Proof: c.Proof,
		Phone: c.Facts.Store.Phone, Dial: target.Dialled(c.Facts.Store.Phone), Link: c.Form.Values["link"],
	}
	if mine && c.Form.Sent {
		s.Sent, s.Thanks, s.Icon = true, pieces.Or(p.Fields.Text("thanks"), "It is yours. A letter with it is on its way to you."), c.Icon("circle-check")
		s.When, s.File = c.Form.Values["booked_at"], c.Form.Values["booked"]
		return s
	}
	free, ok := c.Facts.Slots[length(p)]
	s.Silent = !ok
	if mine {
		s.Notice, s.SlotError, s.Came = c.Form.Notice, c.Form.Errors["slot"], c.Form.Values["came"]
	}
	s.Days = byDay(free, c.Facts.Store.Zone, c.Form.Values["slot"])
	if len(s.Days) > daysOpen {
		s.Days, s.More = s.Days[:daysOpen], s.Days[daysOpen:]
	}
	for _, f := range (lead.Form{Kind: lead.Appointment, Name: true}).Fields() {
		one := field{Field: f, ID: p.ID + "-" + f.Name}
		if mine {
			one.Value, one.Error = c.Form.Values[f.Name], c.Form.Errors[f.Name]
		}
		s.Fields = append(s.Fields, one)
	}
	return s
}

// byDay sorts free times under their days, on the store's walls.
func byDay(free []rules.Slot, zone, chosen string) []day {
	loc, err := time.LoadLocation(zone)
	if err != nil {
		loc = time.UTC
	}
	var out []day
	for _, f := range free {
		name := deadline.Day(f.At, zone)
		if len(out) == 0 || out[len(out)-1].Name != name {
			out = append(out, day{Name: name})
		}
		value := f.At.UTC().Format(time.RFC3339)
		last := &out[len(out)-1]
		last.Times = append(last.Times, slot{value, f.At.In(loc).Format("15:04"), value == chosen})
	}
	return out
}
