package orders

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/order"
	"chrysagon/core/refund"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"gorm.io/gorm"
)

// WholeOrder is everything about one order.
type WholeOrder struct {
	OrderRow
	Order     store.Order
	Where     []string // address, line by line
	Payer     []string // of whoever pays, where that is somebody else
	Said      []store.Said
	Lines     []OrderedLine
	Sums      []facts.Row // reductions, delivery and tax, over all payments
	Left      money.Money // paid, less what went back
	Parcels   []store.Parcel
	Mails     []store.Mail
	Timeline  []Happening
	Refunds   bool          // anything can still go back
	Awaits    *facts.Awaits // how it is paid that waits for it; nil: it is paid
	Collected bool          // it is fetched, nothing is sent
	Earlier   int           // other paid orders of this buyer
	Page      string
	Letter    string // the subject of the letter by which it came; empty: by none
	Line      string // the follow-up that the letter is of
	Nth       int    // its place in that, from 1
}

// OrderedLine is one line of an order with why it cost what it did.
type OrderedLine struct {
	SKU, Name, Via string
	Quantity, Back int
	List, Price    money.Money
	Total          money.Money
	Off            money.Money // its share of what was taken off the order
	Why            []string    // each step from the list price to the price
	Upsell         bool
	Digital        bool
	Download       *order.Download // how it stands; nil: it is none, or was never counted
	VariantID      string
}

// Happening is one moment of an order's life.
type Happening struct {
	At   time.Time
	Icon string
	What string
	By   string // who; empty: the buyer or the program
	Note bool
}

// WholeOrder reads it.
func (office *Office) WholeOrder(ctx context.Context, id string) (WholeOrder, error) {
	var w WholeOrder
	rows, err := office.Orders(ctx, OrderQuery{IDs: []string{id}, Number: 1})
	if err != nil {
		return w, err
	}
	if len(rows) == 0 {
		return w, refusal.Of(refusal.ErrNotFound, factbook.NoOrder)
	}
	w.OrderRow = rows[0]
	db := office.Store.On(ctx)
	story, err := store.One[store.OrderStory](store.Story(db).Where("id = ?", id), factbook.NoOrder)
	if err != nil {
		return w, err
	}
	w.Order, w.Parcels, w.Mails = story.Order, story.Parcels, story.Mails
	w.Where, w.Payer, w.Said = factbook.Addressed(w.Order), factbook.Payer(w.Order), factbook.Said(w.Order)
	f, err := office.Facts.OrderFacts(ctx, w.Order)
	if err != nil {
		return w, err
	}
	w.Sums, w.Left = f.Sums, money.Of(w.TotalMinor-w.RefundedMinor, w.Currency)
	if w.Lines, err = orderedLines(db, w.Order); err != nil {
		return w, err
	}
	if err := db.Raw("SELECT count(*) FROM orders WHERE state = 'paid' AND lower(email) = lower(?) AND id <> ?", w.Email, id).Scan(&w.Earlier).Error; err != nil {
		return w, err
	}
	if err := db.Raw("SELECT p.name FROM steps s JOIN pages p ON p.id = s.page_id WHERE s.id = ?", w.Order.StepID).Scan(&w.Page).Error; err != nil {
		return w, err
	}
	if w.Order.PostingID != nil {
		var by struct {
			Letter, Line string
			Nth          int
		}
		err := db.Raw(`SELECT p.subject AS letter, coalesce(f.name, '') AS line, coalesce(step.nth, 0) AS nth FROM postings p LEFT JOIN followups f ON f.id = p.followup_id
			LEFT JOIN LATERAL (SELECT nth FROM jsonb_array_elements(f.line -> 'steps') WITH ORDINALITY AS step(of, nth) WHERE step.of ->> 'letter' = p.letter_id LIMIT 1) step ON true WHERE p.id = ?`, *w.Order.PostingID).Scan(&by).Error
		if err != nil {
			return w, err
		}
		w.Letter, w.Line, w.Nth = by.Letter, by.Line, by.Nth
	}
	if order.State(w.Order.State) == order.Paid {
		_, parts, err := refundable(db, w.Order)
		if err != nil {
			return w, err
		}
		w.Refunds = slices.ContainsFunc(parts, func(p refund.Part) bool { return p.Left() > 0 })
	}
	shop, err := office.Store.Shop(ctx)
	if err != nil {
		return w, err
	}
	w.Awaits, w.Collected = f.Awaits, slices.ContainsFunc(story.Payments, func(p store.Payment) bool { return order.Way(p.Way) == order.OnCollection })
	w.Timeline, err = office.timeline(db, w, story, shop.Zone)
	return w, err
}

