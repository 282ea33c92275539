package orders

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"chrysagon/app/factbook"
	"chrysagon/app/ports"
	"chrysagon/app/selling"
	"chrysagon/core/money"
	"chrysagon/core/order"
	"chrysagon/core/refund"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Delivery is the position under which what was paid for delivery stands.
const Delivery = -1

// RefundAsk is what an owner wants to give back of an order.
type RefundAsk struct {
	OrderID string
	Way     string         // whole, lines or amount
	Amount  string         // of the way amount, as typed
	Units   map[string]int // of the way lines: units by “payment/position”
	Restock bool           // units that are given back whole return into the stock
	Reason  string
	Mail    bool // tell the buyer
}

// RefundPlan is what a refund would give back. Beside a refusal it holds the lines
// and what is left of them.
type RefundPlan struct {
	Order    store.Order
	Lines    []RefundShare
	Amount   money.Money
	Tax      money.Money
	Left     money.Money // of the order, before it
	After    money.Money // of the order, after it
	Restocks int         // units
}

// RefundShare is what of it falls on one line, or on delivery.
type RefundShare struct {
	PaymentID string
	Position  int
	VariantID string
	Name      string
	Quantity  int // that was bought
	Paid      money.Money
	Left      money.Money
	LeftUnits int
	Share     refund.Share
	Amount    money.Money
	Tax       money.Money
}

// ID names the line in forms.
func (s RefundShare) ID() string { return fmt.Sprintf("%s/%d", s.PaymentID, s.Position) }

// PlanRefund computes what a refund would give back, and does nothing.
func (office *Office) PlanRefund(ctx context.Context, ask RefundAsk) (RefundPlan, error) {
	o, err := store.One[store.Order](office.Store.On(ctx).Where("id = ?", ask.OrderID), factbook.NoOrder)
	if err != nil {
		return RefundPlan{}, err
	}
	return planRefund(office.Store.On(ctx), o, ask)
}

func planRefund(db *gorm.DB, o store.Order, ask RefundAsk) (RefundPlan, error) {
	plan := RefundPlan{Order: o}
	lines, parts, err := refundable(db, o)
	plan.Lines = lines
	if err != nil {
		return plan, err
	}
	left := int64(0)
	for _, p := range parts {
		left += p.Left()
	}
	plan.Left = money.Of(left, o.Currency)
	var shares []refund.Share
	switch ask.Way {
	case "whole":
		shares = refund.Whole(parts)
	case "lines":
		units := make([]int, len(lines))
		for i, l := range lines {
			units[i] = ask.Units[l.ID()]
		}
		if shares, err = refund.Units(parts, units); err != nil {
			return plan, refusal.Of(refusal.ErrInvalid, "More units are named than can still be given back. Look at the lines.")
		}
	case "amount":
		amount, err := money.Parse(ask.Amount, o.Currency)
		if err != nil {
			return plan, refusal.Of(refusal.ErrInvalid, "“%s” is not an amount of money; write it like 12.50.", ask.Amount)
		}
		if shares, err = refund.Amount(parts, amount.Minor); err != nil {
			return plan, refusal.Of(refusal.ErrInvalid, "At most %s can still be given back, and more than nothing.", plan.Left)
		}
	default:
		return plan, refusal.Of(refusal.ErrInvalid, "Say what to give back: all of it, some lines, or an amount.")
	}
	sum := refund.Sum(shares)
	plan.Amount, plan.Tax, plan.After = money.Of(sum.Amount, o.Currency), money.Of(sum.Tax, o.Currency), money.Of(left-sum.Amount, o.Currency)
	for i := range lines {
		l := &lines[i]
		l.Share, l.Amount, l.Tax = shares[i], money.Of(shares[i].Amount, o.Currency), money.Of(shares[i].Tax, o.Currency)
		if l.Position != Delivery {
			plan.Restocks += l.Share.Quantity
		}
	}
	return plan, nil
}

