package order

import "fmt"

// Handling is what has become of a paid order's goods.
type Handling string

// The states of handling.
const (
	ToPack Handling = "to_pack" // paid, and waiting for the owner
	Sent   Handling = "sent"    // on its way
	Done   Handling = "done"    // nothing is left to do
)

// Deed is what an owner does with a paid order.
type Deed string

// The deeds.
const (
	Send   Deed = "send"   // it has been handed to a carrier
	Finish Deed = "finish" // it has arrived, or was handed over
	Reopen Deed = "reopen" // it is to be packed after all
)

var handling = map[Handling]map[Deed]Handling{
	ToPack: {Send: Sent, Finish: Done},
	Sent:   {Finish: Done, Reopen: ToPack},
	Done:   {Reopen: ToPack},
}

// Handle returns the state a deed leads to, or an error when it cannot be done in
// this state.
func Handle(from Handling, d Deed) (Handling, error) {
	if to, ok := handling[from][d]; ok {
		return to, nil
	}
	return "", fmt.Errorf("an order that is %s cannot take the deed %q", from.Words(), d)
}

// Words says where an order stands.
func (h Handling) Words() string {
	switch h {
	case ToPack:
		return "to pack"
	case Sent:
		return "sent"
	case Done:
		return "done"
	}
	return string(h)
}

// Begin is where a paid order begins: what is downloaded leaves nothing to pack.
func Begin(travels bool) Handling {
	if travels {
		return ToPack
	}
	return Done
}

// Standing is where an order stands for its owner: how it is handled, or that its
// payment is not settled, or that all of it went back.
func Standing(s State, h Handling, total, refunded int64) string {
	switch {
	case s == Awaited:
		return "awaited"
	case s != Paid:
		return "waiting"
	case total > 0 && refunded >= total:
		return "refunded"
	}
	return string(h)
}
