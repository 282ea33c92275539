package pages

import (
	"fmt"
	"strings"

	"chrysagon/core/check"
	"chrysagon/core/words"
)

// next is what a page needs next, as one sentence and one press.
type next struct {
	Says    string
	More    string // what else there is
	Do      string // words of the press
	Link    string
	Gravity string // stops, mend, or good
	Outside bool   // it leads out of the studio
}

// Next is what the page needs next: what keeps it from going out, then what is to be mended,
// then that it goes out; shop is where it can be looked at.
func (p pageCard) Next(shop string) next {
	worst, others := p.worst()
	switch {
	case worst != nil:
		n := next{Says: worst.What, Do: "Mend it", Link: "/pages/" + p.ID, Gravity: "mend"}
		if worst.Gravity == check.Stops {
			n.Gravity = "stops"
		}
		if others > 0 {
			n.More = fmt.Sprintf("And %d more.", others)
		}
		return n
	case p.Live == "":
		return next{Says: "It can go out: nothing is to mend.", Do: "Publish…", Link: "/publish", Gravity: "mend"}
	case p.Change != nil:
		return next{Says: p.differs() + " from what is live.", Do: "Publish…", Link: "/publish", Gravity: "mend"}
	case p.AfterPay():
		return next{Says: "Live as drafted, for whoever has paid.", Do: "Write", Link: "/pages/" + p.ID, Gravity: "good"}
	}
	return next{Says: "Live as drafted, nothing to mend.", Do: "See it live", Link: shop + "/" + p.Live, Gravity: "good", Outside: true}
}

func (p pageCard) worst() (worst *check.Finding, others int) {
	for i, f := range p.Findings {
		if worst == nil || (f.Gravity == check.Stops && worst.Gravity != check.Stops) {
			worst = &p.Findings[i]
		}
	}
	return worst, len(p.Findings) - 1
}

// differs says in what the draft is unlike what is live.
func (p pageCard) differs() string {
	if n := len(p.Change.Bands); n > 0 {
		verb := "differ"
		if n == 1 {
			verb = "differs"
		}
		return words.Count(n, "band") + " " + verb
	}
	said := strings.Join(p.Change.Words, ", ")
	if said == "" {
		return "Something of it differs"
	}
	return strings.ToUpper(said[:1]) + said[1:] + " differs"
}
