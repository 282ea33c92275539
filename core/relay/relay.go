// Package relay says what other programs are told of: which news there is, what each says,
// and how it is written for whoever takes it.
package relay

import (
	"encoding/json"
	"net/url"
	"slices"
	"strings"
	"time"
	"unicode/utf8"
)

// Event is something that is told of. Its name is the type of the message after the Standard
// Webhooks specification.
type Event string

// What is told of.
const (
	Lead        Event = "lead.created"         // somebody who agreed to it left their address
	Booking     Event = "booking.created"      // an appointment was taken
	Order       Event = "order.paid"           // by money or by hand
	Refund      Event = "refund.made"          // money went back
	Unsubscribe Event = "contact.unsubscribed" // somebody left a list
	Shipment    Event = "shipment.sent"        // a parcel went off
)

// Events are all of them, with what happens in words.
var Events = []struct {
	Event Event
	Says  string
}{
	{Lead, "somebody leaves their address"}, {Booking, "an appointment is booked"}, {Order, "an order is paid"},
	{Refund, "money is given back"}, {Unsubscribe, "somebody leaves a list"}, {Shipment, "a parcel goes off"},
}

// Says is an event in words.
func (e Event) Says() string {
	for _, one := range Events {
		if one.Event == e {
			return one.Says
		}
	}
	return ""
}

// Data is what a message says. What does not belong to its event is left out.
type Data struct {
	Email   string `json:"email"`
	Name    string `json:"name,omitempty"`
	List    string `json:"list,omitempty"`    // name of the list
	Page    string `json:"page,omitempty"`    // name of the page
	Consent string `json:"consent,omitempty"` // the words they agreed to
	Source  string `json:"source,omitempty"`  // the link by which they came

	Slot    *time.Time `json:"slot,omitempty"`    // when the appointment begins
	Minutes int        `json:"minutes,omitempty"` // how long it is

	Number   int64  `json:"number,omitempty"` // of the order
	Total    string `json:"total,omitempty"`  // decimal, such as 51.00
	Refunded string `json:"refunded,omitempty"`
	Currency string `json:"currency,omitempty"` // ISO 4217
	Lines    []Line `json:"lines,omitempty"`
	Letter   string `json:"letter,omitempty"` // subject of the letter by which they came
	Carrier  string `json:"carrier,omitempty"`
	Parcel   string `json:"parcel,omitempty"` // its number
}

// Line is one of an order.
type Line struct {
	Name     string `json:"name"`
	SKU      string `json:"sku,omitempty"`
	Quantity int    `json:"quantity"`
	Total    string `json:"total"`
}

// Message is one piece of news, as it is sent.
type Message struct {
	Type      Event     `json:"type"`
	Timestamp time.Time `json:"timestamp"` // when it happened
	Data      Data      `json:"data"`
}

// Shape is how a message is written.
type Shape string

// The shapes.
const (
	JSON Shape = "json" // as the Standard Webhooks specification has it
	Form Shape = "form" // as a plain form sends it, with the other program's names of fields
)

// Field is one field of a form: how the other program calls it, and what of the message goes
// into it, or words that are always the same.
type Field struct {
	Theirs string `json:"theirs"`
	Ours   string `json:"ours"` // one of [Ours]; empty: Words
	Words  string `json:"words,omitempty"`
}

// Ours are the names by which a form's field takes something of a message.
var Ours = []string{"email", "name", "list", "page", "consent", "source", "slot", "minutes", "number", "total", "refunded", "currency", "letter", "carrier", "parcel", "type", "timestamp"}

// Body writes the message: its media type, and its bytes.
func (m Message) Body(shape Shape, fields []Field) (string, []byte, error) {
	if shape != Form {
		raw, err := json.Marshal(m)
		return "application/json", raw, err
	}
	says, err := m.flat()
	if err != nil {
		return "", nil, err
	}
	v := url.Values{}
	for _, f := range fields {
		text := f.Words
		if f.Ours != "" {
			text = says[f.Ours]
		}
		v.Add(f.Theirs, text)
	}
	return "application/x-www-form-urlencoded", []byte(v.Encode()), nil
}

// flat is what a message says, by the names of its fields.
func (m Message) flat() (map[string]string, error) {
	raw, err := json.Marshal(m.Data)
	if err != nil {
		return nil, err
	}
	var of map[string]any
	d := json.NewDecoder(strings.NewReader(string(raw)))
	d.UseNumber()
	if err := d.Decode(&of); err != nil {
		return nil, err
	}
	out := map[string]string{"type": string(m.Type), "timestamp": m.Timestamp.UTC().Format(time.RFC3339)}
	for name, v := range of {
		switch v := v.(type) {
		case string:
			out[name] = v
		case json.Number:
			out[name] = v.String()
		}
	}
	return out, nil
}

// Relay is where news goes.
type Relay struct {
	Name   string
	URL    string
	Events []Event
	Shape  Shape
	Fields []Field
}

// MostFields is how many fields a form has.
const MostFields = 30

// Faults says, field by field, what must be mended before it is kept.
func (r Relay) Faults() map[string]string {
	faults := map[string]string{}
	if n := utf8.RuneCountInString(r.Name); n == 0 || n > 80 || !utf8.ValidString(r.Name) {
		faults["name"] = "Give it a name of at most 80 characters; only you see it."
	}
	if u, err := url.Parse(r.URL); err != nil || (u.Scheme != "https" && u.Scheme != "http") || u.Hostname() == "" || u.User != nil || len(r.URL) > 2000 {
		faults["url"] = "Write the whole address at which the other program takes it, such as https://mail.example/in."
	}
	if len(r.Events) == 0 || slices.ContainsFunc(r.Events, func(e Event) bool { return e.Says() == "" }) {
		faults["events"] = "Choose what it is told of."
	}
	if r.Shape != JSON && r.Shape != Form {
		faults["shape"] = "Choose how it is written."
	}
	if r.Shape == Form {
		if len(r.Fields) == 0 || len(r.Fields) > MostFields {
			faults["fields"] = "Say at least for one field of the other program’s form what goes into it."
		}
		for _, f := range r.Fields {
			if f.Theirs == "" || (f.Ours != "" && !slices.Contains(Ours, f.Ours)) {
				faults["fields"] = "Each field has the other program’s name, and what goes into it."
			}
		}
	}
	return faults
}
