package assortment

import (
	"context"
	"fmt"

	"chrysagon/core/goods"
	"chrysagon/core/refusal"
)

// Describe keeps what is said of a product: copy with structure, or plain lines. What may
// not stand in copy is left out.
func (g *Assortment) Describe(ctx context.Context, productID, text string) error {
	said, err := goods.Description(text)
	if err != nil {
		return refusal.Of(refusal.ErrInvalid, "The description %s.", err)
	}
	done := g.Store.On(ctx).Exec("UPDATE products SET description = ? WHERE id = ?", said, productID)
	if done.Error != nil {
		return fmt.Errorf("describe a product: %w", done.Error)
	}
	if done.RowsAffected == 0 {
		return refusal.Of(refusal.ErrNotFound, "There is no such product.")
	}
	g.News.FactsChanged()
	return nil
}
