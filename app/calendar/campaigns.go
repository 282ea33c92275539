package calendar

import (
	"context"

	"chrysagon/core/refusal"
	"chrysagon/store"
)

// Campaigns lists all campaigns, the newest year first.
func (calendar *Calendar) Campaigns(ctx context.Context) ([]store.Campaign, error) {
	var list []store.Campaign
	err := calendar.Store.On(ctx).Order("year DESC NULLS LAST, name").Limit(100).Find(&list).Error
	return list, err
}

// CampaignAtHand is the campaign the studio opens on: the one that is wanted,
// or else the one whose edition went live last, or the first there is.
func (calendar *Calendar) CampaignAtHand(ctx context.Context, wanted string) (string, error) {
	var id string
	err := calendar.Store.On(ctx).Raw(`SELECT c.id FROM campaigns c LEFT JOIN editions e ON e.id = c.live_edition_id
		ORDER BY c.id = ? DESC, e.published_at DESC NULLS LAST, (SELECT max(published_at) FROM editions WHERE campaign_id = c.id) DESC NULLS LAST, c.id LIMIT 1`, wanted).Scan(&id).Error
	if err == nil && id == "" {
		err = refusal.Of(refusal.ErrNotFound, "There is no campaign yet. Begin a store with “chrysagon init”, or take the demo with “chrysagon demo”.")
	}
	return id, err
}
