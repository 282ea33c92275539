package main

import (
	"errors"
	"fmt"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/goods"
	"chrysagon/core/ledger"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/pack"
	"chrysagon/core/season"
	"chrysagon/core/shelf"

	"github.com/spf13/cobra"
)

// formats are the documents that the computations take and answer, for
// docs/formats.
var formats = map[string]any{
	"quote.in": offer.Input{}, "quote.out": offer.Quote{},
	"deadline.in": deadlineIn{}, "deadline.out": deadlineOut{},
	"shelf.in": shelfIn{}, "shelf.out": shelfOut{},
	"ledger.in": ledger.Input{}, "ledger.out": ledger.Struck{},
	"season.in": season.Input{}, "season.out": season.Output{},
	"route.in": routeIn{}, "route.out": routeOut{},
	"rehearse.in": rehearseIn{}, "rehearse.out": rehearseOut{},
	"followup.in": followupIn{}, "followup.out": followupOut{},
	"page": pack.Page{}, "check.out": checkOut{},
}

// computations lists every command that computes.
func computations() []*cobra.Command {
	return []*cobra.Command{quoteCommand(), deadlineCommand(), shelfCommand(), ledgerCommand(), seasonCommand(), routeCommand(), rehearseCommand(), followupCommand(), checkCommand()}
}

func quoteCommand() *cobra.Command {
	return computation("quote", "Price a cart (JSON in, JSON out)", `Reads goods, offers, a cart, codes and a moment, and answers what a buyer pays
and why: docs/formats/quote.md. Amounts are whole minor units. Windows are
closed at their start and open at their end.

Example:
  chrysagon quote <<'END'
  {"currency": "EUR", "zone": "Europe/Lisbon", "moment": "2026-11-23T12:33:00Z",
   "goods":  [{"id": "ember", "name": "Ember 180", "price": {"minor": 6800, "currency": "EUR"}, "stock": 40, "form": "physical"}],
   "offers": [{"id": "week", "name": "Lantern week", "kind": "percent_off", "percent": "25", "product_id": "ember",
               "starts": "2026-11-20T00:00:00Z", "ends": "2026-11-27T23:59:00Z"}],
   "cart":   [{"product_id": "ember", "quantity": 1, "via": "page"}]}
  END`, offer.Compute)
}

type deadlineIn struct {
	Kind    deadline.Kind `json:"kind,omitempty"`             // fixed when empty
	Local   string        `json:"local,omitempty"`            // fixed: date and time in the zone, such as 2026-11-27T23:59
	Zone    string        `json:"zone"`                       // the store's, IANA name
	Day     string        `json:"day,omitempty"`              // visitor_midnight: the day that ends; empty: every day
	Start   string        `json:"start,omitempty"`            // repeating: first date and time in the zone
	Rule    string        `json:"rule,omitempty"`             // repeating: the value of an RRULE (RFC 5545)
	Runs    int64         `json:"runs_seconds,omitempty"`     // repeating: how long before each occurrence it runs
	Span    int64         `json:"span_seconds,omitempty"`     // span: how long after the first sight
	Grace   int64         `json:"grace_seconds,omitempty"`    // how long after it a price that was seen is honoured
	Visitor visitorIn     `json:"visitor,omitzero"`           // whom it is shown to
	Moment  time.Time     `json:"moment"`                     // at which it is looked at
	List    int           `json:"list_occurrences,omitempty"` // repeating: how many to list, at most 1000
}

type visitorIn struct {
	Zone      string    `json:"zone,omitempty"`      // IANA name; empty: not known, the store's is taken
	FirstSeen time.Time `json:"first_seen,omitzero"` // of this deadline; none: now is the first sight
}

type deadlineOut struct {
	At          time.Time     `json:"at"`                   // the moment it ends
	Opens       time.Time     `json:"opens,omitzero"`       // since when it runs
	Written     string        `json:"written"`              // in full, in the zone it is meant in
	Left        deadline.Left `json:"left"`                 // days of 24 hours
	Passed      bool          `json:"passed"`               // the instant itself is over
	Runs        bool          `json:"runs"`                 // what is bound to it holds
	Personal    bool          `json:"personal"`             // differs from visitor to visitor
	GraceUntil  time.Time     `json:"grace_until,omitzero"` // last instant at which a price that was seen is honoured
	Occurrences []time.Time   `json:"occurrences,omitempty"`
}

