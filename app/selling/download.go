package selling

import (
	"context"
	"fmt"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/core/order"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"gorm.io/gorm"
)

// NoDownload is said where nothing is downloaded.
const NoDownload = "There is nothing to download here for this order."

// granted lets what a payment paid for be downloaded, so often and so long as the store
// has it. What was granted before stays as it is.
func granted(tx *gorm.DB, p store.Payment, now time.Time) error {
	err := tx.Exec(`INSERT INTO downloads (order_id, variant_id, most, until)
		SELECT DISTINCT l.order_id, l.variant_id, s.download_most, ?::timestamptz + make_interval(days => s.download_days) FROM order_lines l
		JOIN variants v ON v.id = l.variant_id JOIN products q ON q.id = v.product_id AND q.form = 'digital' CROSS JOIN store s
		WHERE l.payment_id = ? ON CONFLICT DO NOTHING`, now, p.ID).Error
	if err != nil {
		return fmt.Errorf("grant downloads: %w", err)
	}
	return nil
}

// Download is the file of a digital product, for an order that has paid for it, by a link
// that the store signed. It is counted, unless it is only asked about.
func (counter *Counter) Download(ctx context.Context, o store.Order, variantID, sign string, counted bool) (store.File, error) {
	var f store.File
	db := counter.Store.On(ctx)
	err := db.Raw(`SELECT f.* FROM files f JOIN variants v ON v.product_id = f.product_id JOIN order_lines l ON l.variant_id = v.id
		JOIN payments p ON p.id = l.payment_id LEFT JOIN LATERAL (`+factbook.UnitsBack+`) b ON true
		WHERE l.order_id = ? AND v.id = ? AND p.state = 'charged' AND l.quantity > coalesce(b.back, 0) LIMIT 1`, o.ID, variantID).Scan(&f).Error
	if err != nil {
		return f, fmt.Errorf("look for what is downloaded: %w", err)
	}
	if f.ProductID == "" {
		return f, refusal.Of(refusal.ErrNotFound, NoDownload)
	}
	shop, err := counter.Store.Shop(ctx)
	if err != nil {
		return f, err
	}
	now := counter.Store.Now()
	d, err := counter.download(ctx, o.ID, variantID, shop, now)
	switch {
	case err != nil:
		return f, err
	case !d.Signed(shop.SealKey, sign):
		return f, refusal.Of(refusal.ErrNotFound, "This link to a download is not the newest any more, or was copied in part. Your order’s page has the newest one.")
	case d.Over(now) != "":
		return f, refusal.Of(refusal.ErrGone, "%s. Write to %s, and it can be taken again.", d.Over(now), shop.ContactEmail)
	case !counted:
		return f, nil
	}
	taken := db.Exec(`UPDATE downloads SET taken = taken + 1, last_at = ? WHERE order_id = ? AND variant_id = ? AND round = ? AND taken < most`, now, o.ID, variantID, d.Round)
	if taken.Error == nil && taken.RowsAffected == 0 { // another request was quicker
		return f, refusal.Of(refusal.ErrGone, "It was taken as often as it can be. Write to %s, and it can be taken again.", shop.ContactEmail)
	}
	return f, taken.Error
}

// download is how a download stands; of an order from before they were counted it begins
// now.
func (counter *Counter) download(ctx context.Context, orderID, variantID string, shop store.Shop, now time.Time) (order.Download, error) {
	db := counter.Store.On(ctx)
	err := db.Exec(`INSERT INTO downloads (order_id, variant_id, most, until) VALUES (?, ?, ?, ?) ON CONFLICT DO NOTHING`,
		orderID, variantID, shop.DownloadMost, now.AddDate(0, 0, shop.DownloadDays)).Error
	if err != nil {
		return order.Download{}, fmt.Errorf("begin to count a download: %w", err)
	}
	var d order.Download
	err = db.Raw("SELECT * FROM downloads WHERE order_id = ? AND variant_id = ?", orderID, variantID).Scan(&d).Error
	return d, err
}
