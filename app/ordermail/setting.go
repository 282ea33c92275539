package ordermail

import (
	"context"

	"chrysagon/core/refusal"
	"chrysagon/store"
)

// SetOrderMail says how the owner hears of orders.
func (w *Writer) SetOrderMail(ctx context.Context, way string) error {
	for _, m := range OrderMails {
		if m.Name == way {
			// A daily mail begins with what comes from now on.
			return w.Store.On(ctx).Model(&store.Shop{}).Where("id = 1").Updates(map[string]any{"order_mail": way, "digest_at": w.Store.Now()}).Error
		}
	}
	return refusal.Of(refusal.ErrInvalid, "Choose how you want to hear of orders.")
}
