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

// What can happen.
const (
	Joined  Happening = "joined"  // a list; where it confirms, once they had confirmed it
	Left    Happening = "left"    // a list, or all
	Bought  Happening = "bought"  // a product
	Clicked Happening = "clicked" // a letter
	Wrote   Happening = "wrote"   // a letter of ours that is not of this line went to them
)

// Event is one happening.
type Event struct {
	What Happening `json:"what"`
	Of   string    `json:"of,omitempty"` // ID of the list, product or letter
	At   time.Time `json:"at"`
}

// Followup is a line of time.
type Followup struct {
	Begins Begin     `json:"begins"`
	Steps  []Step    `json:"steps"`
	Hours  Hours     `json:"hours,omitzero"`
	ADay   int       `json:"a_day,omitempty"`  // letters at most to one person on one day of theirs; 0: any number
	Lapses bool      `json:"lapses,omitempty"` // one more than that is not sent at all; else it waits for the next day
	Bought string    `json:"bought,omitempty"` // the product that ends it; empty: any
	Until  time.Time `json:"until,omitzero"`   // the moment after which no letter of it is sent; zero: none
}

// Begin is what begins it.
type Begin struct {
	What Happening `json:"what"`
	Of   string    `json:"of,omitempty"` // empty: any
}

// Step is one letter of the line.
type Step struct {
	Letter  string `json:"letter"`         // ID of its page
	Days    int    `json:"days,omitempty"` // after the one before, or after the beginning
	Minutes int    `json:"minutes,omitempty"`
	Clock   *Clock `json:"clock,omitempty"` // at which it comes on that day; nil: when the span is over
	Only    Only   `json:"only,omitempty"`  // to whom alone it is sent
}

// Only is to whom alone of those on the line a letter is sent.
type Only string

// Whom a letter can be for.
const (
	Everybody  Only = ""
	HasClicked Only = "clicked"     // a link in a letter of this line
	NotClicked Only = "not_clicked" // none
)

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
