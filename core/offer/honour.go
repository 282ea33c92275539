package offer

import "time"

// Verdict says at which price a buyer may be charged.
type Verdict string

// The verdicts of [Honour].
const (
	ChargeNow  Verdict = "charge_now"  // today's price, not above what was seen
	ChargeSeen Verdict = "charge_seen" // the price seen, though it has just ended
	TellFirst  Verdict = "tell_first"  // show the new price; charge nothing yet
)

// Honour decides between the total a buyer saw and the total that holds now.
//
// A visitor who saw a price and pays within the store's grace time after it
// ended is charged what they saw; later they are told of the new price before
// anything is charged. changed is the moment at which the seen price stopped
// holding; zero means that it is not known, and then nothing is honoured.
func Honour(seen, now int64, changed, moment time.Time, grace time.Duration) Verdict {
	switch {
	case now <= seen:
		return ChargeNow
	case !changed.IsZero() && !moment.Before(changed) && moment.Sub(changed) <= grace:
		return ChargeSeen
	default:
		return TellFirst
	}
}
