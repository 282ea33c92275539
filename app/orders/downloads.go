package orders

import (
	"context"
	"fmt"

	"chrysagon/core/order"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Renew lets a buyer download once more what they bought, by a new link that goes to them by
// mail. Links from before lead nowhere then.
func (office *Office) Renew(ctx context.Context, by, orderID, variantID string) error {
	now := office.Store.Now()
	err := office.Store.InAgain(ctx, func(tx *gorm.DB) error {
		var o store.Order
		if err := tx.Raw("SELECT * FROM orders WHERE id = ? FOR UPDATE", orderID).Scan(&o).Error; err != nil {
			return err
		}
		if order.State(o.State) != order.Paid {
			return refusal.Of(refusal.ErrInvalid, "Only what is paid for can be downloaded.")
		}
		var name string
		err := tx.Raw(`WITH bought AS (SELECT l.name FROM order_lines l JOIN payments p ON p.id = l.payment_id AND p.state = 'charged'
				JOIN variants v ON v.id = l.variant_id JOIN products q ON q.id = v.product_id AND q.form = 'digital' WHERE l.order_id = ? AND l.variant_id = ? LIMIT 1),
			renewed AS (INSERT INTO downloads (order_id, variant_id, most, until) SELECT ?, ?, s.download_most, ?::timestamptz + make_interval(days => s.download_days) FROM store s, bought
				ON CONFLICT (order_id, variant_id) DO UPDATE SET round = downloads.round + 1, taken = 0, most = excluded.most, until = excluded.until)
			SELECT name FROM bought`, orderID, variantID, orderID, variantID, now).Scan(&name).Error
		if err != nil {
			return fmt.Errorf("renew a download: %w", err)
		}
		if name == "" {
			return refusal.Of(refusal.ErrNotFound, "Nothing of this order is downloaded.")
		}
		if err := office.noted(tx, by, orderID, "“"+name+"” can be downloaded once more."); err != nil || office.Ports.Post == nil {
			return err
		}
		return office.OrderMail.MailOf(tx, o, store.NewID(), "download", fmt.Sprintf("Your download of order %d, once more", *o.Number))
	})
	if err != nil {
		return fmt.Errorf("renew: %w", err)
	}
	return nil
}

// Downloads is how often and for how many days what is bought can be downloaded.
type Downloads struct{ Most, Days int }

// SetDownloads keeps it, for what is bought from now on and what is renewed.
func (office *Office) SetDownloads(ctx context.Context, d Downloads) error {
	if d.Most < 1 || d.Most > 100 || d.Days < 1 || d.Days > 3650 {
		return refusal.Of(refusal.ErrInvalid, "Downloads can be taken 1 to 100 times, within 1 to 3650 days.")
	}
	return office.Store.On(ctx).Model(&store.Shop{}).Where("id = 1").Updates(map[string]any{"download_most": d.Most, "download_days": d.Days}).Error
}
