package selling

import (
	"context"
	"errors"
	"fmt"
	"net/url"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/app/publishing"
	"chrysagon/app/walks"
	"chrysagon/core/goods"
	"chrysagon/core/order"
	"chrysagon/core/purpose"
	"chrysagon/core/refusal"
	"chrysagon/core/route"
	"chrysagon/store"

	"gorm.io/gorm"
)

// OrderByToken finds an order for the browser that placed it. Anybody else's
// link, or one that was made up, finds nothing.
func (counter *Counter) OrderByToken(ctx context.Context, token, visitor string) (store.Order, error) {
	o, err := store.One[store.Order](counter.Store.On(ctx).Where("token = ?", token), factbook.NoOrder)
	if err == nil && (visitor == "" || o.Visitor != visitor) {
		return store.Order{}, refusal.Of(refusal.ErrNotFound, factbook.NoOrder)
	}
	return o, err
}

// OrderByLink finds an order for whoever has the link of its mail, which nobody
// can guess: to see it and take what was bought, not to change it.
func (counter *Counter) OrderByLink(ctx context.Context, token string) (store.Order, error) {
	return store.One[store.Order](counter.Store.On(ctx).Where("token = ? AND state IN ('paid', 'awaited')", token), factbook.NoOrder)
}

// Standing is where an order stands, for the page its buyer waits on.
type Standing struct {
	Go      string // where to go on; empty: wait here
	Notice  string // why nothing was charged, when that is so
	Back    string // the page with the checkout, when the buyer may try again
	Waiting bool
	Done    bool // it is paid, and no page follows
	Awaited bool // the owner says when the money came
}

// patience is how long the buyer's own page waits before it asks the till
// itself: longer than a call to the till can last.
const patience = 12 * time.Second

// Standing tells where an order stands. A buyer who comes back from the till's
// confirmation settles it by coming back.
func (counter *Counter) Standing(ctx context.Context, o store.Order, returned bool) (Standing, error) {
	if order.State(o.State) == order.Awaited {
		return Standing{Awaited: true}, nil
	}
	if order.State(o.State) == order.Paying {
		p, err := store.One[store.Payment](counter.Store.On(ctx).Scopes(store.OfOrder(o.ID)).Where("kind = 'checkout'").Order("asked_at DESC"), "There is no payment.")
		if err != nil {
			return Standing{}, err
		}
		waited := counter.Store.Now().Sub(p.AskedAt)
		switch {
		case p.State == string(order.Confirming) && !returned && waited < confirmingFor:
			return Standing{Go: p.ConfirmURL}, nil
		case p.AwaitsCard && p.State == string(order.Asked) && waited < confirmingFor:
			back := counter.Origins.Shop + order.Path(o.Token) + "/card"
			return Standing{Go: counter.Origins.Till + "/card?return=" + url.QueryEscape(back)}, nil
		case p.State == string(order.Asked) && waited < patience:
			return Standing{Waiting: true}, nil
		}
		if err := counter.conclude(ctx, p); err != nil {
			counter.Log.Warn("the till does not answer", "order", o.ID, "error", err)
			return Standing{Waiting: true}, nil
		}
		if o, err = store.One[store.Order](counter.Store.On(ctx).Where("id = ?", o.ID), factbook.NoOrder); err != nil {
			return Standing{}, err
		}
	}
	edition, err := counter.Publishing.Edition(ctx, o.EditionID)
	if err != nil {
		return Standing{}, err
	}
	step, _ := edition.Funnel.Step(o.StepID)
	if order.State(o.State) == order.Paid {
		return counter.goOn(ctx, o, walks.Place{Edition: edition, Step: step})
	}
	back, err := counter.pageOf(ctx, o, edition, step)
	if err != nil {
		return Standing{}, err
	}
	return counter.unpaid(ctx, o, back+"#checkout")
}

// pageOf is the page on which an order was begun: that of its goods, where it is made
// for each of them.
func (counter *Counter) pageOf(ctx context.Context, o store.Order, e *publishing.Edition, step route.Step) (string, error) {
	if p, ok := e.Page(step.PageID); !ok || p.Purpose != purpose.Product {
		return counter.Guide.PageAt(ctx, step)
	}
	var slug string
	err := counter.Store.On(ctx).Raw(`SELECT v.address FROM order_lines l JOIN variants v ON v.id = l.variant_id JOIN payments p ON p.id = l.payment_id
		WHERE l.order_id = ? AND l.via = 'page' ORDER BY p.asked_at DESC, l.position LIMIT 1`, o.ID).Scan(&slug).Error
	if err != nil || slug == "" {
		return "/", err
	}
	return "/" + goods.Path + slug, nil
}