func deadlineCommand() *cobra.Command {
	return computation("deadline", "Resolve a deadline and what is left (JSON in, JSON out)", `Reads a deadline of any kind, a visitor and a moment, and answers the moment it
means for them, written out, and how much is left: docs/formats/deadline.md. A
local time that a clock change skips moves forward by the gap; one that comes
twice means the first.

Example:
  chrysagon deadline <<'END'
  {"local": "2026-11-27T23:59", "zone": "Europe/Lisbon", "moment": "2026-11-23T12:33:00Z"}
  END`, resolveDeadline)
}

func resolveDeadline(in deadlineIn) (deadlineOut, error) {
	if in.Moment.IsZero() {
		return deadlineOut{}, errors.New("moment: missing; write it like 2026-11-23T12:33:00Z")
	}
	seconds := func(n int64) time.Duration { return time.Duration(min(max(n, -1), 1<<32)) * time.Second }
	d := deadline.Deadline{
		Kind: in.Kind, Zone: in.Zone, Day: in.Day, Start: in.Start, Rule: in.Rule,
		Runs: seconds(in.Runs), Span: seconds(in.Span), Grace: seconds(in.Grace),
	}
	if d.Kind == deadline.Fixed || d.Kind == "" {
		at, err := deadline.Resolve(in.Local, in.Zone)
		if err != nil {
			return deadlineOut{}, fmt.Errorf("local or zone: %w", err)
		}
		d.At = at
	}
	i, err := d.For(deadline.Visitor{Zone: in.Visitor.Zone, FirstSeen: in.Visitor.FirstSeen}, in.Moment)
	if err != nil {
		return deadlineOut{}, err
	}
	out := deadlineOut{
		At: i.At.UTC(), Opens: i.Opens, Written: i.Written(), Left: deadline.Until(i.At, in.Moment),
		Passed: i.Passed(in.Moment), Runs: i.Runs(in.Moment), Personal: i.Personal,
	}
	if d.Grace > 0 {
		if out.GraceUntil = i.At.Add(d.Grace).UTC(); out.GraceUntil.Year() > 9999 {
			return deadlineOut{}, errors.New("grace_seconds: it would end beyond the year 9999; shorten it")
		}
	}
	if d.Kind == deadline.Repeats && in.List > 0 {
		out.Occurrences, err = d.Occurrences(min(in.List, 1000))
	}
	return out, err
}

type shelfIn struct {
	Currency   string            `json:"currency"`
	Zone       string            `json:"zone,omitempty"` // in which days are counted; UTC when empty
	Moment     time.Time         `json:"moment"`
	Attributes []goods.Attribute `json:"attributes,omitempty"` // for their units
	Goods      []shelf.Entry     `json:"goods"`
	Shelf      shelf.Shelf       `json:"shelf"`
}

type shelfOut struct {
	Sentence   string         `json:"sentence"`
	Count      int            `json:"count"`
	Goods      []string       `json:"goods"` // IDs, in order
	Warning    string         `json:"warning,omitempty"`
	Loosen     []shelf.Advice `json:"loosen,omitempty"`
	NextChange time.Time      `json:"next_change,omitzero"` // when days pass; stock, prices and sales change it by themselves
}

func shelfCommand() *cobra.Command {
	return computation("shelf", "Pick goods by a rule (JSON in, JSON out)", `Reads goods and a shelf, and answers what stands on it, in order, the rule as a
sentence, and what to loosen when it is empty: docs/formats/shelf.md. Bounds are
inclusive. Amounts are whole minor units.

Example:
  chrysagon shelf <<'END'
  {"currency": "EUR", "moment": "2026-11-23T12:00:00Z",
   "goods": [{"id": "gull", "name": "Gull 90", "price": {"minor": 2900, "currency": "EUR"}, "condition": "returned"},
             {"id": "ember", "name": "Ember 180", "price": {"minor": 9900, "currency": "EUR"}, "condition": "returned"}],
   "shelf": {"rule": {"all": [{"field": "condition", "is": ["returned", "ex-demo"]}, {"field": "price", "at_most": 8000}]}}}
  END`, pickShelf)
}

