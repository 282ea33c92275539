package order

import "slices"

// Way is how an order is paid.
type Way string

// The ways to pay.
const (
	ByCard       Way = "card"       // typed in the gateway's own field
	ByAccount    Way = "account"    // on the gateway's own page, to which the buyer is led and from which they come back
	ByTransfer   Way = "transfer"   // to the store's account, within so many days
	OnCollection Way = "collection" // when the buyer fetches it: nothing is sent
)

// manner is how a way is said, and who says that the money came.
type manner struct {
	way    Way
	words  string // to a buyer who chooses
	paid   string // of an order that is paid, to its owner
	byHand bool
}

var manners = []manner{
	{ByCard, "Card", "by card", false},
	{ByAccount, "From your account, on the till’s page", "from an account, at the till", false},
	{ByTransfer, "By bank transfer", "by transfer", true},
	{OnCollection, "When you collect it", "on collection", true},
}

// Ways are all ways to pay, in the order in which they are offered.
func Ways() []Way {
	out := make([]Way, len(manners))
	for i, m := range manners {
		out[i] = m.way
	}
	return out
}

func (w Way) manner() manner {
	if i := slices.IndexFunc(manners, func(m manner) bool { return m.way == w }); i >= 0 {
		return manners[i]
	}
	return manner{}
}

// Words is what a buyer reads who chooses it.
func (w Way) Words() string { return w.manner().words }

// Paid says of an order how it is paid.
func (w Way) Paid() string { return w.manner().paid }

// ByHand tells whether the owner says that the money came: the order waits until then,
// and what goes back goes back by the owner’s hand too.
func (w Way) ByHand() bool { return w.manner().byHand }

// MostHeldDays bounds for how many days goods are held for an order that waits.
const MostHeldDays = 60
