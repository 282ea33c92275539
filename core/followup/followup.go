// Package followup computes who gets which letter when: a follow-up is a line of time that
// begins with something a person did, holds letters after spans or at clock times, and ends
// when they have done what it was for.
//
// What it tells is a function of what happened and of nothing else: not of when that became
// known, nor of in which order.
package followup

import (
	"time"
)

// Happening is something that a person did, or that was done to them.
type Happening string

// What can happen. All but the last two can begin a line.
const (
	Joined     Happening = "joined"     // a list; where it confirms, once they had confirmed it
	Submitted  Happening = "submitted"  // the form of a page
	Bought     Happening = "bought"     // a product
	Declined   Happening = "declined"   // the offer of a page, after paying
	Unfinished Happening = "unfinished" // the checkout of a page: what they typed last, and did not pay for
	Clicked    Happening = "clicked"    // a letter
	Booked     Happening = "booked"     // an appointment by a page
	Nears      Happening = "nears"      // a deadline: so many days before it, see [Begin.Before]
	Meets      Happening = "meets"      // an appointment of theirs: so many days before it
	Left       Happening = "left"       // a list, or all
	Wrote      Happening = "wrote"      // a letter of ours that is not of this line went to them
)

// Event is one happening.
type Event struct {
	What Happening `json:"what"`
	Of   string    `json:"of,omitempty"` // ID of the list, product, page, letter or deadline
	At   time.Time `json:"at"`
}

// Followup is a line of time.
type Followup struct {
	Begins Begin     `json:"begins"`
	Steps  []Step    `json:"steps"`
	Hours  Hours     `json:"hours,omitzero"`
	ADay   int       `json:"a_day,omitempty"`  // letters at most to one person on one day of theirs; 0: any number
	Lapses bool      `json:"lapses,omitempty"` // one more than that is not sent at all; else it waits for the next day
	List   string    `json:"list,omitempty"`   // whose letters these are: leaving it ends them; empty: the one that begins it
	Bought string    `json:"bought,omitempty"` // the product that ends it; empty: any
	Stays  bool      `json:"stays,omitempty"`  // no purchase ends it
	Until  time.Time `json:"until,omitzero"`   // the moment after which no letter of it is sent; zero: none
}

// Begin is what begins it.
type Begin struct {
	What Happening `json:"what"`
	Of   string    `json:"of,omitempty"`   // empty: any
	Days int       `json:"days,omitempty"` // before what nears or is met
}

// Before is the moment that lies so many days before another, at the same time of the day in
// a zone.
func (b Begin) Before(t time.Time, zone *time.Location) time.Time {
	return t.In(zone).AddDate(0, 0, -b.Days)
}

// Ahead tells whether it counts days up to something.
func (b Begin) Ahead() bool { return b.What == Nears || b.What == Meets }

// Step is one letter of the line.
type Step struct {
	Letter  string `json:"letter"`         // ID of its page
	Days    int    `json:"days,omitempty"` // after the one before, or after the beginning
	Minutes int    `json:"minutes,omitempty"`
	Clock   *Clock `json:"clock,omitempty"` // at which it comes on that day; nil: when the span is over
	Only    Only   `json:"only,omitzero"`   // to whom alone it is sent
}

// Clock is a time of the day.
type Clock struct {
	Hour   int `json:"hour"`
	Minute int `json:"minute"`
}

// Outcome is what becomes of a letter.
type Outcome string

// What can become of one.
const (
	Sent    Outcome = "sent"
	Ended   Outcome = "ended"    // the line had ended by then
	TooLate Outcome = "too_late" // it would have come after the deadline
	Skipped Outcome = "skipped"  // it is for others
	Lapsed  Outcome = "lapsed"   // they had as many letters that day as they may get
)

// Told is what becomes of one letter, and when.
type Told struct {
	Step    int       `json:"step"`
	Letter  string    `json:"letter"`
	At      time.Time `json:"at"`
	Outcome Outcome   `json:"outcome"`
	Why     string    `json:"why,omitempty"`
}