func orderedLines(db *gorm.DB, o store.Order) ([]OrderedLine, error) {
	var rows []struct {
		store.OrderLine
		SKU, Kind, Form    string
		Back               int
		Round, Taken, Most *int
		Until              *time.Time
	}
	err := db.Raw(`SELECT l.*, v.sku, p.kind, q.form, coalesce(b.back, 0) AS back, d.round, d.taken, d.most, d.until FROM order_lines l JOIN payments p ON p.id = l.payment_id
		LEFT JOIN downloads d ON d.order_id = l.order_id AND d.variant_id = l.variant_id
		LEFT JOIN variants v ON v.id = l.variant_id LEFT JOIN products q ON q.id = v.product_id LEFT JOIN LATERAL (`+factbook.UnitsBack+`) b ON true
		WHERE l.order_id = ? AND (p.state = 'charged' OR (? IN ('paying', 'awaited') AND p.state IN ('asked', 'confirming', 'waiting'))) ORDER BY p.asked_at, l.position`, o.ID, o.State).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("read the order's lines: %w", err)
	}
	out := make([]OrderedLine, len(rows))
	for i, r := range rows {
		price := money.Of(r.PriceMinor, o.Currency)
		out[i] = OrderedLine{
			SKU: r.SKU, Name: r.Name, Via: r.Via, Quantity: r.Quantity, Back: r.Back, List: money.Of(r.ListMinor, o.Currency), Price: price, Total: price.Times(r.Quantity),
			Off: money.Of(r.OffMinor, o.Currency), Upsell: r.Kind == order.AsUpsell, Digital: r.Form == "digital", VariantID: r.VariantID,
		}
		if r.Until != nil {
			out[i].Download = &order.Download{OrderID: o.ID, VariantID: r.VariantID, Round: *r.Round, Taken: *r.Taken, Most: *r.Most, Until: *r.Until}
		}
		var trail []offer.Adjustment
		if json.Unmarshal(r.Trail, &trail) == nil {
			for _, step := range trail {
				out[i].Why = append(out[i].Why, fmt.Sprintf("%s −%s", step.Name, step.Off))
			}
		}
	}
	return out, nil
}

// timeline is an order's life, the latest first.
func (office *Office) timeline(db *gorm.DB, w WholeOrder, story store.OrderStory, zone string) ([]Happening, error) {
	var out []Happening
	add := func(at time.Time, icon, by, format string, args ...any) {
		out = append(out, Happening{At: at, Icon: icon, By: by, What: fmt.Sprintf(format, args...)})
	}
	add(w.Order.CreatedAt, "receipt", "", "The buyer pressed pay.")
	for _, p := range story.Payments {
		amount := money.Of(p.AmountMinor, w.Currency)
		what := map[string]string{order.AtCheckout: "for the order", order.AsUpsell: "added after it"}[p.Kind]
		switch {
		case order.PaymentState(p.State) == order.Waiting:
			add(p.AskedAt, "clock", "", "%s is to be paid %s, %s. The goods are held until %s.", amount, order.Way(p.Way).Paid(), what, deadline.Day(*p.HeldUntil, zone))
		case p.SettledAt == nil:
			add(p.AskedAt, "clock", "", "%s was asked for, %s; the answer is awaited.", amount, what)
		case order.PaymentState(p.State) == order.Charged:
			add(*p.SettledAt, "cash-register", "", "%s was paid %s, %s.", amount, order.Way(p.Way).Paid(), what)
		default:
			add(*p.SettledAt, "x", "", "%s was not paid. %s", amount, p.Message)
		}
	}
	for _, m := range w.Mails {
		if m.SentAt != nil {
			add(*m.SentAt, "mail", "", "“%s” was sent to %s.", m.Subject, w.Email)
		}
	}
	for _, p := range w.Parcels {
		to := strings.Trim(p.Carrier+", "+p.Number, ", ")
		if to != "" {
			to = " to " + to
		}
		add(p.SentAt, "truck-delivery", p.SentBy, "Handed over%s.", to)
	}
	for _, n := range story.Notes {
		out = append(out, Happening{At: n.At, Icon: map[string]string{"note": "note", "move": "package"}[n.Kind], By: n.By, What: n.Text, Note: n.Kind == "note"})
	}
	refunds, err := refundHappenings(db, w)
	if err != nil {
		return nil, err
	}
	out = append(out, refunds...)
	slices.SortStableFunc(out, func(x, y Happening) int { return x.At.Compare(y.At) })
	slices.Reverse(out)
	return out, nil
}

func refundHappenings(db *gorm.DB, w WholeOrder) ([]Happening, error) {
	var rows []struct {
		store.RefundPart
		AskedAt         time.Time
		AskedBy, Reason string
		Restock         bool
		Units           int
	}
	err := db.Raw(`SELECT p.*, r.asked_at, r.asked_by, r.reason, r.restock, (SELECT coalesce(sum(quantity), 0) FROM refund_lines l WHERE l.refund_id = p.refund_id AND l.payment_id = p.payment_id AND l.position >= 0) AS units
		FROM refund_parts p JOIN refunds r ON r.id = p.refund_id WHERE r.order_id = ?`, w.ID).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("read the refunds: %w", err)
	}
	var out []Happening
	for _, r := range rows {
		h := Happening{At: r.AskedAt, Icon: "arrow-back-up", By: r.AskedBy}
		amount := money.Of(r.AmountMinor, w.Currency)
		switch order.RefundState(r.State) {
		case order.Refunded:
			h.At, h.What = *r.SettledAt, fmt.Sprintf("%s went back to the buyer.", amount)
			if r.Restock && r.Units > 0 {
				h.What += fmt.Sprintf(" Units put back into stock: %d.", r.Units)
			}
		case order.RefundRefused:
			h.At, h.What = *r.SettledAt, fmt.Sprintf("The till refused to give %s back. %s", amount, r.Message)
		case order.RefundAsked:
			h.What = fmt.Sprintf("%s is to go back; the till’s answer is awaited.", amount)
		}
		if r.Reason != "" {
			h.What += " Reason: " + r.Reason
		}
		out = append(out, h)
	}
	return out, nil
}
