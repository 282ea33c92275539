package selling

import (
	"context"
	"fmt"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/app/ports"
	"chrysagon/core/order"
	"chrysagon/store"

	"gorm.io/gorm"
)

// await leaves an order to its owner, who says when the money came: its goods are held so
// long, and its buyer is told how to pay.
func (counter *Counter) await(ctx context.Context, s started) (PayOutcome, error) {
	shop, err := counter.Store.Shop(ctx)
	if err != nil {
		return PayOutcome{}, err
	}
	days := shop.TransferDays
	if order.Way(s.payment.Way) == order.OnCollection {
		days = shop.CollectDays
	}
	now := counter.Store.Now()
	until, err := heldUntil(now, days, shop.Zone)
	if err != nil {
		return PayOutcome{}, err
	}
	reference := order.Reference(store.NewID()[:12])
	err = counter.Store.InAgain(ctx, func(tx *gorm.DB) error {
		var o store.Order
		if err := tx.Raw("SELECT * FROM orders WHERE id = ? FOR UPDATE", s.order.ID).Scan(&o).Error; err != nil {
			return err
		}
		state, err := order.Next(order.State(o.State), order.Await)
		if err != nil {
			return fmt.Errorf("await order %s: %w", o.ID, err)
		}
		if err := tx.Model(&store.Order{}).Where("id = ?", o.ID).Updates(map[string]any{"state": string(state), "reference": reference}).Error; err != nil {
			return err
		}
		moved := tx.Model(&store.Payment{}).Where("id = ? AND state = ?", s.payment.ID, order.Asked).Updates(map[string]any{"state": string(order.Waiting), "held_until": until})
		if moved.Error != nil || moved.RowsAffected == 0 {
			return fmt.Errorf("the payment is not asked for any more: %w", moved.Error)
		}
		if err := finished(tx, o); err != nil {
			return err
		}
		return counter.OrderMail.Awaited(tx, o)
	})
	if err != nil {
		return PayOutcome{}, fmt.Errorf("hold an order: %w", err)
	}
	return PayOutcome{Go: order.Path(s.order.Token)}, nil
}

// heldUntil is the end of the last day for which goods are held, where the store is.
func heldUntil(now time.Time, days int, zone string) (time.Time, error) {
	loc, err := time.LoadLocation(zone)
	if err != nil {
		return time.Time{}, fmt.Errorf("the store's zone: %w", err)
	}
	local := now.In(loc)
	return time.Date(local.Year(), local.Month(), local.Day()+days+1, 0, 0, 0, 0, loc).Add(-time.Second), nil
}

// waiting is the payment that an awaited order waits for.
func (counter *Counter) waiting(ctx context.Context, orderID string) (store.Payment, error) {
	return store.One[store.Payment](counter.Store.On(ctx).Scopes(store.OfOrder(orderID)).Where("state = ?", order.Waiting), "This order waits for no payment: it is paid, or was given up.")
}

// Confirm makes the sale of an awaited order: its owner says that the money came.
func (counter *Counter) Confirm(ctx context.Context, orderID string) error {
	p, err := counter.waiting(ctx, orderID)
	if err != nil {
		return err
	}
	return counter.Settle(ctx, ports.ChargeAnswer{Key: p.Key, State: order.Charged})
}

// GiveUp ends an awaited order, and gives its goods back: its owner or its buyer says so.
func (counter *Counter) GiveUp(ctx context.Context, orderID, why string) error {
	p, err := counter.waiting(ctx, orderID)
	if err != nil {
		return err
	}
	return counter.Settle(ctx, ports.ChargeAnswer{Key: p.Key, State: order.Cancelled, Message: why})
}

// PayOtherwise gives an awaited order up for the buyer who placed it, and answers with the
// page on which it can be ordered anew.
func (counter *Counter) PayOtherwise(ctx context.Context, o store.Order) (string, error) {
	edition, err := counter.Publishing.Edition(ctx, o.EditionID)
	if err != nil {
		return "", err
	}
	step, _ := edition.Funnel.Step(o.StepID)
	back, err := counter.pageOf(ctx, o, edition, step)
	if err != nil {
		return "", err
	}
	return back + "#checkout", counter.GiveUp(ctx, o.ID, "The buyer gave it up.")
}

// lapse ends awaited orders whose money did not come in time, and tells their buyers.
func (counter *Counter) lapse(ctx context.Context, now time.Time) error {
	var due []store.Payment
	err := counter.Store.On(ctx).Raw("SELECT * FROM payments WHERE state = ? AND held_until < ? ORDER BY held_until LIMIT 500", order.Waiting, now).Scan(&due).Error
	if err != nil {
		return fmt.Errorf("look for orders that were held too long: %w", err)
	}
	for _, p := range due {
		if err := counter.Settle(ctx, ports.ChargeAnswer{Key: p.Key, State: order.Cancelled, Message: "The money did not come in time."}); err != nil {
			counter.Log.Warn("an order stays held", "order", p.OrderID, "error", err)
			continue
		}
		o, err := store.One[store.Order](counter.Store.On(ctx).Where("id = ?", p.OrderID), factbook.NoOrder)
		if err != nil || order.State(o.State) != order.Released {
			continue // it was paid meanwhile
		}
		if err := counter.OrderMail.Lapsed(ctx, o); err != nil {
			return err
		}
	}
	return nil
}
