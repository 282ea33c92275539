package app

import (
	"context"
	"encoding/json"
	"fmt"
	"net/url"
	"time"

	"chrysagon/core/facts"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/order"
	"chrysagon/core/route"
	"chrysagon/store"

	"gorm.io/gorm"
)

// OrderByToken finds an order for the browser that placed it. Anybody else's
// link, or one that was made up, finds nothing.
func (a *App) OrderByToken(ctx context.Context, token, visitor string) (store.Order, error) {
	o, err := one[store.Order](a.db(ctx).Where("token = ?", token), noOrder)
	if err == nil && (visitor == "" || o.Visitor != visitor) {
		return store.Order{}, refuse(ErrNotFound, noOrder)
	}
	return o, err
}

// OrderByLink finds an order for whoever has the link of its mail, which nobody
// can guess: to see it and take what was bought, not to change it.
func (a *App) OrderByLink(ctx context.Context, token string) (store.Order, error) {
	return one[store.Order](a.db(ctx).Where("token = ? AND state = 'paid'", token), noOrder)
}

const noOrder = "This link does not belong to an order placed in this browser. Nothing was charged. Your order, if you placed one, stands as your confirmation mail says."

// Standing is where an order stands, for the page its buyer waits on.
type Standing struct {
	Go      string // where to go on; empty: wait here
	Notice  string // why nothing was charged, when that is so
	Back    string // the page with the checkout, when the buyer may try again
	Waiting bool
}

// patience is how long the buyer's own page waits before it asks the till
// itself: longer than a call to the till can last.
const patience = 12 * time.Second

// Standing tells where an order stands. A buyer who comes back from the till's
// confirmation settles it by coming back.
func (a *App) Standing(ctx context.Context, o store.Order, returned bool) (Standing, error) {
	if order.State(o.State) == order.Paying {
		p, err := one[store.Payment](a.db(ctx).Where("order_id = ? AND kind = 'checkout'", o.ID).Order("asked_at DESC"), "There is no payment.")
		if err != nil {
			return Standing{}, err
		}
		waited := a.Now().Sub(p.AskedAt)
		switch {
		case p.State == string(order.Confirming) && !returned && waited < confirmingFor:
			return Standing{Go: p.ConfirmURL}, nil
		case p.AwaitsCard && p.State == string(order.Asked) && waited < confirmingFor:
			back := a.Origins.Shop + OrderPath(o.Token) + "/card"
			return Standing{Go: a.Origins.Till + "/card?return=" + url.QueryEscape(back)}, nil
		case p.State == string(order.Asked) && waited < patience:
			return Standing{Waiting: true}, nil
		}
		if err := a.conclude(ctx, p); err != nil {
			a.Log.Warn("the till does not answer", "order", o.ID, "error", err)
			return Standing{Waiting: true}, nil
		}
		if o, err = one[store.Order](a.db(ctx).Where("id = ?", o.ID), noOrder); err != nil {
			return Standing{}, err
		}
	}
	edition, err := a.edition(ctx, o.EditionID)
	if err != nil {
		return Standing{}, err
	}
	step, _ := edition.Funnel.Step(o.StepID)
	if order.State(o.State) == order.Paid {
		return a.goOn(ctx, o, edition, step)
	}
	return a.unpaid(ctx, o, "/"+edition.Address(step)+"#checkout")
}

func (a *App) unpaid(ctx context.Context, o store.Order, back string) (Standing, error) {
	var last store.Payment
	err := a.db(ctx).Raw(`SELECT * FROM payments WHERE order_id = ? ORDER BY asked_at DESC LIMIT 1`, o.ID).Scan(&last).Error
	notice := last.Message
	if notice == "" {
		notice = "The payment was not completed, so nothing was charged."
	}
	return Standing{Notice: notice, Back: back}, err
}

// goOn leads along the routes to the first step that the buyer has not yet
// answered.
func (a *App) goOn(ctx context.Context, o store.Order, e *Edition, from route.Step) (Standing, error) {
	outcome := route.Bought
	for range e.Funnel.Steps {
		to, err := e.Funnel.Next(from.ID, outcome)
		if err != nil {
			return Standing{}, err
		}
		said, err := answerTo(a.db(ctx), o.ID, to.ID)
		if err != nil {
			return Standing{}, err
		}
		if to.Kind == route.UpsellAt && said == "" {
			has, err := a.inOrder(a.db(ctx), o.ID, a.adds(e, to))
			if err != nil {
				return Standing{}, err
			}
			if has {
				said = string(route.Declined) // it is passed over
			}
		}
		if to.Kind != route.UpsellAt || (said == "" && a.upsellOpen(o) == "") {
			return Standing{Go: "/" + e.Address(to) + "?order=" + o.Token}, nil
		}
		if said == "" {
			said = string(route.Declined)
		}
		from, outcome = to, route.Outcome(said)
	}
	return Standing{}, fmt.Errorf("the routes of edition %s lead in a circle", e.ID)
}

// adds is the product that an upsell of an edition adds to an order.
func (a *App) adds(e *Edition, step route.Step) string {
	page, _ := e.Page(step.PageID)
	return a.Render.Registry.Schema().Sells(page.Manuscript, "")
}

