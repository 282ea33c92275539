package form

import (
	"strings"

	"chrysagon/core/country"
	"chrysagon/core/deadline"
	"chrysagon/core/offer"
)

// conditions reads when the offer holds.
func (r *reading) conditions() {
	in, c := r.in, &r.offer.Conditions
	c.Only, c.Link, c.Step = offer.Via(in.Only), strings.TrimSpace(in.Link), in.Step
	c.FirstOrder, c.NotReduced = in.FirstOrder, in.NotReduced
	if !c.Only.Known() {
		r.wrong("only", "Choose where the offer holds.")
	}
	if in.Step != "" && !r.known.Steps[in.Step] {
		r.wrong("step", "Choose one of the steps, or any.")
	}
	c.MinQuantity = r.whole("min_quantity", in.MinQuantity)
	c.MaxUses, c.MaxUsesEach = r.whole("max_uses", in.MaxUses), r.whole("max_uses_each", in.MaxUsesEach)
	c.MinSubtotal = r.sum("min_subtotal", in.MinSubtotal)
	r.bound.Code = strings.TrimSpace(in.Code)
	c.NeedsCode = in.NeedsCode || r.bound.Code != ""
	for code := range strings.FieldsFuncSeq(strings.ToUpper(in.Countries), func(r rune) bool { return r == ',' || r == ' ' }) {
		if !country.Known(code) {
			r.wrong("countries", "Write countries by their two letters, such as PT, ES; “"+code+"” is none.")
		}
		c.Countries = append(c.Countries, code)
	}
	r.span()
}

// span reads from when and until when the offer holds.
func (r *reading) span() {
	ends, found := r.known.Deadlines[r.in.DeadlineID]
	if r.bound.DeadlineID = r.in.DeadlineID; r.in.DeadlineID != "" && !found {
		r.wrong("deadline", "Choose one of the deadlines.")
	}
	if r.in.Starts == "" {
		return
	}
	starts, err := deadline.Resolve(r.in.Starts, r.known.Zone)
	if err != nil {
		r.wrong("starts", "Write the day and time it begins.")
	} else if !ends.IsZero() && !starts.Before(ends) {
		r.wrong("starts", "It would begin after its deadline, "+deadline.Written(ends, r.known.Zone)+". Begin it earlier, or choose a later deadline.")
	}
	r.offer.Starts = starts
}
