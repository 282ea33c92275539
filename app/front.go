package app

import (
	"context"
	"fmt"

	"chrysagon/store"
)

// Shop reads the store's own row.
func (a *App) Shop(ctx context.Context) (store.Shop, error) {
	return one[store.Shop](a.db(ctx), "The store is not set up; start with “make demo”.")
}

// Campaigns lists all campaigns, the newest year first.
func (a *App) Campaigns(ctx context.Context) ([]store.Campaign, error) {
	var list []store.Campaign
	err := a.db(ctx).Order("year DESC NULLS LAST, name").Limit(100).Find(&list).Error
	return list, err
}

// CampaignAtHand is the campaign the studio opens on: the one that is wanted,
// or else the one whose edition went live last, or the first there is.
func (a *App) CampaignAtHand(ctx context.Context, wanted string) (string, error) {
	var id string
	err := a.db(ctx).Raw(`SELECT c.id FROM campaigns c LEFT JOIN editions e ON e.id = c.live_edition_id
		ORDER BY c.id = ? DESC, e.published_at DESC NULLS LAST, (SELECT max(published_at) FROM editions WHERE campaign_id = c.id) DESC NULLS LAST, c.id LIMIT 1`, wanted).Scan(&id).Error
	if err == nil && id == "" {
		err = refuse(ErrNotFound, "There is no campaign yet. Begin a store with “chrysagon init”, or take the demo with “chrysagon demo”.")
	}
	return id, err
}

// Entrance is the address on which the shop opens: that of the page chosen for
// it, or of the first step of the campaign that went live last.
func (a *App) Entrance(ctx context.Context) (string, error) {
	if _, err := a.Due(ctx); err != nil {
		return "", err
	}
	var home string
	err := a.db(ctx).Raw("SELECT l.address FROM store s JOIN live_pages l ON l.page_id = s.home_page_id").Scan(&home).Error
	if err != nil || home != "" {
		return home, err
	}
	var id string
	err = a.db(ctx).Raw(`SELECT e.id FROM campaigns c JOIN editions e ON e.id = c.live_edition_id ORDER BY e.published_at DESC LIMIT 1`).Scan(&id).Error
	if err != nil {
		return "", fmt.Errorf("look for the entrance: %w", err)
	}
	if id == "" {
		return "", refuse(ErrNotFound, "This shop has not opened yet.")
	}
	e, err := a.edition(ctx, id)
	if err != nil {
		return "", err
	}
	if address := e.Entrance(); address != "" {
		return address, nil
	}
	return "", refuse(ErrNotFound, "This shop has not opened yet.")
}

// Answered tells whether a buyer has already said yes or no on a step, or a
// charge for their yes is under way.
func (a *App) Answered(ctx context.Context, o store.Order, live Live) (bool, error) {
	said, err := answerTo(a.db(ctx), o.ID, live.Step.ID)
	if err != nil || said != "" {
		return true, err
	}
	return a.inOrder(a.db(ctx), o.ID, a.adds(live.Edition, live.Step))
}

// UpsellClosed tells whether nothing can be added to an order any more.
func (a *App) UpsellClosed(o store.Order) bool { return a.upsellOpen(o) != "" }

// LiveFor is the address of the page that is live for a purpose, the latest; "" when
// none is.
func (a *App) LiveFor(ctx context.Context, purpose string) (string, error) {
	if _, err := a.Due(ctx); err != nil {
		return "", err
	}
	var address string
	err := a.db(ctx).Raw("SELECT l.address FROM live_pages l JOIN pages p ON p.id = l.page_id WHERE p.purpose = ? ORDER BY p.created_at DESC, l.address LIMIT 1", purpose).Scan(&address).Error
	if err != nil {
		return "", fmt.Errorf("look for the page: %w", err)
	}
	return address, nil
}
