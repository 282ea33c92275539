package manuscript

import (
	"errors"
	"net/url"
	"strings"
)

// TargetKind is what a link leads to.
type TargetKind string

// What links can lead to. Pages and bands are named by their IDs, so that
// renaming one keeps its links.
const (
	Nowhere    TargetKind = ""         // not chosen yet
	ToCheckout TargetKind = "checkout" // the checkout on the same page
	ToPage     TargetKind = "page"     // a page of the store
	ToBand     TargetKind = "band"     // a band of the same page
	ToHome     TargetKind = "home"     // the shop's first page
	ToPhone    TargetKind = "tel"      // a number to ring; empty: the store's
	ToMail     TargetKind = "mailto"   // an address to write to; empty: the store's
	Outside    TargetKind = "https"    // an address outside

	ToYes         TargetKind = "yes"         // the yes of an offer on the same page
	ToNo          TargetKind = "no"          // and its no
	ToAppointment TargetKind = "appointment" // where an appointment is given: on the same page, or on the page that does
	ToProduct     TargetKind = "product"     // the live page that sells one of the goods
	ToFile        TargetKind = "file"        // a file of the store's
)

// Target is where a link leads, read from the text it is stored as: checkout,
// home, yes, no, appointment, page:ID, band:ID, product:ID, file:ID, tel:number, mailto:address or an https address.
type Target struct {
	Kind  TargetKind
	Value string // the ID, number, address or, outside, the whole URL
}

// String is the text as which a target is stored.
func (t Target) String() string {
	switch t.Kind {
	case ToPage, ToBand, ToProduct, ToFile, ToPhone, ToMail:
		return string(t.Kind) + ":" + t.Value
	case Outside:
		return t.Value
	case Nowhere, ToCheckout, ToHome, ToYes, ToNo, ToAppointment:
	}
	return string(t.Kind)
}

// MaxTarget is the longest text of a target, in bytes.
const MaxTarget = 500

// ParseTarget reads a stored target. Anything a browser might run or that
// names no host is refused, with a sentence.
func ParseTarget(text string) (Target, error) {
	if len(text) > MaxTarget {
		return Target{}, errors.New("a link has at most 500 characters")
	}
	kind, value, named := strings.Cut(text, ":")
	switch TargetKind(kind) {
	case Nowhere, ToCheckout, ToHome, ToYes, ToNo, ToAppointment:
		if named {
			break
		}
		return Target{Kind: TargetKind(kind)}, nil
	case ToPage, ToBand, ToProduct, ToFile:
		if value != "" && len(value) <= 40 && strings.Trim(value, idSigns) == "" {
			return Target{TargetKind(kind), value}, nil
		}
	case ToPhone:
		if named && strings.Trim(value, "0123456789+ ()-.") == "" {
			return Target{ToPhone, strings.NewReplacer(" ", "", "(", "", ")", "", "-", "", ".", "").Replace(value)}, nil
		}
	case ToMail:
		if named && !strings.ContainsAny(value, "?&<> \"") && (value == "" || strings.Count(value, "@") == 1) {
			return Target{ToMail, value}, nil
		}
	case Outside, "http":
		if u, err := url.Parse(text); err == nil && u.Host != "" && u.User == nil {
			return Target{Outside, u.String()}, nil
		}
	}
	return Target{}, errors.New("is not somewhere a link can lead; write an address like https://example.org, a number like tel:+351 255 000 111, or choose a page")
}

const idSigns = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-_"
