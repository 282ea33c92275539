package selling

import (
	"context"
	"fmt"
	"time"

	"chrysagon/app/ports"
	"chrysagon/app/walks"
	"chrysagon/core/order"
	"chrysagon/core/route"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Settle acts on what the till says of a charge, once, however often and by
// whatever way the news comes: the answer to the call, a webhook, the buyer's
// return, or the reconciling job.
func (counter *Counter) Settle(ctx context.Context, answer ports.ChargeAnswer) error {
	// Most news is old: every charge comes by its answer and by a webhook.
	known, err := store.One[store.Payment](counter.Store.On(ctx).Where("key = ?", answer.Key), "There is no payment under this key.")
	if err != nil || known.State == string(answer.State) {
		return err
	}
	err = counter.Store.InAgain(ctx, func(tx *gorm.DB) error {
		// The order is locked first and for all its payments: news of two of
		// them wait for each other.
		var o store.Order
		if err := tx.Raw("SELECT * FROM orders WHERE id = ? FOR UPDATE", known.OrderID).Scan(&o).Error; err != nil {
			return err
		}
		var p store.Payment
		if err := tx.Raw("SELECT * FROM payments WHERE key = ?", answer.Key).Scan(&p).Error; err != nil {
			return err
		}
		if p.State == string(answer.State) {
			return nil // old news
		}
		if err := order.Move(order.PaymentState(p.State), answer.State); err != nil {
			return fmt.Errorf("settle payment %s: %w", p.ID, err)
		}
		return counter.move(tx, o, p, answer)
	})
	if err != nil {
		return fmt.Errorf("settle a payment: %w", err)
	}
	return nil
}

func (counter *Counter) move(tx *gorm.DB, o store.Order, p store.Payment, answer ports.ChargeAnswer) error {
	now := counter.Store.Now()
	p.State, p.Message, p.ConfirmURL = string(answer.State), answer.Message, answer.ConfirmURL
	if answer.TillID != "" {
		p.TillID = answer.TillID
	}
	if answer.State.Final() {
		p.SettledAt = &now
	}
	err := tx.Model(&store.Payment{}).Where("id = ?", p.ID).
		Select("state", "message", "confirm_url", "till_id", "settled_at").Updates(&p).Error
	if err != nil {
		return err
	}
	switch answer.State {
	case order.Charged:
		return counter.fulfil(tx, o, p, answer.KeptToken, now)
	case order.Refused, order.Cancelled:
		return giveBack(tx, o, p)
	case order.Asked, order.Confirming, order.Waiting:
	}
	return nil
}

// fulfil makes the sale: the order is paid and the confirmation goes into the
// queue, in the same transaction. The units stay reserved until TakeOut takes
// them out of the stock, many orders at once: so a sale waits for the goods'
// row only once, when it reserves.
func (counter *Counter) fulfil(tx *gorm.DB, o store.Order, p store.Payment, kept string, now time.Time) error {
	if p.Kind == order.AtCheckout {
		state, err := order.Next(order.State(o.State), order.Charge)
		if err != nil {
			return err
		}
		err = tx.Raw(`UPDATE orders SET state = ?, paid_at = ?, kept_token = ?, total_minor = total_minor + ?, number = nextval('order_numbers'),
			handling = CASE WHEN `+travels+` THEN ? ELSE ? END WHERE id = ? RETURNING number`,
			state, now, kept, p.AmountMinor, p.ID, order.Begin(true), order.Begin(false), o.ID).Scan(&o.Number).Error
		if err != nil {
			return fmt.Errorf("mark the order as paid: %w", err)
		}
	} else {
		// What was added must be packed too, whatever has become of the rest.
		err := tx.Exec(`UPDATE orders SET total_minor = total_minor + ?, handling = CASE WHEN `+travels+` THEN ? ELSE handling END WHERE id = ?`,
			p.AmountMinor, p.ID, order.Begin(true), o.ID).Error
		if err != nil {
			return fmt.Errorf("add to the order: %w", err)
		}
		if err := answer(tx, o.ID, p.StepID, "accepted", now); err != nil {
			return err
		}
	}
	if err := walks.LeaveOf(tx, o, p.StepID, outcomeOf(p), ordersOf(p), p.AmountMinor, now); err != nil {
		return err
	}
	if err := granted(tx, p, now); err != nil {
		return err
	}
	if p.Kind == order.AtCheckout {
		if err := finished(tx, o); err != nil {
			return err
		}
		if err := counter.OrderMail.TellOwner(tx, o.ID); err != nil {
			return err
		}
	}
	return counter.OrderMail.Announce(tx, o, p)
}

// outcomeOf is what a charged payment is on its step.
func outcomeOf(p store.Payment) route.Outcome {
	if p.Kind == order.AtCheckout {
		return route.Bought
	}
	return route.Accepted
}

// ordersOf is how many orders a charged payment makes: an offer after it adds to one.
func ordersOf(p store.Payment) int {
	if p.Kind == order.AtCheckout {
		return 1
	}
	return 0
}

// travels tells in SQL whether anything that a payment pays for is sent by parcel.
const travels = `EXISTS (SELECT FROM order_lines l JOIN variants v ON v.id = l.variant_id JOIN products q ON q.id = v.product_id
	WHERE l.payment_id = ? AND q.form = 'physical')`

// TakeOut takes the units of paid orders out of the stock. What may be sold
// does not change by it: the units were reserved already.
func (counter *Counter) TakeOut(ctx context.Context) error {
	err := store.Again(func() error { return counter.Store.On(ctx).Exec("SELECT take_out()").Error })
	if err != nil {
		return fmt.Errorf("take sold goods out of the stock: %w", err)
	}
	return nil
}

// giveBack returns the reserved goods and uses of offers; the buyer may try again.
func giveBack(tx *gorm.DB, o store.Order, p store.Payment) error {
	if err := tx.Exec("SELECT give_back(?)", p.ID).Error; err != nil {
		return fmt.Errorf("give goods and uses of offers back: %w", err)
	}
	if p.Kind != order.AtCheckout {
		return nil
	}
	state, err := order.Next(order.State(o.State), order.Decline)
	if err != nil {
		return err
	}
	return tx.Model(&store.Order{}).Where("id = ?", o.ID).Update("state", string(state)).Error
}

func answer(tx *gorm.DB, orderID, stepID, outcome string, now time.Time) error {
	err := tx.Exec(`INSERT INTO answers (order_id, step_id, outcome, at) VALUES (?, ?, ?, ?)
		ON CONFLICT (order_id, step_id) DO NOTHING`, orderID, stepID, outcome, now).Error
	if err != nil {
		return fmt.Errorf("keep the buyer's answer: %w", err)
	}
	return nil
}

// How long a charge may stay unsettled before the job looks after it.
const (
	AskedFor      = 30 * time.Second // far longer than any call to the till takes
	confirmingFor = 15 * time.Minute // a buyer's time to confirm or to type a card
	openFor       = 24 * time.Hour
)

// ReconcilePayments finishes or undoes what a crash, a lost answer or a buyer who
// walked away left half-way. It returns how many payments it settled.
func (counter *Counter) ReconcilePayments(ctx context.Context) (int, error) {
	if err := counter.TakeOut(ctx); err != nil {
		return 0, err
	}
	now := counter.Store.Now()
	if err := counter.lapse(ctx, now); err != nil {
		return 0, err
	}
	var due []store.Payment
	err := counter.Store.On(ctx).Raw(`SELECT * FROM payments WHERE
		(state = 'asked' AND asked_at < ? AND NOT awaits_card) OR
		(state IN ('asked', 'confirming') AND asked_at < ?) ORDER BY asked_at LIMIT 500`,
		now.Add(-AskedFor), now.Add(-confirmingFor)).Scan(&due).Error
	if err != nil {
		return 0, fmt.Errorf("look for unsettled payments: %w", err)
	}
	settled := 0
	for _, p := range due {
		if err := counter.conclude(ctx, p); err != nil {
			counter.Log.Warn("a payment stays unsettled", "payment", p.ID, "error", err)
			continue
		}
		settled++
	}
	err = counter.Store.On(ctx).Exec(`UPDATE orders SET state = ? WHERE state = ? AND created_at < ?`,
		order.Released, order.Open, now.Add(-openFor)).Error
	if err != nil {
		return settled, fmt.Errorf("release old orders: %w", err)
	}
	return settled, nil
}

func (counter *Counter) conclude(ctx context.Context, p store.Payment) error {
	if p.AmountMinor == 0 {
		return counter.Settle(ctx, ports.ChargeAnswer{Key: p.Key, State: order.Charged})
	}
	if order.Way(p.Way).ByHand() { // the program died before the order was held
		return counter.Settle(ctx, ports.ChargeAnswer{Key: p.Key, State: order.Cancelled})
	}
	if counter.Ports.Payments == nil {
		return ErrNoGateway
	}
	answer, err := counter.Ports.Payments.Conclude(ctx, p.Key)
	if err != nil {
		return err
	}
	return counter.Settle(ctx, answer)
}
