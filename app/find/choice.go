package find

import (
	"context"
)

// Choice is something with a name that can be chosen.
type Choice struct{ ID, Name string }

// BandChoices is what a band's settings choose from.
type BandChoices struct {
	Deadlines []Choice
	Pages     []Choice
	Groups    []Choice
	Shelves   []Choice
}

// BandChoices lists deadlines, the campaign's pages, groups and shelves.
func (f *Finder) BandChoices(ctx context.Context, campaignID string) (BandChoices, error) {
	var b BandChoices
	err := f.Store.On(ctx).Raw("SELECT id, name FROM deadlines ORDER BY at NULLS LAST, name LIMIT 200").Scan(&b.Deadlines).Error
	if err == nil {
		err = f.Store.On(ctx).Raw("SELECT id, name FROM pages WHERE campaign_id = ? AND aside_at IS NULL AND NOT by_mail ORDER BY name", campaignID).Scan(&b.Pages).Error
	}
	if err == nil {
		err = f.Store.On(ctx).Raw("SELECT id, name FROM shelves ORDER BY name, id LIMIT 200").Scan(&b.Shelves).Error
	}
	if err == nil {
		err = f.Store.On(ctx).Raw("SELECT id, name FROM goods_groups ORDER BY name LIMIT 200").Scan(&b.Groups).Error
	}
	return b, err
}

// PageChoice is a page that a link can lead to.
type PageChoice struct{ ID, Name, Campaign string }