func (counter *Counter) unpaid(ctx context.Context, o store.Order, back string) (Standing, error) {
	var last store.Payment
	err := counter.Store.On(ctx).Raw(`SELECT * FROM payments WHERE order_id = ? ORDER BY asked_at DESC LIMIT 1`, o.ID).Scan(&last).Error
	notice := last.Message
	if notice == "" {
		notice = "The payment was not completed, so nothing was charged."
	}
	return Standing{Notice: notice, Back: back}, err
}

// goOn leads along the routes to the first step that the buyer has not yet
// answered.
func (counter *Counter) goOn(ctx context.Context, o store.Order, at walks.Place) (Standing, error) {
	outcome := route.Bought
	for range route.MostSteps {
		to, err := counter.Guide.After(ctx, o, at, outcome)
		if errors.Is(err, walks.ErrNowhere) {
			return Standing{Done: true}, nil
		}
		if err != nil || !to.Step.Kind.Offers() {
			return Standing{Go: pathOf(to, o)}, err
		}
		said, err := answerTo(counter.Store.On(ctx), o.ID, to.Step.ID)
		if err != nil {
			return Standing{}, err
		}
		pass := false
		if said == "" {
			if pass, err = passedOver(counter.Store.On(ctx), o.ID, counter.adds(ctx, to.Step.PageID)); err != nil {
				return Standing{}, err
			}
		}
		if said == "" && !pass && counter.upsellOpen(o) == "" {
			return Standing{Go: pathOf(to, o)}, nil
		}
		if said == "" {
			said = string(route.Declined) // it is passed over
		}
		at.Step, outcome = to.Step, route.Outcome(said)
	}
	return Standing{}, fmt.Errorf("the routes of edition %s lead in a circle", at.Edition.ID)
}

// adds is the product that a live page adds to an order; "" where it is not live.
func (counter *Counter) adds(ctx context.Context, pageID string) string {
	page, err := counter.Publishing.LivePage(ctx, pageID)
	if err != nil {
		return ""
	}
	return counter.Render.Registry.Schema().Sells(page.Manuscript, "")
}

// passedOver tells whether a step that offers goods is not for an order: it has
// them already, paid for or about to be, or they go by parcel and its buyer was
// asked for no address.
func passedOver(db *gorm.DB, orderID, variantID string) (bool, error) {
	var pass bool
	err := db.Raw(`SELECT EXISTS (SELECT FROM order_lines l JOIN payments p ON p.id = l.payment_id
			WHERE l.order_id = o.id AND l.variant_id = ? AND l.via <> 'gift' AND p.state IN ('asked', 'confirming', 'charged'))
		OR (coalesce(o.address->>'street', '') = '' AND EXISTS (SELECT FROM variants v JOIN products q ON q.id = v.product_id WHERE v.id = ? AND q.form = 'physical'))
		FROM orders o WHERE o.id = ?`, variantID, variantID, orderID).Scan(&pass).Error
	return pass, err
}

// PayWithCard goes on with an order whose buyer typed the card on the till's
// own page. Coming twice with the same card charges once: the charge was
// stored before they left.
func (counter *Counter) PayWithCard(ctx context.Context, o store.Order, token string) error {
	var p store.Payment
	err := counter.Store.On(ctx).Raw(`UPDATE payments SET awaits_card = false, asked_at = ? WHERE order_id = ? AND state = 'asked' AND awaits_card RETURNING *`,
		counter.Store.Now(), o.ID).Scan(&p).Error
	if err != nil {
		return fmt.Errorf("go on with the payment: %w", err)
	}
	if p.ID == "" {
		return nil // already under way or settled; the order's page tells which
	}
	answer, err := counter.askTill(ctx, started{order: o, payment: p}, token)
	if err != nil {
		counter.Log.Warn("the till did not answer", "order", o.ID, "error", err)
		return nil
	}
	return counter.Settle(ctx, answer)
}
