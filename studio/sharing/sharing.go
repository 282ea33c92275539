// Package sharing tells which offers and deadlines goods and pages have in common.
package sharing

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"chrysagon/app/offers"
	"chrysagon/core/deadline"
)

// OfferRow is an offer as the Offers place lists it.
type OfferRow struct {
	offers.OfferRecord
	Does, On, Window, Status string
	Uses                     string
}

// RowOf is an offer as lists show it; names are those of the goods.
func RowOf(o offers.OfferRecord, c offers.Choices, names map[string]string, now time.Time) OfferRow {
	r := OfferRow{OfferRecord: o, Does: o.Rule.Describe()}
	switch {
	case o.ShelfName != "":
		r.On = "the shelf “" + o.ShelfName + "”"
	case o.General:
		r.On = "everything"
	case len(o.Goods) == 1:
		r.On = names[o.Goods[0]]
	default:
		r.On = fmt.Sprintf("%d goods", len(o.Goods))
	}
	if o.StartsAt != nil {
		r.Window = "from " + deadline.Short(*o.StartsAt, c.Store.Zone)
	}
	for _, d := range c.Deadlines {
		if o.DeadlineID != nil && *o.DeadlineID == d.ID {
			r.Window = strings.TrimSpace(r.Window + " until " + d.Name)
		}
	}
	switch {
	case o.EndedAt != nil:
		r.Status = "ended by hand"
	case o.Rule.Holds(now):
		r.Status = "holds now"
	case now.Before(o.Rule.Starts):
		r.Status = "to come"
	default:
		r.Status = "ended"
	}
	if r.Window == "" {
		r.Window = "without end"
	}
	switch {
	case o.MaxUses > 0:
		r.Uses = fmt.Sprintf("used %d of %d", o.Used, o.MaxUses)
	case o.Codes == 1:
		r.Uses = "code " + o.Code
	case o.Codes > 1:
		r.Uses = fmt.Sprintf("%d codes", o.Codes)
	}
	return r
}

// OffersOn lists the offers that can touch one of the goods, for its slip.
func OffersOn(product string, c offers.Choices, now time.Time) []OfferRow {
	var out []OfferRow
	names := c.Names()
	for _, o := range c.Offers {
		if o.EndedAt == nil && (o.General || slices.Contains(o.Goods, product)) {
			out = append(out, RowOf(o, c, names, now))
		}
	}
	return out
}

// Sharing is a deadline with what shares it, as it stands now.
type Sharing struct {
	deadline.Deadline
	Now    deadline.Instance
	Offers []string
}

// Shared is a deadline with all that follow it.
func Shared(id string, c offers.Choices, now time.Time) *Sharing {
	for _, d := range c.Deadlines {
		if d.ID != id {
			continue
		}
		s := &Sharing{Deadline: d}
		s.Now, _ = d.For(deadline.Visitor{}, now)
		for _, o := range c.Offers {
			if o.DeadlineID != nil && *o.DeadlineID == id {
				s.Offers = append(s.Offers, o.Name)
			}
		}
		return s
	}
	return nil
}
