// Package lead says what forms ask for and what they refuse. A lead is
// somebody who has left something: an email, or a message.
package lead

import (
	"strings"
	"unicode/utf8"

	"chrysagon/core/checkout"
	"chrysagon/core/words"
)

// Kind is what a form asks for.
type Kind string

// The kinds of form.
const (
	OptIn      Kind = "opt_in"     // an email, for something given
	Newsletter Kind = "newsletter" // an email, for letters to come
	Message    Kind = "message"    // a message to the store

	Appointment Kind = "appointment" // a time in the store's appointment book
)

// Words says what came in by a form of a kind.
func Words(kind string) string {
	return map[Kind]string{OptIn: "emails for something given", Newsletter: "newsletter", Message: "messages", Appointment: "appointments"}[Kind(kind)]
}

// Form is what one form asks for.
type Form struct {
	Kind    Kind
	Name    bool   // the name too
	Consent string // what must be agreed to; empty: nothing
}

// Field is one field of a form.
type Field struct {
	Name, Label, Type, Autocomplete string
	Most                            int // characters
	Long                            bool
}

// Fields lists what is asked, in order.
func (f Form) Fields() []Field {
	var out []Field
	if f.Name {
		out = append(out, Field{Name: "name", Label: "Your name", Type: "text", Autocomplete: "name", Most: 100})
	}
	out = append(out, Field{Name: "email", Label: "Your email", Type: "email", Autocomplete: "email", Most: 254})
	if f.Kind == Message {
		out = append(out, Field{Name: "message", Label: "Your message", Most: 5000, Long: true})
	}
	return out
}

// Button is what its button says unless the owner says something else.
func (f Form) Button() string {
	switch f.Kind {
	case OptIn:
		return "Send it to me"
	case Newsletter:
		return "Write to me"
	case Appointment:
		return "Take this time"
	case Message:
	}
	return "Send the message"
}

// Read takes what was typed and says, field by field, what must be mended. An
// empty map means all is well. Nothing that was not asked for is kept.
func (f Form) Read(typed map[string]string) (values, faults map[string]string) {
	values, faults = map[string]string{}, map[string]string{}
	for _, field := range f.Fields() {
		value := strings.TrimSpace(strings.ToValidUTF8(typed[field.Name], ""))
		if !field.Long {
			value = words.Tidy(value)
		}
		values[field.Name] = value
		switch {
		case value == "":
			faults[field.Name] = "Please write " + strings.ToLower(field.Label[:1]) + field.Label[1:] + "."
		case utf8.RuneCountInString(value) > field.Most:
			faults[field.Name] = "This is too long; leave some of it out."
		case field.Name == "email":
			if fault := checkout.EmailFault(value); fault != "" {
				faults[field.Name] = fault
			}
		}
	}
	if f.Consent != "" {
		if values["consent"] = f.Consent; typed["consent"] == "" {
			faults["consent"] = "Tick this if you agree; nothing is sent without it."
		}
	}
	return values, faults
}
