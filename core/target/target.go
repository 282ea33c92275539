// Package target is where links can lead: how a target is written, what must be read to follow it, what it is called, and when it is lost.
//
// Every kind of target is one entry of the table in table.go; everything that
// reads, writes, checks, draws or offers links asks that table.
package target

import (
	"errors"
	"strings"

	"chrysagon/core/facts"
)

// Kind is what a link leads to. Pages, bands, goods and files are named by their
// IDs, so that renaming one keeps its links.
type Kind string

// Target is where a link leads, read from the text as which it is stored:
// checkout, home, yes, no, appointment, act:name, page:ID, band:ID, product:ID, file:ID,
// tel:number, mailto:address or an https address.
type Target struct {
	Kind  Kind
	Value string // the ID, number, address or, outside, the whole URL
}

// String is the text as which a target is stored.
func (t Target) String() string {
	d := kinds[t.Kind]
	switch {
	case d == nil || d.read == nil:
		return string(t.Kind)
	case d.whole:
		return t.Value
	}
	return string(t.Kind) + ":" + t.Value
}

// OfPage tells whether such a link makes sense only on a page: it leads to something on the
// same one, or where a visitor's walk goes on from there.
func (k Kind) OfPage() bool { d := kinds[k]; return d != nil && d.here }

// Most is the longest text of a target, in bytes.
const Most = 500

// Parse reads a stored target. Anything a browser might run or that names no
// host is refused, with a sentence.
func Parse(text string) (Target, error) {
	if len(text) > Most {
		return Target{}, errors.New("a link has at most 500 characters")
	}
	kind, value, named := strings.Cut(text, ":")
	d := kinds[Kind(kind)]
	if kind == "http" {
		d = kinds[Outside]
	}
	if d != nil && named == (d.read != nil) {
		if d.read == nil {
			return Target{Kind: d.kind}, nil
		}
		if d.whole {
			value = text
		}
		if value, ok := d.read(value); ok {
			return Target{d.kind, value}, nil
		}
	}
	return Target{}, errors.New("is not somewhere a link can lead; write an address like https://example.org, a number like tel:+351 255 000 111, or choose a page")
}

// Leads tells whether a text is a target that leads somewhere.
func Leads(text string) bool {
	t, err := Parse(text)
	return err == nil && t.Kind != Nowhere
}

// Refers is the type of field that would hold the same name as the target does
// (link, product, file), or "" where it names nothing of the store's.
func (t Target) Refers() string { return t.declared().refers }

// Typed tells whether the target is written by hand, rather than chosen.
func (t Target) Typed() bool { return t.declared().whole || t.declared().typed && t.Value != "" }

// Needs is what must be read to know where links lead.
type Needs struct {
	Pages  []string
	Sold   []string // goods whose live page is asked for
	Files  []string
	Booked bool // where an appointment is given
}

// Add notes what a target asks for.
func (n *Needs) Add(t Target) {
	if needs := t.declared().needs; needs != nil {
		needs(n, t.Value)
	}
}

// On is what a link may ask of the page on which it stands.
type On struct {
	Facts                  *facts.Facts
	Address                string
	Orders, Answers, Books bool                   // it takes orders, asks for a yes or no, gives appointments
	Band                   func(id string) string // the name of one of its bands, "" where it is gone; nil: not known
}

// Href is where the target is, as an href has it; false when that is nowhere.
func (t Target) Href(on On) (string, bool) {
	if href := t.declared().href; href != nil {
		return href(on, t.Value)
	}
	return "", false
}

// Words say where the target is.
func (t Target) Words(on On) string { return t.declared().words(on, t.Value) }

// Lost is what is wrong with a link whose target is not there.
type Lost struct {
	What, Remedy string
	Stops        bool // a page must not go out with it
}

// Lost says what is wrong with a link to the target, if anything is.
func (t Target) Lost(on On) (Lost, bool) {
	if lost := t.declared().lost; lost != nil {
		if l := lost(on, t.Value); l.What != "" {
			return l, true
		}
	}
	return Lost{}, false
}

// Away says where the target is, when that is away from the page, or "".
func (t Target) Away(on On) string {
	if away := t.declared().away; away != nil {
		return away(on, t.Value)
	}
	return ""
}

// Pressed is the name of the call to action that a link to the target is, which
// leads on by routes; "" where it leads somewhere by itself.
func (t Target) Pressed(on On) string {
	switch {
	case t.Kind == Yes && !on.Answers && !on.Orders, t.Kind == No && !on.Answers:
		return string(t.Kind)
	case t.Kind == Act:
		return t.Value
	}
	return ""
}

// Choice is a target that can be chosen without looking for anything.
type Choice struct{ Value, Label string }

// Offered lists those that make sense on a page.
func Offered(on On) []Choice {
	var out []Choice
	for _, d := range table {
		if d.offered != nil && d.offered(on) {
			t := Target{Kind: d.kind}
			label := t.Words(on)
			if d.choice != "" {
				label = d.choice + label
			}
			out = append(out, Choice{t.String(), label})
		}
	}
	return out
}

func (t Target) declared() *declared {
	if d := kinds[t.Kind]; d != nil {
		return d
	}
	return kinds[Nowhere]
}