// refundable reads what was paid for each line and for the delivery of each payment,
// and what of it has gone back or is about to.
func refundable(db *gorm.DB, o store.Order) ([]RefundShare, []refund.Part, error) {
	var payments []store.Payment
	if err := db.Raw("SELECT * FROM payments WHERE order_id = ? AND state = 'charged' ORDER BY kind, asked_at, id", o.ID).Scan(&payments).Error; err != nil {
		return nil, nil, fmt.Errorf("read the payments: %w", err)
	}
	var rows []store.OrderLine
	if err := db.Raw("SELECT * FROM order_lines WHERE order_id = ? ORDER BY payment_id, position", o.ID).Scan(&rows).Error; err != nil {
		return nil, nil, fmt.Errorf("read the lines: %w", err)
	}
	var backs []store.RefundLine
	err := db.Raw(`SELECT l.payment_id, l.position, sum(l.quantity) AS quantity, sum(l.amount_minor) AS amount_minor, sum(l.tax_minor) AS tax_minor
		FROM refund_lines l JOIN refund_parts p USING (refund_id, payment_id) JOIN payments y ON y.id = l.payment_id
		WHERE y.order_id = ? AND p.state <> 'refused' GROUP BY 1, 2`, o.ID).Scan(&backs).Error
	if err != nil {
		return nil, nil, fmt.Errorf("read what went back: %w", err)
	}
	var shares []RefundShare
	var parts []refund.Part
	add := func(s RefundShare, p refund.Part) {
		if i := slices.IndexFunc(backs, func(b store.RefundLine) bool { return b.PaymentID == s.PaymentID && b.Position == s.Position }); i >= 0 {
			p.Back, p.BackTax, p.Returned = backs[i].AmountMinor, backs[i].TaxMinor, backs[i].Quantity
		}
		s.Quantity, s.Paid, s.Left, s.LeftUnits = p.Quantity, money.Of(p.Paid, o.Currency), money.Of(p.Left(), o.Currency), p.Quantity-p.Returned
		s.Amount, s.Tax = money.Of(0, o.Currency), money.Of(0, o.Currency)
		shares, parts = append(shares, s), append(parts, p)
	}
	for _, y := range payments {
		rest, tax := y.AmountMinor, y.TaxMinor
		for _, l := range rows {
			if l.PaymentID != y.ID {
				continue
			}
			paid := l.PriceMinor*int64(l.Quantity) - l.OffMinor
			if !y.TaxIncluded {
				paid += l.TaxMinor
			}
			rest, tax = rest-paid, tax-l.TaxMinor
			add(RefundShare{PaymentID: y.ID, Position: l.Position, VariantID: l.VariantID, Name: l.Name}, refund.Part{Paid: paid, Tax: min(l.TaxMinor, paid), Quantity: l.Quantity})
		}
		if rest > 0 {
			add(RefundShare{PaymentID: y.ID, Position: Delivery, Name: "Delivery"}, refund.Part{Paid: rest, Tax: min(max(tax, 0), rest), Quantity: 1})
		}
	}
	return shares, parts, nil
}

// Refund gives money back. What is decided is stored with its keys before the till
// is asked; what the till answers is acted on once, whoever hears it first. An
// error of the till leaves it to the reconciling job, which asks again.
func (office *Office) Refund(ctx context.Context, by string, ask RefundAsk) (RefundPlan, error) {
	ask.Reason = strings.TrimSpace(ask.Reason)
	if len([]rune(ask.Reason)) > 500 {
		return RefundPlan{}, refusal.Of(refusal.ErrInvalid, "The reason has at most 500 characters.")
	}
	var plan RefundPlan
	var due []store.RefundPart
	err := office.Store.InAgain(ctx, func(tx *gorm.DB) error {
		due = nil
		var o store.Order
		if err := tx.Raw("SELECT * FROM orders WHERE id = ? FOR UPDATE", ask.OrderID).Scan(&o).Error; err != nil {
			return err
		}
		if o.ID == "" || order.State(o.State) != order.Paid {
			return refusal.Of(refusal.ErrInvalid, "Only an order that is paid can be refunded.")
		}
		var err error
		if plan, err = planRefund(tx, o, ask); err != nil {
			return err
		}
		if plan.Amount.Minor == 0 {
			return refusal.Of(refusal.ErrInvalid, "Nothing is left to give back, or nothing was chosen.")
		}
		due, err = office.decideRefund(tx, by, ask, plan)
		return err
	})
	if err != nil {
		return plan, err
	}
	for _, part := range due {
		if err := office.askRefund(ctx, part, plan.Order.Currency); err != nil {
			office.Log.Warn("a refund stays unsettled", "refund", part.RefundID, "error", err)
		}
	}
	return plan, nil
}

