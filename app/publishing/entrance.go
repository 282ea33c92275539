package publishing

import (
	"context"
	"fmt"

	"chrysagon/core/refusal"
)

// Entrance is the address on which the shop opens: that of the page chosen for
// it, or of the first step of the campaign that went live last.
func (publisher *Publisher) Entrance(ctx context.Context) (string, error) {
	if _, err := publisher.Due(ctx); err != nil {
		return "", err
	}
	var home string
	err := publisher.Store.On(ctx).Raw("SELECT l.address FROM store s JOIN live_pages l ON l.page_id = s.home_page_id").Scan(&home).Error
	if err != nil || home != "" {
		return home, err
	}
	var id string
	err = publisher.Store.On(ctx).Raw(`SELECT e.id FROM campaigns c JOIN editions e ON e.id = c.live_edition_id ORDER BY e.published_at DESC LIMIT 1`).Scan(&id).Error
	if err != nil {
		return "", fmt.Errorf("look for the entrance: %w", err)
	}
	if id == "" {
		return "", refusal.Of(refusal.ErrNotFound, "This shop has not opened yet.")
	}
	e, err := publisher.Edition(ctx, id)
	if err != nil {
		return "", err
	}
	if address := e.Entrance(); address != "" {
		return address, nil
	}
	return "", refusal.Of(refusal.ErrNotFound, "This shop has not opened yet.")
}

// LiveFor is the address of the page that is live for a purpose, the latest; "" when
// none is.
func (publisher *Publisher) LiveFor(ctx context.Context, purpose string) (string, error) {
	if _, err := publisher.Due(ctx); err != nil {
		return "", err
	}
	var address string
	err := publisher.Store.On(ctx).Raw("SELECT l.address FROM live_pages l JOIN pages p ON p.id = l.page_id WHERE p.purpose = ? ORDER BY p.created_at DESC, l.address LIMIT 1", purpose).Scan(&address).Error
	if err != nil {
		return "", fmt.Errorf("look for the page: %w", err)
	}
	return address, nil
}
