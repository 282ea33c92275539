package calendar

import (
	"context"
	"fmt"

	"chrysagon/core/refusal"
	"chrysagon/store"
)

// Campaigns lists the campaigns, the newest year first, and tells which is at hand: the
// one that is wanted, or else the one whose edition went live last, or the first there is.
func (calendar *Calendar) Campaigns(ctx context.Context, wanted string) (list []store.Campaign, atHand string, err error) {
	var rows []struct {
		store.Campaign
		Hand int
	}
	err = calendar.Store.On(ctx).Raw(`SELECT * FROM (SELECT c.*, row_number() OVER (ORDER BY c.year DESC NULLS LAST, c.name) AS place,
			row_number() OVER (ORDER BY c.id = ? DESC, e.published_at DESC NULLS LAST,
				(SELECT max(published_at) FROM editions WHERE campaign_id = c.id) DESC NULLS LAST, c.id) AS hand
			FROM campaigns c LEFT JOIN editions e ON e.id = c.live_edition_id) x
		WHERE place <= 100 OR hand = 1 ORDER BY place`, wanted).Scan(&rows).Error
	if err != nil {
		return nil, "", fmt.Errorf("read the campaigns: %w", err)
	}
	for _, r := range rows {
		list = append(list, r.Campaign)
		if r.Hand == 1 {
			atHand = r.ID
		}
	}
	if atHand == "" {
		err = refusal.Of(refusal.ErrNotFound, "There is no campaign yet. Begin a store with “chrysagon init”, or take the demo with “chrysagon demo”.")
	}
	return list, atHand, err
}