// decideRefund stores what was decided: one part for each payment it touches.
func (office *Office) decideRefund(tx *gorm.DB, by string, ask RefundAsk, plan RefundPlan) ([]store.RefundPart, error) {
	r := store.Refund{ID: store.NewID(), OrderID: plan.Order.ID, AskedAt: office.Store.Now(), AskedBy: by, Reason: ask.Reason, Restock: ask.Restock, Mail: ask.Mail}
	if err := tx.Create(&r).Error; err != nil {
		return nil, err
	}
	var parts []store.RefundPart
	var lines []store.RefundLine
	for _, l := range plan.Lines {
		if l.Share.Amount == 0 && l.Share.Quantity == 0 {
			continue
		}
		i := slices.IndexFunc(parts, func(p store.RefundPart) bool { return p.PaymentID == l.PaymentID })
		if i < 0 {
			i = len(parts)
			parts = append(parts, store.RefundPart{RefundID: r.ID, PaymentID: l.PaymentID, Key: store.NewSecret(), State: string(order.RefundAsked)})
		}
		parts[i].AmountMinor += l.Share.Amount
		parts[i].TaxMinor += l.Share.Tax
		lines = append(lines, store.RefundLine{RefundID: r.ID, PaymentID: l.PaymentID, Position: l.Position, Quantity: l.Share.Quantity, AmountMinor: l.Share.Amount, TaxMinor: l.Share.Tax})
	}
	// A gift was paid nothing for: it goes back beside what was.
	parts = slices.DeleteFunc(parts, func(p store.RefundPart) bool { return p.AmountMinor == 0 })
	lines = slices.DeleteFunc(lines, func(l store.RefundLine) bool {
		return !slices.ContainsFunc(parts, func(p store.RefundPart) bool { return p.PaymentID == l.PaymentID })
	})
	if err := tx.Create(&parts).Error; err != nil {
		return nil, err
	}
	return parts, tx.Create(&lines).Error
}

// askRefund asks the till for one part, outside any transaction, and settles it.
func (office *Office) askRefund(ctx context.Context, part store.RefundPart, currency string) error {
	y, err := store.One[store.Payment](office.Store.On(ctx).Where("id = ?", part.PaymentID), "There is no such payment.")
	if err != nil {
		return err
	}
	if order.Way(y.Way).ByHand() { // what came by hand goes back by hand
		return office.settleRefund(ctx, part, ports.RefundAnswer{State: order.Refunded})
	}
	if office.Ports.Payments == nil {
		return selling.ErrNoGateway
	}
	answer, err := office.Ports.Payments.Refund(ctx, ports.RefundRequest{Key: part.Key, ChargeKey: y.Key, Amount: money.Of(part.AmountMinor, currency)})
	if err != nil {
		return err
	}
	return office.settleRefund(ctx, part, answer)
}

