package selling

import (
	"context"
	"errors"
	"slices"
	"strings"

	"chrysagon/app/factbook"
	"chrysagon/app/ports"
	"chrysagon/core/facts"
	"chrysagon/core/offer"
	"chrysagon/core/order"
	"chrysagon/store"

	"github.com/jackc/pgx/v5/pgconn"
	"gorm.io/gorm"
)

func summaryOf(q offer.Quote) factbook.Summary { return factbook.Summary{Rows: facts.Sums(q)} }

// noteUses writes down which limited offers a payment uses, for reserve to
// count.
func noteUses(tx *gorm.DB, s started, offers []offer.Offer, typed string, q offer.Quote) error {
	used := usedOffers(q)
	var rows []store.OfferUse
	for _, o := range offers {
		if !slices.Contains(used, o.ID) || (o.MaxUses == 0 && o.MaxUsesEach == 0 && len(o.Codes) == 0) {
			continue
		}
		row := store.OfferUse{PaymentID: s.payment.ID, OfferID: o.ID, Email: strings.ToLower(s.order.Email)}
		for _, c := range o.Codes {
			if offer.Normal(c.Code) == offer.Normal(typed) {
				row.Code = offer.Normal(typed)
			}
		}
		rows = append(rows, row)
	}
	if len(rows) == 0 {
		return nil
	}
	return tx.Create(&rows).Error
}

// usedOffers are the offers that a quote applied.
func usedOffers(q offer.Quote) []string {
	var ids []string
	for _, l := range q.Lines {
		for _, a := range l.Trail {
			ids = append(ids, a.OfferID)
		}
	}
	for _, r := range q.Reductions {
		ids = append(ids, r.OfferID)
	}
	for _, a := range q.Shipping.Trail {
		ids = append(ids, a.OfferID)
	}
	return ids
}

// The codes with which the database's function reserve refuses.
const (
	notEnough      = "CH001"
	alreadySettled = "CH002" // by the reconciling job, while this program slept
	usedUp         = "CH003" // a limited offer or code, while this buyer was paying
)

// reserve takes the units of a payment out of what may be sold. Where they are
// not all to be had, nothing is taken and the payment is given up.
func (counter *Counter) reserve(ctx context.Context, s started) error {
	err := store.Again(func() error { return counter.Store.On(ctx).Exec("SELECT reserve(?)", s.payment.ID).Error })
	var refused *pgconn.PgError
	switch {
	case !errors.As(err, &refused):
		return err
	case refused.Code == alreadySettled:
		return errUnderway
	case refused.Code != notEnough && refused.Code != usedUp:
		return err
	}
	answer := ports.ChargeAnswer{Key: s.payment.Key, State: order.Cancelled, Message: "Somebody else was quicker. Nothing was charged."}
	if err := counter.Settle(ctx, answer); err != nil {
		return err
	}
	return soldOut{refused.Message, refused.Code == usedUp}
}
