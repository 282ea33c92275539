package orders

import (
	"context"
	"fmt"
	"strings"
	"time"

	"chrysagon/app/mail"
	"chrysagon/core/money"

	"gorm.io/gorm"
)

// digestHour is when the daily mail goes out, in the store's zone.
const digestHour = 7

// Digest puts the owner's daily mail into the queue once its hour has come: the
// orders since the last one. It returns whether it was due.
func (office *Office) Digest(ctx context.Context) (bool, error) {
	shop, err := office.Store.Shop(ctx)
	if err != nil || shop.OrderMail != "daily" || office.Ports.Post == nil {
		return false, err
	}
	loc, err := time.LoadLocation(shop.Zone)
	if err != nil {
		return false, fmt.Errorf("the store's zone: %w", err)
	}
	now := office.Store.Now()
	local := now.In(loc)
	due := time.Date(local.Year(), local.Month(), local.Day(), digestHour, 0, 0, 0, loc)
	if now.Before(due) {
		due = due.AddDate(0, 0, -1)
	}
	since := due.AddDate(0, 0, -1)
	if shop.DigestAt != nil {
		if !shop.DigestAt.Before(due) {
			return false, nil
		}
		since = *shop.DigestAt
	}
	// Whoever moves the moment on sends: two programs send one mail.
	err = office.Store.In(ctx, func(tx *gorm.DB) error {
		moved := tx.Exec("UPDATE store SET digest_at = ? WHERE digest_at IS NOT DISTINCT FROM ?", now, shop.DigestAt)
		if moved.Error != nil || moved.RowsAffected == 0 {
			return moved.Error
		}
		return office.Queue.Put(tx, SendDigest{Since: since, Until: now})
	})
	return err == nil, err
}

// SendDigest is the job that sends the owner's daily mail.
type SendDigest struct {
	Since time.Time `json:"since"`
	Until time.Time `json:"until"`
}

// Kind names the job in the queue.
func (SendDigest) Kind() string { return "send_digest" }

// DeliverDigest sends the orders of a span of time, unless there are none.
func (office *Office) DeliverDigest(ctx context.Context, d SendDigest) error {
	shop, err := office.Store.Shop(ctx)
	if err != nil {
		return err
	}
	var rows []OrderRow
	err = office.Store.On(ctx).Raw(orderRows+" WHERE o.state = 'paid' AND o.paid_at >= ? AND o.paid_at < ? ORDER BY o.paid_at", d.Since, d.Until).Scan(&rows).Error
	if err != nil || len(rows) == 0 {
		return err
	}
	sum, text := money.Of(0, shop.Currency), strings.Builder{}
	for _, r := range rows {
		sum.Minor += r.TotalMinor
		fmt.Fprintf(&text, "%d  %s  %s\n    %s\n", *r.Number, r.Total(), r.Name, r.Items)
	}
	subject := fmt.Sprintf("%d orders, %s", len(rows), sum)
	if len(rows) == 1 {
		subject = fmt.Sprintf("One order, %s", sum)
	}
	fmt.Fprintf(&text, "\nTo pack: %s\n", office.Origins.Studio+"/orders")
	return office.Mail.Send(ctx, mail.ToStore(shop, "digest-"+d.Until.UTC().Format("20060102t150405"), subject, text.String(), ""))
}
