package seal

import (
	"time"

	"chrysagon/core/facts"
	"chrysagon/core/money"
	"chrysagon/core/offer"
)

// Return is a visitor who comes back to pay what they saw.
type Return struct {
	Facts  facts.Facts
	Cart   []offer.Item
	Now    offer.Quote // what the cart comes to now
	At     Place
	ByHand time.Time // the first change by hand since, to the goods of the cart, to offers on them or to the rates; zero: none
}

// Answer is what becomes of it: the quote that is charged, or the one to be shown first.
type Answer struct {
	Quote   offer.Quote
	Verdict offer.Verdict
}

// Honoured decides what is charged: not above what was seen, charge now; ended within the
// grace time, charge what was seen; else tell first. False: what they bring proves nothing
// of this cart here.
func (s Seen) Honoured(r Return) (Answer, bool, error) {
	total, shown := s.Total(r.Facts, r.Cart)
	if !shown || !s.Holds(r.At) {
		return Answer{}, false, nil
	}
	changed, err := s.changed(r)
	if err != nil {
		return Answer{}, true, err
	}
	a := Answer{Quote: r.Now, Verdict: offer.Honour(total, r.Now.Total.Minor, changed, r.Now.Moment, Grace(r.Facts))}
	if a.Verdict == offer.ChargeSeen {
		a.Quote = s.asSeen(r, total)
	}
	return a, true, nil
}

// Known tells whether the changes since it was seen are still known.
func (s Seen) Known(at Place, now time.Time) bool {
	return s.Edition == at.Edition && now.Sub(s.Moment()) <= Kept
}

// changed is the moment at which what a visitor saw stopped holding: an offer's own start
// or end, or the first change by hand, whatever came after. It is zero, so that nothing is
// honoured, for a price of another edition, or one so old that changes since are no longer
// known.
func (s Seen) changed(r Return) (time.Time, error) {
	if !s.Known(r.At, r.Now.Moment) {
		return time.Time{}, nil
	}
	then, err := r.Facts.Quote(r.Cart, s.Moment())
	if err != nil {
		return time.Time{}, err
	}
	changed := then.NextChange
	for at := changed; !at.IsZero(); { // the first change that made it dearer
		next, err := r.Facts.Quote(r.Cart, at)
		if err != nil {
			return time.Time{}, err
		}
		changed = at
		if next.Total.Minor > then.Total.Minor || !next.NextChange.After(at) {
			break
		}
		at = next.NextChange
	}
	if !r.ByHand.IsZero() && (changed.IsZero() || r.ByHand.Before(changed)) {
		changed = r.ByHand
	}
	return changed, nil
}

// Grace is how long a price that was seen is honoured: the store's time, or that of a
// deadline at hand which allows more.
func Grace(f facts.Facts) time.Duration {
	grace := f.Store.Grace
	for _, d := range f.Deadlines {
		grace = max(grace, d.Grace)
	}
	return grace
}

// asSeen is a quote of the total that the visitor saw, with the reason: the very quote
// they saw where it can be computed again, or what now holds less the difference.
func (s Seen) asSeen(r Return, total int64) offer.Quote {
	const name, why = "Price seen", "seen before it ended, paid within the grace time"
	q := r.Now
	then, err := r.Facts.Quote(r.Cart, s.Moment())
	if err == nil && then.Total.Minor == total {
		then.Reductions = append(then.Reductions, offer.Reduction{Name: name, Off: money.Of(0, q.Total.Currency), Why: why})
		return then
	}
	off := money.Of(min(q.Total.Minor-total, q.Subtotal.Minor), q.Total.Currency)
	weights := make([]int64, len(q.Lines))
	for i, l := range q.Lines {
		weights[i] = l.Net.Minor
	}
	if shares, err := off.Split(weights); err == nil {
		for i := range q.Lines {
			q.Lines[i].Off.Minor += shares[i].Minor
			q.Lines[i].Net.Minor -= shares[i].Minor
		}
	}
	q.Reductions = append(q.Reductions, offer.Reduction{Name: name, Off: off, Why: why})
	q.Subtotal.Minor -= off.Minor
	q.Total.Minor = total
	return q
}
