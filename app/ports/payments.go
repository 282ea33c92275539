package ports

import (
	"context"
	"errors"
	"net/http"

	"chrysagon/core/money"
	"chrysagon/core/order"
)

// Payments is the outside service that charges cards.
//
// Charge with a key that was used before gives the first answer again and
// charges nothing. An error of either call means that what happened is not
// known; Conclude settles it.
type Payments interface {
	// Ways are the ways to pay that the service can.
	Ways() []order.Way
	Charge(ctx context.Context, r ChargeRequest) (ChargeAnswer, error)
	// Conclude tells what a key came to. A key not yet charged never will be.
	Conclude(ctx context.Context, key string) (ChargeAnswer, error)
	// Refund gives back part of what was charged. A key that was used before
	// gives the first answer again; after an error it may be asked once more.
	Refund(ctx context.Context, r RefundRequest) (RefundAnswer, error)
	// Told reads what the service says of a charge by itself, once its signature is
	// verified; else it is [ErrForged].
	Told(head http.Header, body []byte) (ChargeAnswer, error)
}

// ErrForged is said of news that does not come from the service.
var ErrForged = errors.New("the signature does not belong to this message")

// RefundRequest asks for money to be given back.
type RefundRequest struct {
	Key       string // idempotency key, stored before the call
	ChargeKey string // of the charge it is taken from
	Amount    money.Money
}

// RefundAnswer is what came of it.
type RefundAnswer struct {
	State   order.RefundState // refunded or refused
	Message string            // why it was refused
}

// ChargeRequest asks for money.
type ChargeRequest struct {
	Key       string      // idempotency key, stored before the call
	Amount    money.Money // to charge, above zero
	Way       order.Way   // by which it is paid; "": by card
	Token     string      // of a card just typed, or one that was kept; "" by any other way
	Reference string      // shown in the till's ledger
	ReturnURL string      // where a buyer comes back to after confirming
}

// ChargeAnswer is what came of it.
type ChargeAnswer struct {
	Key        string
	TillID     string
	State      order.PaymentState // charged, refused, confirming or cancelled
	Message    string             // why it was refused, for the buyer
	KeptToken  string             // charges the same card again
	ConfirmURL string             // where the buyer confirms
}