// settleRefund acts on the till's answer, once.
func (office *Office) settleRefund(ctx context.Context, known store.RefundPart, answer ports.RefundAnswer) error {
	err := office.Store.InAgain(ctx, func(tx *gorm.DB) error {
		var r store.Refund
		if err := tx.Raw("SELECT * FROM refunds WHERE id = ?", known.RefundID).Scan(&r).Error; err != nil {
			return err
		}
		var o store.Order
		if err := tx.Raw("SELECT * FROM orders WHERE id = ? FOR UPDATE", r.OrderID).Scan(&o).Error; err != nil {
			return err
		}
		done := tx.Model(&store.RefundPart{}).Where("key = ? AND state = ?", known.Key, order.RefundAsked).
			Updates(map[string]any{"state": string(answer.State), "message": answer.Message, "settled_at": office.Store.Now()})
		if done.Error != nil || done.RowsAffected == 0 {
			return done.Error // old news
		}
		if answer.State == order.Refunded {
			if err := office.gaveBack(tx, r, known); err != nil {
				return err
			}
		}
		return office.refundTold(tx, o, r)
	})
	if err != nil {
		return fmt.Errorf("settle a refund: %w", err)
	}
	return nil
}

// gaveBack counts what went back, and puts units into the stock again.
func (office *Office) gaveBack(tx *gorm.DB, r store.Refund, part store.RefundPart) error {
	for _, sql := range []string{"UPDATE orders SET refunded_minor = refunded_minor + @amount WHERE id = @order", "UPDATE payments SET refunded_minor = refunded_minor + @amount WHERE id = @payment"} {
		if err := tx.Exec(sql, map[string]any{"amount": part.AmountMinor, "order": r.OrderID, "payment": part.PaymentID}).Error; err != nil {
			return err
		}
	}
	if !r.Restock {
		return nil
	}
	// Rows are locked in the order of their IDs, as everywhere.
	return tx.Exec(`WITH back AS (SELECT l.variant_id, sum(x.quantity) AS units FROM refund_lines x JOIN order_lines l ON l.payment_id = x.payment_id AND l.position = x.position
			WHERE x.refund_id = ? AND x.payment_id = ? AND x.quantity > 0 GROUP BY 1),
		locked AS (SELECT v.id FROM variants v JOIN back b ON b.variant_id = v.id ORDER BY v.id FOR UPDATE OF v)
		UPDATE variants v SET stock = v.stock + b.units FROM back b JOIN locked k ON k.id = b.variant_id WHERE v.id = b.variant_id`, part.RefundID, part.PaymentID).Error
}

// refundTold writes the buyer's mail once all parts of a refund are settled and
// anything went back.
func (office *Office) refundTold(tx *gorm.DB, o store.Order, r store.Refund) error {
	var counts struct{ Asked, Back int64 }
	err := tx.Raw(`SELECT count(*) FILTER (WHERE state = 'asked') AS asked, count(*) FILTER (WHERE state = 'refunded') AS back FROM refund_parts WHERE refund_id = ?`, r.ID).Scan(&counts).Error
	if err != nil || counts.Asked > 0 || counts.Back == 0 || !r.Mail || office.Ports.Post == nil {
		return err
	}
	return office.OrderMail.MailOf(tx, o, r.ID, "refund", fmt.Sprintf("Money back for your order %d", *o.Number))
}

// ReconcileRefunds asks again for what the till has not answered.
func (office *Office) ReconcileRefunds(ctx context.Context) error {
	var due []struct {
		store.RefundPart
		Currency string
	}
	err := office.Store.On(ctx).Raw(`SELECT p.*, o.currency FROM refund_parts p JOIN refunds r ON r.id = p.refund_id JOIN orders o ON o.id = r.order_id
		WHERE p.state = 'asked' AND r.asked_at < ? ORDER BY r.asked_at LIMIT 200`, office.Store.Now().Add(-selling.AskedFor)).Scan(&due).Error
	if err != nil {
		return fmt.Errorf("look for unsettled refunds: %w", err)
	}
	for _, d := range due {
		if err := office.askRefund(ctx, d.RefundPart, d.Currency); err != nil {
			office.Log.Warn("a refund stays unsettled", "refund", d.RefundID, "error", err)
		}
	}
	return nil
}
