package route

import "slices"

// Kind is what a step does in its funnel.
type Kind string

// The kinds of step.
const (
	OptIn       Kind = "opt_in"
	Bridge      Kind = "bridge"
	Sales       Kind = "sales"
	List        Kind = "shelf" // a list of goods
	UpsellAt    Kind = "upsell"
	DownsellAt  Kind = "downsell" // a smaller offer to who declined an upsell
	ThankYou    Kind = "thank_you"
	Appointment Kind = "appointment"
	Outside     Kind = "outside" // an address elsewhere
	File        Kind = "file"    // a file is handed out, and the path ends
	End         Kind = "end"     // the path ends, at the shop's first page
)

// trait is what is known of a kind of step.
type trait struct {
	kind     Kind
	title    string // as it is said: “an upsell”
	template string // from which its page is made where nobody chooses another
	outcomes []Outcome
	must     []Outcome // those that need a route; the others may stay on the page
	entrance bool      // visitors come in here by its address
	paid     bool      // it is for who has paid
}

// traits lists the kinds in the order in which a visitor meets them.
var traits = []trait{
	{kind: OptIn, title: "opt-in page", template: "opt-in", outcomes: []Outcome{Submitted}, entrance: true},
	{kind: Bridge, title: "bridge page", template: "bridge", outcomes: []Outcome{Clicked(Yes)}},
	{kind: List, title: "goods page", template: "clearance", entrance: true},
	{kind: Appointment, title: "appointment page", template: "appointment", outcomes: []Outcome{Booked}, entrance: true},
	{kind: Outside, title: "page outside", outcomes: []Outcome{Clicked(Yes)}},
	{kind: Sales, title: "sales page", template: "sales", outcomes: []Outcome{Bought}, must: []Outcome{Bought}, entrance: true},
	{kind: UpsellAt, title: "upsell", template: "upsell", outcomes: []Outcome{Accepted, Declined}, must: []Outcome{Accepted, Declined}, paid: true},
	{kind: DownsellAt, title: "downsell", template: "downsell", outcomes: []Outcome{Accepted, Declined}, must: []Outcome{Accepted, Declined}, paid: true},
	{kind: ThankYou, title: "thank-you page", template: "thank-you", paid: true},
	{kind: File, title: "file handed out"},
	{kind: End, title: "end"},
}

// Kinds lists the kinds of step in the order in which a visitor meets them.
func Kinds() []Kind {
	out := make([]Kind, len(traits))
	for i, t := range traits {
		out[i] = t.kind
	}
	return out
}

func (k Kind) trait() trait {
	if i := slices.IndexFunc(traits, func(t trait) bool { return t.kind == k }); i >= 0 {
		return traits[i]
	}
	return trait{}
}

// Known tells whether there is such a kind.
func (k Kind) Known() bool { return k.trait().kind != "" }

// Title is the kind as it is said.
func (k Kind) Title() string { return k.trait().title }

// Template names what its page is made from where nobody chooses another; "" where it
// has no page.
func (k Kind) Template() string { return k.trait().template }

// Outcomes lists the outcomes a step of this kind has by itself; what its
// buttons name comes beside. A step without any ends its path.
func (k Kind) Outcomes() []Outcome { return k.trait().outcomes }

// Must lists the outcomes that need a route. Where another has none, its
// visitors stay on the page.
func (k Kind) Must() []Outcome { return k.trait().must }

// Entrance tells whether visitors come in at such a step by its address.
func (k Kind) Entrance() bool { return k.trait().entrance }

// AfterPayment tells whether such a step is for who has paid.
func (k Kind) AfterPayment() bool { return k.trait().paid }

// Offers tells whether such a step asks for a yes or no after paying.
func (k Kind) Offers() bool { return k == UpsellAt || k == DownsellAt }

// Paged tells whether such a step is a page of the store.
func (k Kind) Paged() bool { return k != Outside && k != File && k != End }

// Ends tells whether a path can end here.
func (k Kind) Ends() bool { return k == ThankYou || k == File || k == End }
