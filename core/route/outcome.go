package route

import (
	"regexp"
	"strings"
)

// Outcome is what a visitor did on a step: one of those below, or a named call
// to action that was pressed.
type Outcome string

// The outcomes.
const (
	Submitted Outcome = "submitted" // a form was sent
	Booked    Outcome = "booked"    // an appointment was taken
	Bought    Outcome = "bought"
	Accepted  Outcome = "accepted"
	Declined  Outcome = "declined"
	Left      Outcome = "left" // nothing of all that within the store's minutes; it leads nowhere
	// Unfinished is that of those who left a checkout that they had begun, with their
	// address and their consent to be written to. Nobody is there to be led.
	Unfinished Outcome = "unfinished"
)

// Names of calls to action that mean the same on every page.
const (
	Yes   = "yes"
	No    = "no"
	Call  = "call"  // the telephone was pressed
	Write = "write" // the mail, or a short message
	Map   = "map"   // the way to the store
)

const pressed = "clicked:"

var named = regexp.MustCompile(`^[a-z0-9]+(-[a-z0-9]+)*$`)

// MaxName is the longest name of a call to action.
const MaxName = 40

// Clicked is a named call to action that was pressed.
func Clicked(name string) Outcome { return Outcome(pressed + name) }

// Name is the name of the call to action that was pressed; "" for any other outcome.
func (o Outcome) Name() string {
	name, is := strings.CutPrefix(string(o), pressed)
	if !is {
		return ""
	}
	return name
}

// Known tells whether it is an outcome.
func (o Outcome) Known() bool {
	switch o {
	case Submitted, Booked, Bought, Accepted, Declined, Left, Unfinished:
		return true
	}
	return len(o.Name()) <= MaxName && named.MatchString(o.Name())
}

// Leads tells whether a route can begin at it. Who left, a checkout or anything else, is
// not there to be led, and a press to call, to write or to open a map leaves the page open.
func (o Outcome) Leads() bool {
	switch o.Name() {
	case Call, Write, Map:
		return false
	}
	return o != Left && o != Unfinished
}

// Who says it of a visitor: “Who **buys** goes to …”.
func (o Outcome) Who() string {
	if said, ok := whos[o]; ok {
		return said
	}
	return "presses “" + o.Name() + "”"
}

var whos = map[Outcome]string{
	Submitted: "signs up", Booked: "books", Bought: "buys", Accepted: "says yes", Declined: "says no", Left: "leaves", Unfinished: "begins the checkout, agrees to be written to and does not finish",
	Clicked(Yes): "goes on", Clicked(No): "does not want to", Clicked(Call): "calls", Clicked(Write): "writes", Clicked(Map): "opens the map",
}

// Did is the word on a line of the map.
func (o Outcome) Did() string {
	if said, ok := dids[o]; ok {
		return said
	}
	return o.Name()
}

var dids = map[Outcome]string{
	Submitted: "signed up", Booked: "booked", Bought: "bought", Accepted: "yes", Declined: "no", Left: "left", Unfinished: "not finished",
	Clicked(Yes): "on", Clicked(No): "no", Clicked(Call): "called", Clicked(Write): "wrote", Clicked(Map): "map",
}
