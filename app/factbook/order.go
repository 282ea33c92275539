package factbook

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"chrysagon/core/address"
	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/order"
	"chrysagon/core/words"
	"chrysagon/store"

	"gorm.io/gorm"
)

// PlaceOf is an order's address by its fields; that of what is downloaded has none.
func PlaceOf(o store.Order) map[string]string {
	place := map[string]string{}
	_ = json.Unmarshal(o.Address, &place)
	return place
}

// Town is where an order goes, as far as anybody who has its link may read it.
func Town(o store.Order) string {
	place := PlaceOf(o)
	return strings.Trim(place["town"]+", "+place["country"], ", ")
}

// Addressed is an order's address, line by line as its country writes it; none for what
// is downloaded.
func Addressed(o store.Order) []string {
	place := PlaceOf(o)
	if place[string(address.Street)] == "" {
		return nil
	}
	place[string(address.Person)] = o.Name
	return address.Lines(place)
}

// Payer is the address of whoever pays for an order, line by line; none where it is the
// buyer's own.
func Payer(o store.Order) []string {
	place := map[string]string{}
	_ = json.Unmarshal(o.Payer, &place)
	return address.Lines(place)
}

// Said is what an order's buyer answered besides.
func Said(o store.Order) []store.Said {
	var said []store.Said
	_ = json.Unmarshal(o.Said, &said)
	return said
}

// NoOrder is said to who asks for an order that is not theirs.
const NoOrder = "This link does not belong to an order placed in this browser. Nothing was charged. Your order, if you placed one, stands as your confirmation mail says."

// OrderFacts reads an order as its upsell and thank-you pages show it: what
// has been paid for, and which mail comes from whom.
func (reader *Reader) OrderFacts(ctx context.Context, o store.Order) (*facts.Order, error) {
	var lines []struct {
		store.OrderLine
		File, Form, Way    string
		Round, Taken, Most int
		Until              *time.Time
	}
	shop, err := reader.Store.Shop(ctx)
	if err != nil {
		return nil, err
	}
	settled := order.Charged
	if order.State(o.State) == order.Awaited {
		settled = order.Waiting
	}
	err = reader.Store.On(ctx).Raw(`SELECT l.*, coalesce(f.name, '') AS file, coalesce(q.form, '') AS form, p.way, coalesce(d.round, 1) AS round, coalesce(d.taken, 0) AS taken, coalesce(d.most, 0) AS most, d.until FROM order_lines l JOIN payments p ON p.id = l.payment_id
		LEFT JOIN variants v ON v.id = l.variant_id LEFT JOIN products q ON q.id = v.product_id LEFT JOIN LATERAL (`+UnitsBack+`) b ON true LEFT JOIN files f ON f.product_id = v.product_id AND l.quantity > coalesce(b.back, 0)
		LEFT JOIN downloads d ON d.order_id = l.order_id AND d.variant_id = l.variant_id
		WHERE l.order_id = ? AND p.state = ? ORDER BY p.asked_at, l.position`, o.ID, settled).Scan(&lines).Error
	if err != nil {
		return nil, fmt.Errorf("read the order's lines: %w", err)
	}
	var mails []store.Mail
	err = reader.Store.On(ctx).Raw(`SELECT m.* FROM mails m JOIN payments p ON p.id = m.payment_id
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
		if l.File != "" && settled == order.Charged {
			d := order.Download{OrderID: o.ID, VariantID: l.VariantID, Round: l.Round, Taken: l.Taken, Most: l.Most}
			bought.Download = d.Path(shop.SealKey, o.Token)
			if l.Until != nil {
				d.Until = *l.Until
				bought.Taken = words.Count(d.Left(), "time") + " more, until " + deadline.Day(d.Until, shop.Zone)
				if over := d.Over(reader.Store.Now()); over != "" {
					bought.Download, bought.Taken = "", over+". Write to us, and it can be taken again."
				}
			}
		}
		f.Lines = append(f.Lines, bought)
		switch form := goods.Form(l.Form); {
		case form == goods.Digital:
			f.Holds.Downloaded = true
		case form == goods.Bookable:
			f.Holds.Booked = true
		case order.Way(l.Way) == order.OnCollection:
			f.Holds.Collected = true
		default:
			f.Holds.Sent = true
		}
	}
	var sums []string
	if err := reader.Store.On(ctx).Raw(`SELECT summary::text FROM payments WHERE order_id = ? AND state = ? ORDER BY asked_at`, o.ID, settled).Scan(&sums).Error; err != nil {
		return nil, fmt.Errorf("read the order's sums: %w", err)
	}
	parts := make([][]facts.Row, len(sums))
	for i, raw := range sums {
		var s Summary
		if err := json.Unmarshal([]byte(raw), &s); err != nil {
			return nil, fmt.Errorf("read the order's sums: %w", err)
		}
		parts[i] = s.Rows
	}
	f.Sums = facts.Together(parts...)
	if settled == order.Waiting {
		if f.Awaits, err = reader.awaits(ctx, o); err != nil {
			return nil, err
		}
		f.Total = f.Awaits.Amount
	}
	for _, m := range mails {
		f.Mails = append(f.Mails, facts.Mail{From: m.Sender, Subject: m.Subject, Sent: m.SentAt != nil})
	}
	return f, nil
}

// PaidBy is the way by which an order was paid at its checkout; "": it is not paid.
func PaidBy(db *gorm.DB, orderID string) (order.Way, error) {
	var way order.Way
	err := db.Raw("SELECT way FROM payments WHERE order_id = ? AND state = 'charged' AND kind = 'checkout'", orderID).Scan(&way).Error
	if err != nil {
		return "", fmt.Errorf("read how an order was paid: %w", err)
	}
	return way, nil
}

// awaits is how an order is to be paid that waits for it.
func (reader *Reader) awaits(ctx context.Context, o store.Order) (*facts.Awaits, error) {
	p, err := store.One[store.Payment](reader.Store.On(ctx).Scopes(store.OfOrder(o.ID)).Where("state = ?", order.Waiting), NoOrder)
	if err != nil {
		return nil, err
	}
	shop, err := reader.Store.Shop(ctx)
	if err != nil {
		return nil, err
	}
	a := &facts.Awaits{Way: order.Way(p.Way), Amount: money.Of(p.AmountMinor, o.Currency), Reference: order.Grouped(Deref(o.Reference)), Until: *p.HeldUntil, Day: deadline.Day(*p.HeldUntil, shop.Zone)}
	to := shop.TransferTo
	if a.Way == order.OnCollection {
		to = shop.CollectAt
	}
	a.To = strings.Split(to, "\n")
	return a, nil
}

// UnitsBack are the units of a line l that have gone back, or are about to.
const UnitsBack = `SELECT sum(r.quantity) AS back FROM refund_lines r JOIN refund_parts t USING (refund_id, payment_id)
	WHERE r.payment_id = l.payment_id AND r.position = l.position AND t.state <> 'refused'`

// Summary is what stands between the goods of a payment and its total.
type Summary struct {
	Rows []facts.Row `json:"rows,omitempty"`
}