// inOrder tells whether goods are in an order already, paid for or about to be:
// a step that would sell them again is passed over.
func (a *App) inOrder(db *gorm.DB, orderID, variantID string) (bool, error) {
	var n int64
	err := db.Raw(`SELECT count(*) FROM order_lines l JOIN payments p ON p.id = l.payment_id
		WHERE l.order_id = ? AND l.variant_id = ? AND l.via <> 'gift' AND p.state IN ('asked', 'confirming', 'charged')`, orderID, variantID).Scan(&n).Error
	return n > 0, err
}

// PayWithCard goes on with an order whose buyer typed the card on the till's
// own page. Coming twice with the same card charges once: the charge was
// stored before they left.
func (a *App) PayWithCard(ctx context.Context, o store.Order, token string) error {
	var p store.Payment
	err := a.db(ctx).Raw(`UPDATE payments SET awaits_card = false, asked_at = ? WHERE order_id = ? AND state = 'asked' AND awaits_card RETURNING *`,
		a.Now(), o.ID).Scan(&p).Error
	if err != nil {
		return fmt.Errorf("go on with the payment: %w", err)
	}
	if p.ID == "" {
		return nil // already under way or settled; the order's page tells which
	}
	answer, err := a.askTill(ctx, started{order: o, payment: p}, token)
	if err != nil {
		a.Log.Warn("the till did not answer", "order", o.ID, "error", err)
		return nil
	}
	return a.Settle(ctx, answer)
}

// OrderFacts reads an order as its upsell and thank-you pages show it: what
// has been paid for, and which mail comes from whom.
func (a *App) OrderFacts(ctx context.Context, o store.Order) (*facts.Order, error) {
	var lines []struct {
		store.OrderLine
		File string
	}
	err := a.db(ctx).Raw(`SELECT l.*, coalesce(f.name, '') AS file FROM order_lines l JOIN payments p ON p.id = l.payment_id
		LEFT JOIN variants v ON v.id = l.variant_id LEFT JOIN LATERAL (`+unitsBack+`) b ON true LEFT JOIN files f ON f.product_id = v.product_id AND l.quantity > coalesce(b.back, 0)
		WHERE l.order_id = ? AND p.state = 'charged' ORDER BY p.asked_at, l.position`, o.ID).Scan(&lines).Error
	if err != nil {
		return nil, fmt.Errorf("read the order's lines: %w", err)
	}
	var mails []store.Mail
	err = a.db(ctx).Raw(`SELECT m.* FROM mails m JOIN payments p ON p.id = m.payment_id
		WHERE m.order_id = ? ORDER BY p.asked_at`, o.ID).Scan(&mails).Error
	if err != nil {
		return nil, fmt.Errorf("read the order's mails: %w", err)
	}
	f := &facts.Order{Token: o.Token, Name: o.Name, Email: o.Email, Total: money.Of(o.TotalMinor, o.Currency)}
	if o.RefundedMinor > 0 {
		back := money.Of(o.RefundedMinor, o.Currency)
		f.Back = &back
	}
	if o.Number != nil && o.PaidAt != nil {
		f.Number, f.PaidAt = *o.Number, *o.PaidAt
	}
	for _, l := range lines {
		price := money.Of(l.PriceMinor, o.Currency)
		bought := facts.Bought{Name: l.Name, Quantity: l.Quantity, Price: price, Total: price.Times(l.Quantity), Via: offer.Via(l.Via), Gift: l.Via == "gift"}
		if l.File != "" {
			bought.Download = OrderPath(o.Token) + "/file/" + l.VariantID
		}
		f.Lines = append(f.Lines, bought)
	}
	var sums []string
	if err := a.db(ctx).Raw(`SELECT summary::text FROM payments WHERE order_id = ? AND state = 'charged' ORDER BY asked_at`, o.ID).Scan(&sums).Error; err != nil {
		return nil, fmt.Errorf("read the order's sums: %w", err)
	}
	parts := make([][]facts.Row, len(sums))
	for i, raw := range sums {
		var s summary
		if err := json.Unmarshal([]byte(raw), &s); err != nil {
			return nil, fmt.Errorf("read the order's sums: %w", err)
		}
		parts[i] = s.Rows
	}
	f.Sums = facts.Together(parts...)
	for _, m := range mails {
		f.Mails = append(f.Mails, facts.Mail{From: m.Sender, Subject: m.Subject, Sent: m.SentAt != nil})
	}
	return f, nil
}

// Download is the file of a digital product, for an order that has paid for it.
func (a *App) Download(ctx context.Context, o store.Order, variantID string) (store.File, error) {
	var f store.File
	err := a.db(ctx).Raw(`SELECT f.* FROM files f JOIN variants v ON v.product_id = f.product_id JOIN order_lines l ON l.variant_id = v.id
		JOIN payments p ON p.id = l.payment_id LEFT JOIN LATERAL (`+unitsBack+`) b ON true
		WHERE l.order_id = ? AND v.id = ? AND p.state = 'charged' AND l.quantity > coalesce(b.back, 0) LIMIT 1`, o.ID, variantID).Scan(&f).Error
	if err == nil && f.ProductID == "" {
		err = refuse(ErrNotFound, "There is nothing to download here for this order.")
	}
	return f, err
}
