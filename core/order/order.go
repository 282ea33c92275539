// Package order holds the states of an order and of its payments, and which
// event leads from one to the next.
package order

import "fmt"

// State is where an order stands.
type State string

// The states of an order.
const (
	Open     State = "open"     // begun; nothing reserved, nothing charged
	Paying   State = "paying"   // stock reserved; a charge has been asked for
	Awaited  State = "awaited"  // stock held; the owner says when the money came
	Paid     State = "paid"     // charged; final
	Released State = "released" // given up; stock given back; final
)

// What a payment is for.
const (
	AtCheckout = "checkout" // placing the order
	AsUpsell   = "upsell"   // something added after it
)

// PaymentState is where one attempt to charge stands.
type PaymentState string

// The states of a payment.
const (
	Asked      PaymentState = "asked"      // stored, about to be sent or sent; the answer is not known
	Waiting    PaymentState = "waiting"    // the owner says when the money came
	Confirming PaymentState = "confirming" // the buyer must confirm it at the till
	Charged    PaymentState = "charged"    // final
	Refused    PaymentState = "refused"    // declined by the card's bank; final
	Cancelled  PaymentState = "cancelled"  // the till has promised never to charge it; final
)

// Final tells whether a payment can no longer change.
func (s PaymentState) Final() bool { return s == Charged || s == Refused || s == Cancelled }

// Event is what happened to an order.
type Event string

// The events of an order.
const (
	Pay      Event = "pay"      // the buyer pressed pay; stock was reserved
	Charge   Event = "charge"   // the till charged
	Decline  Event = "decline"  // the till declined, or promised not to charge
	Await    Event = "await"    // the buyer pays by a way that the owner confirms
	Withdraw Event = "withdraw" // nobody came back to pay
)

var table = map[State]map[Event]State{
	Open:   {Pay: Paying, Withdraw: Released},
	Paying: {Charge: Paid, Decline: Open, Await: Awaited},
	// What was awaited and did not come ends the order: its buyer has had its mail.
	Awaited: {Charge: Paid, Decline: Released},
}

// Next returns the state an event leads to, or an error when the event cannot
// happen in this state.
func Next(s State, e Event) (State, error) {
	if to, ok := table[s][e]; ok {
		return to, nil
	}
	return "", fmt.Errorf("an order that is %s cannot take the event %q", s, e)
}

var payments = map[PaymentState][]PaymentState{
	Asked:      {Confirming, Waiting, Charged, Refused, Cancelled},
	Waiting:    {Charged, Cancelled},
	Confirming: {Charged, Refused, Cancelled},
}

// Move tells whether a payment may go from one state to another. Staying
// where it is counts as no move and is refused, so that news that comes twice
// is acted on once.
func Move(from, to PaymentState) error {
	for _, s := range payments[from] {
		if s == to {
			return nil
		}
	}
	return fmt.Errorf("a payment that is %s cannot become %s", from, to)
}