func pickShelf(in shelfIn) (shelfOut, error) {
	if _, err := money.Digits(in.Currency); err != nil {
		return shelfOut{}, fmt.Errorf("currency: %w", err)
	}
	if in.Moment.IsZero() {
		return shelfOut{}, errors.New("moment: missing; write it like 2026-11-23T12:33:00Z")
	}
	loc, err := time.LoadLocation(in.Zone)
	if err != nil {
		return shelfOut{}, fmt.Errorf("zone: %q is not a time zone; write it like Europe/Lisbon", in.Zone)
	}
	if err := in.Shelf.Validate(); err != nil {
		return shelfOut{}, fmt.Errorf("shelf.%w", err)
	}
	seen := map[string]bool{}
	for i, e := range in.Goods {
		if e.ID == "" || seen[e.ID] {
			return shelfOut{}, fmt.Errorf("goods[%d].id: %q is empty or used twice", i, e.ID)
		}
		seen[e.ID] = true
		if err := e.Check(in.Currency); err != nil {
			return shelfOut{}, fmt.Errorf("goods[%d].%w", i, err)
		}
		if now := e.Now; now.Currency != "" || now.Minor != 0 {
			if now.Currency != in.Currency {
				return shelfOut{}, fmt.Errorf("goods[%d].now.currency: %q, where all else is in %s: %w", i, now.Currency, in.Currency, money.ErrMixed)
			}
			if now.Minor < 0 || now.Minor > money.Limit {
				return shelfOut{}, fmt.Errorf("goods[%d].now.minor: %d; it must be from 0 to %d", i, now.Minor, money.Limit)
			}
		}
	}
	units := map[string]goods.Attribute{}
	for _, a := range in.Attributes {
		units[a.Name] = a
	}
	at := shelf.Sight{Moment: in.Moment, Zone: loc}
	picked := in.Shelf.Pick(in.Goods, at)
	out := shelfOut{Sentence: in.Shelf.Sentence(in.Currency, units), Count: len(picked), Goods: []string{}, Warning: shelf.Warning(len(picked)), NextChange: in.Shelf.Changes(at)}
	for _, e := range picked {
		out.Goods = append(out.Goods, e.ID)
	}
	if out.Warning != "" {
		out.Loosen = in.Shelf.Loosen(in.Goods, at, in.Currency, units)
	}
	return out, nil
}

func ledgerCommand() *cobra.Command {
	return computation("ledger", "Find the price that may be struck out (JSON in, JSON out)", `Reads the prices that one of the goods has had, and answers which former price
may be struck out beside the present one, or why none may: docs/formats/ledger.md.

Example:
  chrysagon ledger <<'END'
  {"currency": "EUR", "zone": "Europe/Lisbon", "moment": "2026-11-25T12:00:00Z",
   "entries": [{"since": "2026-01-01T00:00:00Z", "price": 6800}, {"since": "2026-11-20T00:00:00Z", "price": 5100}]}
  END`, ledger.Compute)
}

func seasonCommand() *cobra.Command {
	return computation("season", "Lay out a season: days, campaigns, clashes, last order days (JSON in, JSON out)", `Reads a year, countries and campaigns, and answers the days of the retail year,
the campaigns' windows, their clashes, and the last days on which an order still
arrives: docs/formats/season.md.

Example:
  chrysagon season <<'END'
  {"year": 2026, "zone": "Europe/Lisbon", "countries": ["PT"],
   "campaigns": [{"id": "frost", "name": "Frost Lanterns", "goods": ["ember"],
                  "from": {"day": "black_friday", "offset": -10}, "to": {"day": "black_friday", "offset": -1}}],
   "last_orders": [{"arrive_by": {"day": "christmas_eve"}, "handling": 1, "transit": 3, "from": "PT", "to": "PT"}]}
  END`, season.Compute)
}
