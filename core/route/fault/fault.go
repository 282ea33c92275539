// Package fault finds what would go wrong on a funnel's paths: steps that nobody reaches, circles, goods offered twice, offers that nobody paid before.
package fault

import (
	"cmp"
	"slices"

	"chrysagon/core/check"
	"chrysagon/core/route"
)

// Input is a funnel with what is known of its steps.
type Input struct {
	Funnel route.Funnel      `json:"funnel"`
	About  map[string]About  `json:"about,omitempty"`  // by step
	Goods  map[string]string `json:"goods,omitempty"`  // names of goods, by ID
	Bound  []Bound           `json:"bound,omitempty"`  // offers that hold on some steps only
	Linked []string          `json:"linked,omitempty"` // steps to which tracked links lead
}

// About is what is known of a step's page.
type About struct {
	Sells    string     `json:"sells,omitempty"`                         // goods that its checkout, or its yes, charges
	Others   [][]string `json:"others,omitempty"`                        // goods of what else its checkout lets choose
	Bumps    []string   `json:"bumps,omitempty" jsonschema:"maxItems=3"` // goods of its order bumps
	Price    int64      `json:"price,omitempty"`                         // of what it sells, in minor units
	Travels  bool       `json:"travels,omitempty"`                       // what it sells goes by parcel
	Asks     bool       `json:"asks,omitempty"`                          // its checkout asks for an address
	Mentions []string   `json:"mentions,omitempty"`                      // goods that its words speak of as bought
	Buttons  []string   `json:"buttons,omitempty"`                       // the calls to action it names
	Summary  bool       `json:"summary,omitempty"`                       // it shows what was bought
}

// Bound is an offer that holds on some steps only.
type Bound struct {
	Offer string   `json:"offer"` // its name
	Steps []string `json:"steps"`
}

// Fault is one thing that would go wrong.
type Fault struct {
	Rule    string         `json:"rule"`
	StepID  string         `json:"step_id"`
	Outcome route.Outcome  `json:"outcome,omitempty"`
	What    string         `json:"what"`
	Remedy  string         `json:"remedy"`
	Gravity check.Gravity  `json:"gravity"`
	Mend    *route.Command `json:"mend,omitempty"` // what mends it at one press
}

// rule is one thing that is proved.
type rule struct {
	name   string
	proves string // what holds where nothing is found
	find   func(*reading) []Fault
}

var rules = []rule{
	{"way", "every outcome leads on", ways},
	{"button", "each button has its route", buttons},
	{"reached", "every step is reached", reached},
	{"circle", "every path ends", circles},
	{"unpaid", "no way to an offer unpaid", unpaid},
	{"checkout", "no checkout after a checkout", checkouts},
	{"twice", "nothing is sold twice", twice},
	{"again", "no “no” leads to the same again", again},
	{"dearer", "no downsell is dearer", dearer},
	{"address", "an address is asked for what travels", addresses},
	{"words", "offers speak of what was bought", words},
	{"shares", "every fork divides", shares},
	{"outside", "pages outside lead back", outside},
	{"summary", "the order is summed up", summaries},
	{"bound", "offers bound to steps are met", bound},
	{"never", "every condition can hold", never},
}

// Proved lists what was proved: what the rules that found nothing prove.
func Proved(found []Fault) []string {
	var out []string
	for _, r := range rules {
		if !slices.ContainsFunc(found, func(f Fault) bool { return f.Rule == r.name }) {
			out = append(out, r.proves)
		}
	}
	return out
}

// Find lists what would go wrong, the gravest first, in the order of the steps.
func Find(in Input) []Fault {
	if len(in.Funnel.Steps) == 0 {
		return []Fault{{Rule: "reached", What: "The funnel has no step.", Remedy: "Begin it from a plan.", Gravity: check.Stops}}
	}
	r := read(in)
	var all []Fault
	for _, one := range rules {
		for _, f := range one.find(r) {
			f.Rule = one.name
			all = append(all, f)
		}
	}
	grave := []check.Gravity{check.Stops, check.Mend, check.Notice}
	slices.SortStableFunc(all, func(a, b Fault) int {
		return cmp.Or(slices.Index(grave, a.Gravity)-slices.Index(grave, b.Gravity), r.index[a.StepID]-r.index[b.StepID])
	})
	return all
}

// Stopping tells whether any of them stops publishing.
func Stopping(list []Fault) bool {
	return slices.ContainsFunc(list, func(f Fault) bool { return f.Gravity == check.Stops })
}
