package relays

import (
	"fmt"
	"time"

	"chrysagon/core/money"
	"chrysagon/core/relay"
	"chrysagon/store"

	"gorm.io/gorm"
)

// write writes a message for the first time; it says the same at every try after that. What
// it is about may be gone meanwhile, and then nothing is told.
func (k *Keeper) write(db *gorm.DB, row store.Relay, t store.Dispatch) (store.Dispatch, error) {
	says, err := read(row)
	if err != nil {
		return t, err
	}
	data, found, err := data(db, t)
	if err != nil {
		return t, fmt.Errorf("read what is to be told: %w", err)
	}
	if !found {
		t.Dropped = "what it was about is gone"
		return t, db.Model(&store.Dispatch{}).Where("id = ?", t.ID).Update("dropped", t.Dropped).Error
	}
	kind, body, err := relay.Message{Type: relay.Event(t.Event), Timestamp: t.At.UTC(), Data: data}.Body(says.Shape, says.Fields)
	if err != nil {
		return t, fmt.Errorf("write what is told: %w", err)
	}
	t.Kind, t.Body = kind, string(body)
	return t, db.Model(&store.Dispatch{}).Where("id = ?", t.ID).Updates(map[string]any{"kind": t.Kind, "body": t.Body}).Error
}

// data is what a message says; false where what it is about is gone.
func data(db *gorm.DB, t store.Dispatch) (relay.Data, bool, error) {
	switch relay.Event(t.Event) {
	case relay.Lead, relay.Unsubscribe:
		if t.Other != "" {
			return one(db, `SELECT c.email, c.name, l.name AS list, coalesce(p.name, '') AS page, m.consent, m.source FROM members m JOIN contacts c ON c.id = m.contact_id JOIN lists l ON l.id = m.list_id
				LEFT JOIN pages p ON p.id = m.page_id WHERE m.contact_id = ? AND m.list_id = ?`, t.Ref, t.Other)
		}
		return one(db, "SELECT d.email, d.name, coalesce(p.name, '') AS page, d.consent, d.link AS source FROM leads d LEFT JOIN pages p ON p.id = d.page_id WHERE d.id = ?", t.Ref)
	case relay.Booking:
		return one(db, "SELECT d.email, d.name, coalesce(p.name, '') AS page, d.link AS source, d.slot_at AS slot, coalesce(d.slot_minutes, 0) AS minutes FROM leads d LEFT JOIN pages p ON p.id = d.page_id WHERE d.id = ?", t.Ref)
	case relay.Order:
		return order(db, t.Ref)
	case relay.Refund:
		data, found, err := of(db, "SELECT order_id FROM refunds WHERE id = ?", t.Ref)
		var minor int64
		if err == nil && found {
			err = db.Raw("SELECT coalesce(sum(amount_minor), 0) FROM refund_parts WHERE refund_id = ? AND state = 'refunded'", t.Ref).Scan(&minor).Error
			data.Refunded, data.Lines = money.Of(minor, data.Currency).Plain(), nil
		}
		return data, found, err
	case relay.Shipment:
		data, found, err := of(db, "SELECT order_id FROM parcels WHERE id = ?", t.Ref)
		if err == nil && found {
			err = db.Raw("SELECT carrier, number AS parcel FROM parcels WHERE id = ?", t.Ref).Row().Scan(&data.Carrier, &data.Parcel)
		}
		return data, found, err
	}
	return relay.Data{}, false, nil
}

// about is a row of what a message says.
type about struct {
	Email, Name, List, Page, Consent, Source, Letter, Currency string
	Slot                                                       *time.Time
	Minutes                                                    int
	Number, Minor                                              int64
}

func one(db *gorm.DB, sql string, args ...any) (relay.Data, bool, error) {
	var rows []about
	err := db.Raw(sql, args...).Scan(&rows).Error
	if err != nil || len(rows) == 0 {
		return relay.Data{}, false, err
	}
	r := rows[0]
	out := relay.Data{Email: r.Email, Name: r.Name, List: r.List, Page: r.Page, Consent: r.Consent, Source: r.Source, Letter: r.Letter, Minutes: r.Minutes, Number: r.Number, Currency: r.Currency}
	if r.Slot != nil {
		at := r.Slot.UTC()
		out.Slot = &at
	}
	if r.Currency != "" {
		out.Total = money.Of(r.Minor, r.Currency).Plain()
	}
	return out, true, nil
}

// of is what is told of the order that a refund or a parcel is of.
func of(db *gorm.DB, sql, id string) (relay.Data, bool, error) {
	var orders []string
	if err := db.Raw(sql, id).Scan(&orders).Error; err != nil || len(orders) == 0 {
		return relay.Data{}, false, err
	}
	return order(db, orders[0])
}

// order is what is told of an order.
func order(db *gorm.DB, id string) (relay.Data, bool, error) {
	data, found, err := one(db, `SELECT o.email, o.name, coalesce(p.name, '') AS page, coalesce(o.number, 0) AS number, o.total_minor AS minor, o.currency, coalesce(t.subject, '') AS letter
		FROM orders o LEFT JOIN steps s ON s.id = o.step_id LEFT JOIN pages p ON p.id = s.page_id LEFT JOIN postings t ON t.id = o.posting_id WHERE o.id = ?`, id)
	if err != nil || !found {
		return data, found, err
	}
	var lines []struct {
		Name, SKU string
		Quantity  int
		Minor     int64
	}
	err = db.Raw(`SELECT l.name, coalesce(v.sku, '') AS sku, l.quantity, l.price_minor * l.quantity - l.off_minor AS minor FROM order_lines l LEFT JOIN variants v ON v.id = l.variant_id
		WHERE l.order_id = ? ORDER BY l.payment_id, l.position`, id).Scan(&lines).Error
	for _, l := range lines {
		data.Lines = append(data.Lines, relay.Line{Name: l.Name, SKU: l.SKU, Quantity: l.Quantity, Total: money.Of(l.Minor, data.Currency).Plain()})
	}
	return data, true, err
}
