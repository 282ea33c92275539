// Package mailing says who may be written to: the lists people join, what they agreed to,
// and what it takes to be on one, to leave it, and never to be written to again.
package mailing

import (
	"slices"
	"strings"
	"unicode/utf8"

	"chrysagon/core/checkout"
)

// List is people who asked for the same letters.
type List struct {
	ID        string
	Name      string
	FromName  string // who writes; empty: the store
	ReplyTo   string // where answers go; empty: the store's address
	Why       string // why they get it, one sentence, which stands under each letter
	Confirmed bool   // who joins is on it only once they have pressed a button in a mail's page
	Gives     string // ID of the file that is handed out; empty: none
	Code      string // ID of the offer of which everybody gets a code of their own; empty: none
	After     string // ID of the page to which one is led once one is on it; empty: none
	Tells     Telling
}

// Telling is when the store hears of who joined.
type Telling string

// When the store hears of it.
const (
	Never Telling = "never"
	Each  Telling = "each"
	Daily Telling = "daily"
)

// Tellings lists them, as they are offered.
var Tellings = []Telling{Never, Each, Daily}

// Bounds in characters. A reason that is longer than this is no sentence.
const (
	MostName = 80
	MostWhy  = 240
)

// Faults says, field by field, what must be mended before a list is kept. A list must say
// why it writes: who does not know that from the letter takes it for spam.
func (l List) Faults() map[string]string {
	faults := map[string]string{}
	for name, text := range map[string]string{"name": l.Name, "from_name": l.FromName, "reply_to": l.ReplyTo, "why": l.Why} {
		if !utf8.ValidString(text) || strings.ContainsAny(text, "\r\n\x00") {
			faults[name] = "This must be one line of text."
		}
	}
	switch n := utf8.RuneCountInString(l.Name); {
	case n == 0:
		faults["name"] = "Give the list a name; only you see it."
	case n > MostName:
		faults["name"] = "Shorten the name; a list shows 80 characters of it."
	}
	if utf8.RuneCountInString(l.FromName) > MostName {
		faults["from_name"] = "Shorten the sender; inboxes show far less than 80 characters of it."
	}
	switch n := utf8.RuneCountInString(l.Why); {
	case n == 0:
		faults["why"] = "Say in one sentence why they get your letters; it stands under each."
	case n > MostWhy:
		faults["why"] = "Shorten the sentence to 240 characters; it stands under each letter."
	}
	if l.ReplyTo != "" {
		if fault := checkout.EmailFault(l.ReplyTo); fault != "" {
			faults["reply_to"] = fault
		}
	}
	if !slices.Contains(Tellings, l.Tells) {
		faults["tells"] = "Choose when you hear of it."
	}
	return faults
}

// Agreed is what a form says beside its button of what somebody agrees to, in the words
// that are kept with them.
func (l List) Agreed() string {
	says := l.Why
	if l.Confirmed {
		says += " We send one mail first, in which you say yes; without that, nothing follows."
	}
	return says + " You can end it in every letter."
}
