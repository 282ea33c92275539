package order

// RefundState is where a refund of one payment stands.
type RefundState string

// The states of a refund.
const (
	RefundAsked   RefundState = "asked"    // decided and stored; the till's answer is not known
	Refunded      RefundState = "refunded" // final
	RefundRefused RefundState = "refused"  // by the till; final
)

// Final tells whether a refund can no longer change.
func (s RefundState) Final() bool { return s == Refunded || s == RefundRefused }
