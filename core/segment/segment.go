// Package segment picks people by what they did: each clause of a rule says something of one
// person, and all of them must hold. The same rule is asked of the database (store.BuildSegment).
package segment

import (
	"fmt"
	"slices"
	"time"
)

// Deed is what a clause looks at.
type Deed string

// What a clause can look at.
const (
	OnList  Deed = "on_list" // is on a list, since then
	Bought  Deed = "bought"  // a product, in a paid order
	Ordered Deed = "ordered" // paid orders, at least so many
	Spent   Deed = "spent"   // what those came to, less what went back, at least so much
	Clicked Deed = "clicked" // a link in a letter
	Sent    Deed = "sent"    // was sent a letter
	CameBy  Deed = "came_by" // joined a list by a link of that name
	Known   Deed = "known"   // is known
)

// Deeds lists them in the order in which they are offered.
var Deeds = []Deed{Bought, OnList, Clicked, Sent, Ordered, Spent, CameBy, Known}

// Clause is one condition. It looks at what happened in the last Days days, or since the
// beginning of a day, or ever.
type Clause struct {
	Not     bool   `json:"not,omitempty"`
	Did     Deed   `json:"did"`
	Of      string `json:"of,omitempty"`       // ID of the list, product or letter, or the name of the link; empty: any
	AtLeast int64  `json:"at_least,omitempty"` // orders, or money in minor units; 0: 1
	Days    int    `json:"days,omitempty"`
	Since   string `json:"since,omitempty"` // a day, such as 2026-10-01, where the store is
}

// Rule is some clauses, all of which must hold; none holds for everybody.
type Rule struct {
	All []Clause `json:"all"`
}

// Most clauses of a rule, and days that one looks back.
const (
	MostClauses = 8
	MostDays    = 3660
)

// Event is something that happened to a person.
type Event struct {
	Of    string
	At    time.Time
	Minor int64 // of an order: what it came to, less what went back
}

// Person is what a rule is asked of.
type Person struct {
	Since   time.Time
	Lists   []Event // they are on now, since when
	Bought  []Event // products
	Orders  []Event
	Clicked []Event // letters
	Sent    []Event
	CameBy  []Event // links
}

// From is the moment from which a clause looks at what happened; zero: ever. now is the
// moment at which it is asked.
func (c Clause) From(now time.Time, zone *time.Location) time.Time {
	if c.Days > 0 {
		return now.Add(-time.Duration(c.Days) * 24 * time.Hour)
	}
	if day, err := time.ParseInLocation(time.DateOnly, c.Since, zone); err == nil {
		return day
	}
	return time.Time{}
}

// Least is the number from which a clause holds that counts.
func (c Clause) Least() int64 { return max(c.AtLeast, 1) }

// Holds tells whether a rule holds for a person at a moment.
func (r Rule) Holds(p Person, now time.Time, zone *time.Location) bool {
	return !slices.ContainsFunc(r.All, func(c Clause) bool { return c.did(p, now, zone) == c.Not })
}

func (c Clause) did(p Person, now time.Time, zone *time.Location) bool {
	from := c.From(now, zone)
	some := func(list []Event) bool {
		return slices.ContainsFunc(list, func(e Event) bool { return (c.Of == "" || e.Of == c.Of) && !e.At.Before(from) })
	}
	switch c.Did {
	case OnList:
		return some(p.Lists)
	case Bought:
		return some(p.Bought)
	case Clicked:
		return some(p.Clicked)
	case Sent:
		return some(p.Sent)
	case CameBy:
		return some(p.CameBy)
	case Known:
		return !p.Since.Before(from)
	case Ordered, Spent:
		sum := int64(0)
		for _, o := range p.Orders {
			if o.At.Before(from) {
				continue
			}
			if c.Did == Ordered {
				sum++
			} else {
				sum += o.Minor
			}
		}
		return sum >= c.Least()
	}
	return false
}

// Faults says what must be mended before a rule is asked, each in a sentence.
func (r Rule) Faults() []string {
	var out []string
	if len(r.All) > MostClauses {
		out = append(out, fmt.Sprintf("A sentence has at most %d conditions.", MostClauses))
	}
	for i, c := range r.All {
		switch {
		case !slices.Contains(Deeds, c.Did):
			out = append(out, fmt.Sprintf("Choose what condition %d looks at.", i+1))
		case c.Days < 0 || c.Days > MostDays:
			out = append(out, fmt.Sprintf("Condition %d looks back at most %d days.", i+1, MostDays))
		case c.AtLeast < 0:
			out = append(out, fmt.Sprintf("Condition %d counts from 1 on.", i+1))
		case len(c.Of) > 80:
			out = append(out, fmt.Sprintf("Condition %d names something that is not there.", i+1))
		case c.Since != "":
			if _, err := time.Parse(time.DateOnly, c.Since); err != nil {
				out = append(out, fmt.Sprintf("Condition %d: write the day as 2026-10-01.", i+1))
			}
		}
	}
	return out
}
