package orders

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"chrysagon/app/factbook"
	"chrysagon/core/order"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Sending is how orders are handed to a carrier.
type Sending struct {
	Carrier, Number string
	Mail            bool // tell the buyer
}

func (s *Sending) fault() string {
	s.Carrier, s.Number = strings.TrimSpace(s.Carrier), strings.TrimSpace(s.Number)
	if len([]rune(s.Carrier)) > 60 || len([]rune(s.Number)) > 60 {
		return "Carrier and number have at most 60 characters each."
	}
	return ""
}

// Handled is what came of a deed done to many orders at once.
type Handled struct {
	Done int
	Left []string // why each of the others was left as it was
}

// SendOrders marks orders as sent, each with a parcel, and tells their buyers. The
// same press twice sends one mail: an order that is sent already is left alone.
func (office *Office) SendOrders(ctx context.Context, by string, ids []string, s Sending) (Handled, error) {
	if fault := s.fault(); fault != "" {
		return Handled{}, refusal.Of(refusal.ErrInvalid, "%s", fault)
	}
	if s.Number != "" && len(ids) > 1 {
		return Handled{}, refusal.Of(refusal.ErrInvalid, "A parcel’s number belongs to one order. Leave it empty for many, or send them one by one.")
	}
	return office.eachOrder(ctx, ids, order.Send, func(tx *gorm.DB, o store.Order) error {
		p := store.Parcel{ID: store.NewID(), OrderID: o.ID, Carrier: s.Carrier, Number: s.Number, SentAt: office.Store.Now(), SentBy: by}
		if err := tx.Create(&p).Error; err != nil {
			return err
		}
		if !s.Mail || office.Ports.Post == nil {
			return nil
		}
		return office.OrderMail.MailOf(tx, o, p.ID, "sent", fmt.Sprintf("Your order %d is on its way", *o.Number))
	})
}

// MoveOrders finishes orders, or has them packed after all.
func (office *Office) MoveOrders(ctx context.Context, by string, ids []string, d order.Deed) (Handled, error) {
	text, ok := map[order.Deed]string{order.Finish: "Marked as done.", order.Reopen: "Put back among those to pack."}[d]
	if !ok {
		return Handled{}, refusal.Of(refusal.ErrInvalid, "There is no such deed.")
	}
	return office.eachOrder(ctx, ids, d, func(tx *gorm.DB, o store.Order) error {
		return office.noted(tx, by, o.ID, text)
	})
}

// eachOrder does a deed to orders, in one transaction and in the order of their IDs.
func (office *Office) eachOrder(ctx context.Context, ids []string, d order.Deed, do func(*gorm.DB, store.Order) error) (Handled, error) {
	var out Handled
	if len(ids) == 0 {
		return out, refusal.Of(refusal.ErrInvalid, "Choose orders first: tick them in the list.")
	}
	ids = slices.Compact(slices.Sorted(slices.Values(ids)))
	err := office.Store.InAgain(ctx, func(tx *gorm.DB) error {
		out = Handled{}
		var rows []store.Order
		if err := tx.Raw("SELECT * FROM orders WHERE id = ANY(?::text[]) ORDER BY id FOR UPDATE", store.TextArray(ids)).Scan(&rows).Error; err != nil {
			return err
		}
		for _, o := range rows {
			from := order.Handling(factbook.Deref(o.Handling))
			next, err := order.Handle(from, d)
			if order.State(o.State) != order.Paid {
				out.Left = append(out.Left, "an order that is not paid yet")
				continue
			}
			if order.Standing(order.Paid, from, o.TotalMinor, o.RefundedMinor) == "refunded" && d == order.Send {
				out.Left = append(out.Left, fmt.Sprintf("order %d, all of which was refunded", *o.Number))
				continue
			}
			if err != nil {
				out.Left = append(out.Left, fmt.Sprintf("order %d, which is %s", *o.Number, from.Words()))
				continue
			}
			if err := tx.Model(&store.Order{}).Where("id = ?", o.ID).Update("handling", string(next)).Error; err != nil {
				return err
			}
			if err := do(tx, o); err != nil {
				return err
			}
			out.Done++
		}
		return nil
	})
	if err != nil {
		return Handled{}, fmt.Errorf("handle orders: %w", err)
	}
	return out, nil
}

// NoteOrder keeps what somebody wrote of an order.
func (office *Office) NoteOrder(ctx context.Context, by, id, text string) error {
	text = strings.TrimSpace(text)
	if text == "" || len([]rune(text)) > 2000 {
		return refusal.Of(refusal.ErrInvalid, "Write a note of at most 2000 characters.")
	}
	if _, err := store.One[store.Order](office.Store.On(ctx).Where("id = ?", id), factbook.NoOrder); err != nil {
		return err
	}
	return office.Store.On(ctx).Create(&store.OrderNote{ID: store.NewID(), OrderID: id, Kind: "note", At: office.Store.Now(), By: by, Text: text}).Error
}
