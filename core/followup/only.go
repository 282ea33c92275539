package followup

import (
	"slices"
	"strings"
	"time"
)

// Only is to whom alone of those on the line a letter is sent: to who did something by then,
// at any time, or to who did not. The zero Only is everybody.
//
// It is written as one word: clicked, not_bought:ember.
type Only struct {
	Not bool
	Did Happening
	Of  string // empty: any; of letters: any of this line
}

// Forks lists what a letter can hang on, in the order in which it is offered.
var Forks = []Happening{Clicked, Bought, Submitted, Joined, Booked, Declined, Unfinished}

// did says what people did with whom a letter hangs on that, and what they did not.
var did = map[Happening][2]string{
	Clicked: {"for who has clicked", "for who has not clicked"}, Bought: {"for who has bought that", "for who has not bought that"},
	Submitted: {"for who has sent that form", "for who has not sent that form"}, Joined: {"for who is on that list", "for who is not on that list"},
	Booked: {"for who has booked", "for who has not booked"}, Declined: {"for who has declined that", "for who has not declined that"},
	Unfinished: {"for who has left that checkout", "for who has not left that checkout"},
}

const negated = "not_"

// String writes it as one word; everybody is none.
func (o Only) String() string {
	text := string(o.Did)
	if o.Not {
		text = negated + text
	}
	if o.Of != "" {
		text += ":" + o.Of
	}
	return text
}

// ParseOnly reads that word. One that says nothing known is told by [Followup.Faults].
func ParseOnly(text string) Only {
	what, of, _ := strings.Cut(text, ":")
	what, not := strings.CutPrefix(what, negated)
	return Only{Not: not, Did: Happening(what), Of: of}
}

// MarshalText writes it as [Only.String] does, for JSON.
func (o Only) MarshalText() ([]byte, error) { return []byte(o.String()), nil }

// UnmarshalText reads it as [ParseOnly] does; it never fails.
func (o *Only) UnmarshalText(text []byte) error {
	*o = ParseOnly(string(text))
	return nil
}

func (o Only) known() bool { return o == Only{} || slices.Contains(Forks, o.Did) }

// holds tells whether a letter that is due at a moment is for somebody of whom that happened.
func (o Only) holds(f Followup, history []Event, at time.Time) bool {
	if o.Did == "" {
		return true
	}
	done := slices.ContainsFunc(history, func(e Event) bool {
		switch {
		case e.What != o.Did || e.At.After(at):
			return false
		case o.Did == Clicked && o.Of == "":
			return f.has(e.Of)
		}
		return o.Of == "" || e.Of == o.Of
	})
	return done != o.Not
}

// why is for whom it is.
func (o Only) why() string {
	if o.Not {
		return did[o.Did][1]
	}
	return did[o.Did][0]
}

// HangsOn lists what the letters of a line hang on, once each; clicks in its own letters are
// none, as they are known of everybody on it.
func (f Followup) HangsOn() []Only {
	var out []Only
	for _, s := range f.Steps {
		o := Only{Did: s.Only.Did, Of: s.Only.Of}
		if o.Did == "" || o == (Only{Did: Clicked}) || slices.Contains(out, o) {
			continue
		}
		out = append(out, o)
	}
	return out
}
