package walks

import (
	"context"
	"fmt"
	"slices"

	"chrysagon/app/factbook"
	"chrysagon/app/publishing"
	"chrysagon/core/address"
	"chrysagon/core/route"
	"chrysagon/store"
)

// OfOrder is where an order stands on a live page: by the routes of the edition
// under which it was placed. ok is false where the page is no step of its funnel.
func (g *Guide) OfOrder(ctx context.Context, live publishing.Live, o store.Order) (Place, bool, error) {
	e, err := g.Publishing.Edition(ctx, o.EditionID)
	if err != nil {
		return Of(live), false, err
	}
	if s, is := e.StepOf(live.Page.ID); is {
		return Place{e, s}, true, nil
	}
	return Of(live), live.Edition.CampaignID == o.CampaignID, nil // the page joined its funnel since
}

// About reads of an order's buyer what some routes ask.
func (g *Guide) About(ctx context.Context, o store.Order, list []route.Route) func(*route.Walker) error {
	asks := func(kind string) bool {
		return slices.ContainsFunc(list, func(r route.Route) bool {
			return slices.ContainsFunc(r.When, func(c route.Condition) bool { return c.Kind == kind })
		})
	}
	return func(w *route.Walker) error {
		db := g.Store.On(ctx)
		w.Country, w.Total = address.Code(factbook.PlaceOf(o)["country"]), o.TotalMinor
		var lines []struct{ VariantID, Via string }
		err := db.Raw(`SELECT l.variant_id, l.via FROM order_lines l JOIN payments p ON p.id = l.payment_id
			WHERE l.order_id = ? AND p.state = 'charged' ORDER BY p.asked_at, l.position`, o.ID).Scan(&lines).Error
		if err != nil {
			return fmt.Errorf("read what was bought: %w", err)
		}
		for _, l := range lines {
			if l.Via != "gift" {
				w.Bought = append(w.Bought, l.VariantID)
			}
			w.Bump = w.Bump || l.Via == "bump"
		}
		const earlier = `FROM orders o WHERE o.state = 'paid' AND o.id <> ? AND (lower(o.email) = lower(?) OR o.visitor = ?) AND o.paid_at < coalesce(?, now())`
		if asks(route.IfAgain) {
			err = db.Raw("SELECT EXISTS (SELECT "+earlier+")", o.ID, o.Email, o.Visitor, o.PaidAt).Scan(&w.Again).Error
		}
		if err == nil && asks(route.IfOwns) {
			err = db.Raw(`SELECT DISTINCT l.variant_id FROM order_lines l JOIN payments p ON p.id = l.payment_id AND p.state = 'charged'
				WHERE l.quantity > 0 AND l.order_id IN (SELECT o.id `+earlier+`) ORDER BY 1`, o.ID, o.Email, o.Visitor, o.PaidAt).Scan(&w.Owned).Error
		}
		if err != nil {
			return fmt.Errorf("read what the buyer has: %w", err)
		}
		return nil
	}
}

// After is where an outcome of an order's buyer leads, and notes that they were led.
func (g *Guide) After(ctx context.Context, o store.Order, at Place, outcome route.Outcome) (To, error) {
	to, err := g.Lead(ctx, at, o.Visitor, outcome, g.About(ctx, o, at.Edition.Funnel.From(at.Step.ID, outcome)))
	if err != nil {
		return to, err
	}
	return to, g.Took(ctx, Print{At: g.Store.Now(), Visitor: o.Visitor, Place: at, Outcome: outcome}, to)
}
