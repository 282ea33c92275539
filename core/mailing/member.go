package mailing

import (
	"time"
)

// State is how somebody stands to a list.
type State string

// How one can stand to a list.
const (
	Stranger State = ""      // never was on it
	Asked    State = "asked" // joined, and has not confirmed it yet
	On       State = "on"
	Off      State = "off" // left it
)

// Event is what somebody does about a list.
type Event string

// What can be done about a list.
const (
	Joined    Event = "joined"    // by a form, agreeing to its words
	Confirmed Event = "confirmed" // by a press on the page to which the mail leads
	Left      Event = "left"
)

// After is how somebody stands to a list after an event. Joining anew takes leaving back:
// it is agreed to anew. An old mail's button does not: who has left stays off the list
// until they join again. Who is on it is asked for nothing twice.
func (s State) After(e Event, l List) State {
	switch {
	case e == Left && s == Stranger:
		return Stranger
	case e == Left:
		return Off
	case e == Confirmed && s == Asked:
		return On
	case e == Joined && s != On && l.Confirmed:
		return Asked
	case e == Joined:
		return On
	}
	return s
}

// Person is what decides whether somebody may be written to.
type Person struct {
	State  State
	Paused time.Time // until when they want no letters; zero: not paused
	Hushed bool      // their address must never be written to: they said so, or it does not exist
}

// May tells whether a letter of a list may go to somebody at a moment, and if not, why.
func (p Person) May(now time.Time) (why string, may bool) {
	switch {
	case p.Hushed:
		return "their address is not written to", false
	case p.State == Asked:
		return "they have not confirmed it yet", false
	case p.State != On:
		return "they are not on the list", false
	case now.Before(p.Paused):
		return "they want no letters until " + p.Paused.Format("2 January 2006"), false
	}
	return "", true
}
