package selling

import (
	"context"
	"errors"
	"fmt"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/app/publishing"
	"chrysagon/app/walks"
	"chrysagon/core/address"
	"chrysagon/core/facts"
	"chrysagon/core/offer"
	"chrysagon/core/order"
	"chrysagon/core/refusal"
	"chrysagon/core/route"
	"chrysagon/core/seal"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Answered tells whether a buyer has already said yes or no on a step, or a
// charge for their yes is under way.
func (counter *Counter) Answered(ctx context.Context, o store.Order, live publishing.Live) (bool, error) {
	said, err := answerTo(counter.Store.On(ctx), o.ID, live.Step.ID)
	if err != nil || said != "" {
		return true, err
	}
	return passedOver(counter.Store.On(ctx), o.ID, counter.Render.Registry.Schema().Sells(live.Page.Manuscript, ""))
}

// UpsellClosed tells whether nothing can be added to an order any more.
func (counter *Counter) UpsellClosed(o store.Order) bool { return counter.upsellOpen(o) != "" }

// upsellOpen says why nothing can be added to an order any more, or "".
func (counter *Counter) upsellOpen(o store.Order) string {
	var paid time.Time
	if o.PaidAt != nil {
		paid = *o.PaidAt
	}
	if counter.Ports.Payments == nil {
		return "No payment can be taken here at the moment."
	}
	if o.RefundedMinor > 0 {
		return "Of this order money went back, so nothing is added to it any more."
	}
	return order.UpsellClosed(order.State(o.State), o.KeptToken != "", paid, counter.Store.Now())
}

// OfOrder is a live page as an order meets it: as a step of the funnel, and by the
// edition, under which the order was placed. ours is false where it is of another.
func (counter *Counter) OfOrder(ctx context.Context, live publishing.Live, o store.Order) (of publishing.Live, ours bool, err error) {
	at, ours, err := counter.Guide.OfOrder(ctx, live, o)
	live.Edition, live.Step = at.Edition, at.Step
	return live, ours, err
}

// Decline takes a buyer's no and returns where it leads.
func (counter *Counter) Decline(ctx context.Context, live publishing.Live, o store.Order) (string, error) {
	live, ours, err := counter.OfOrder(ctx, live, o)
	if err != nil {
		return "", err
	}
	if !live.Step.Kind.Offers() {
		return "", refusal.Of(refusal.ErrInvalid, "There is nothing to decline on this page.")
	}
	if !ours || order.State(o.State) != order.Paid {
		return "", refusal.Of(refusal.ErrNotFound, factbook.NoOrder)
	}
	err = counter.Store.In(ctx, func(tx *gorm.DB) error {
		if err := lockOrder(tx, o.ID); err != nil {
			return err
		}
		if said, err := answerTo(tx, o.ID, live.Step.ID); err != nil || said != "" {
			return err
		}
		if err := walks.LeaveOf(tx, o, live.Step.ID, route.Declined, 0, 0, counter.Store.Now()); err != nil {
			return err
		}
		return answer(tx, o.ID, live.Step.ID, string(route.Declined), counter.Store.Now())
	})
	if err != nil {
		return "", fmt.Errorf("decline an upsell: %w", err)
	}
	return counter.afterUpsell(ctx, live, o)
}

// Accept charges the kept card for an upsell and joins it to the order, once.
// A notice means that nothing was charged and why.
func (counter *Counter) Accept(ctx context.Context, live publishing.Live, o store.Order, token string) (next, notice string, err error) {
	live, ours, err := counter.OfOrder(ctx, live, o)
	if err != nil {
		return "", "", err
	}
	if !live.Step.Kind.Offers() {
		return "", "", refusal.Of(refusal.ErrInvalid, "There is nothing to accept on this page.")
	}
	if !ours {
		return "", "", refusal.Of(refusal.ErrNotFound, factbook.NoOrder)
	}
	if closed := counter.upsellOpen(o); closed != "" {
		return "", closed, nil
	}
	q, f, notice, err := counter.upsellQuote(ctx, live, o, token)
	if err != nil || notice != "" {
		return "", notice, err
	}
	s := started{order: o}
	err = counter.Store.In(ctx, func(tx *gorm.DB) error {
		if err := lockOrder(tx, o.ID); err != nil {
			return err
		}
		if said, err := answerTo(tx, o.ID, live.Step.ID); err != nil {
			return err
		} else if said != "" {
			return errAnswered
		}
		if pass, err := passedOver(tx, o.ID, counter.Render.Registry.Schema().Sells(live.Page.Manuscript, "")); err != nil || pass {
			return errors.Join(err, errAnswered)
		}
		if s.payment, err = ask(tx, o, route.UpsellAt, order.ByCard, live.Step.ID, q, counter.Store.Now()); err != nil {
			return err
		}
		return noteUses(tx, s, f.Offers, "", q)
	})
	if err == nil {
		err = counter.reserve(ctx, s)
	}
	var gone soldOut
	switch {
	case errors.As(err, &gone):
		return "", gone.said() + " Nothing more was charged.", nil
	case errors.Is(err, errAnswered), store.IsDuplicate(err):
		next, err = counter.afterUpsell(ctx, live, o)
		return next, "", err
	case err != nil:
		return "", "", fmt.Errorf("begin the upsell: %w", err)
	}
	return counter.chargeUpsell(ctx, live, s)
}

var errAnswered = errors.New("this step has been answered")

func (counter *Counter) chargeUpsell(ctx context.Context, live publishing.Live, s started) (next, notice string, err error) {
	reply, err := counter.askTill(ctx, s, s.order.KeptToken)
	if err != nil {
		// Not known yet: the reconciling job finds out, and the thank-you page shows it.
		counter.Log.Warn("the till did not answer for an upsell", "order", s.order.ID, "error", err)
		next, err = counter.afterUpsell(ctx, live, s.order)
		return next, "", err
	}
	if reply.State == order.Confirming {
		// Nobody is asked to confirm an upsell: it is one press or nothing.
		if reply, err = counter.Ports.Payments.Conclude(ctx, reply.Key); err != nil {
			return "", "", fmt.Errorf("conclude an upsell: %w", err)
		}
	}
	if err := counter.Settle(ctx, reply); err != nil {
		return "", "", err
	}
	if reply.State != order.Charged {
		if reply.Message == "" {
			reply.Message = "The card's bank wants it confirmed, which one press cannot do."
		}
		return "", reply.Message + " Your order stands as it was, and nothing more was charged.", nil
	}
	next, err = counter.afterUpsell(ctx, live, s.order)
	return next, "", err
}

func (counter *Counter) afterUpsell(ctx context.Context, live publishing.Live, o store.Order) (string, error) {
	said, err := answerTo(counter.Store.On(ctx), o.ID, live.Step.ID)
	if err != nil {
		return "", err
	}
	outcome := route.Accepted
	if said != "" {
		outcome = route.Outcome(said)
	}
	return counter.nextPath(ctx, o.ID, walks.Of(live), outcome)
}

// upsellQuote prices what a page's answer adds, and holds it against what the
// buyer saw.
func (counter *Counter) upsellQuote(ctx context.Context, live publishing.Live, o store.Order, token string) (offer.Quote, facts.Facts, string, error) {
	who := UpsellBuyer(o)
	who.Step = live.Step.ID
	f, shop, err := counter.Facts.Prices(ctx, counter.Render.Registry.Schema().Names(live.Page.Manuscript), who)
	if err != nil {
		return offer.Quote{}, f, "", err
	}
	product := counter.Render.Registry.Schema().Sells(live.Page.Manuscript, "")
	if _, ok := f.Products[product]; !ok {
		return offer.Quote{}, f, "", refusal.Of(refusal.ErrNotFound, "There is nothing to add on this page.")
	}
	cart := []offer.Item{{ProductID: product, Quantity: 1, Via: offer.Upsell}}
	q, err := f.Quote(cart, counter.Store.Now())
	if err != nil {
		return q, f, "", err
	}
	s, ok := seal.Read(shop.SealKey, token)
	total, shown := s.Total(f, cart)
	if !ok || !shown || !s.Holds(placeOf(live, o.Visitor)) || q.Total.Minor > total {
		return q, f, fmt.Sprintf("The price is now %s. Nothing more was charged. Press yes again if you agree.", q.Total), nil
	}
	return q, f, "", nil
}

// UpsellBuyer is what an order says of its buyer.
func UpsellBuyer(o store.Order) factbook.Buyer {
	// An order without an address goes to the store's own country.
	return factbook.Buyer{Joined: true, Visitor: o.Visitor, Email: o.Email, Country: address.Code(factbook.PlaceOf(o)["country"])}
}

// lockOrder makes two answers to one order wait for each other.
func lockOrder(tx *gorm.DB, id string) error {
	return tx.Exec("SELECT FROM orders WHERE id = ? FOR UPDATE", id).Error
}

// answerTo is what a buyer said on a step. A yes whose charge is under way
// counts as said.
func answerTo(db *gorm.DB, orderID, stepID string) (string, error) {
	var said string
	err := db.Raw(saidOn, orderID, stepID).Scan(&said).Error
	return said, err
}

const saidOn = `SELECT outcome FROM (SELECT outcome, order_id, step_id FROM answers UNION ALL
	SELECT 'accepted', order_id, step_id FROM payments WHERE kind = 'upsell' AND state IN ('asked', 'confirming', 'charged')) said
	WHERE order_id = ? AND step_id = ? LIMIT 1`
