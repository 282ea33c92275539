// Package publish holds the rules of what may go out: how a page may be named
// and addressed, and whether a campaign's draft may become an edition.
package publish

import (
	"fmt"
	"strings"
)

// Naming is what a page is called and where it is found.
type Naming struct{ Name, Address, Title, Description string }

// The most characters each part of a naming has.
const (
	MaxName        = 80
	MaxAddress     = 60
	MaxTitle       = 120
	MaxDescription = 1000
)

// reserved are the shopfront's own addresses.
var reserved = map[string]bool{
	"assets": true, "clock": true, "contact": true, "favicon": true, "hooks": true, "letters": true, "orders": true, "outside": true, "to": true,
	"pictures": true, "privacy": true, "robots": true, "sitemap": true, "terms": true,
}

// Reserved tells whether an address is the shopfront's own.
func Reserved(address string) bool { return reserved[address] }

// Faults says, part by part, what must be mended. An empty map means all is well.
func (n Naming) Faults() map[string]string {
	faults := map[string]string{}
	if n.Name == "" || len([]rune(n.Name)) > MaxName {
		faults["name"] = fmt.Sprintf("Give the page a name of at most %d characters.", MaxName)
	}
	switch {
	case !wellFormed(n.Address) || len(n.Address) > MaxAddress:
		faults["address"] = fmt.Sprintf("An address has only small letters, digits and single hyphens between them, at most %d, such as night-flight.", MaxAddress)
	case Reserved(n.Address):
		faults["address"] = "This address is the shop's own. Choose another."
	}
	if len([]rune(n.Title)) > MaxTitle {
		faults["title"] = fmt.Sprintf("A title has at most %d characters.", MaxTitle)
	}
	if len([]rune(n.Description)) > MaxDescription {
		faults["description"] = fmt.Sprintf("A description has at most %d characters.", MaxDescription)
	}
	return faults
}

// wellFormed tells whether an address is words of small letters and digits,
// joined by single hyphens.
func wellFormed(address string) bool {
	for word := range strings.SplitSeq(address, "-") {
		if word == "" || strings.Trim(word, "abcdefghijklmnopqrstuvwxyz0123456789") != "" {
			return false
		}
	}
	return true
}

// Draft is what is known of a campaign's draft when it is about to go out.
type Draft struct {
	Stops   int // findings of the launch check that stop publishing
	Faults  int // of its funnel
	Live    int // number of the edition that is live; 0: none
	Differs int // places in which it differs from that edition
}

// Refusal says why a draft may not go out, or "" when it may.
func (d Draft) Refusal() string {
	switch {
	case d.Stops > 0 || d.Faults > 0:
		return "Something keeps this from going out; mend what stops publishing first."
	case d.Live > 0 && d.Differs == 0:
		return fmt.Sprintf("Nothing has changed since edition %d, so there is nothing to publish.", d.Live)
	}
	return ""
}
