package app

import (
	"context"
	"fmt"
	"strings"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/season"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Again makes “the same as last season”: a copy of a campaign with its pages,
// funnel, deadlines and offers, all dates moved to another year. Nothing of it
// is live until it is published.
func (a *App) Again(ctx context.Context, id string, year int) (string, error) {
	shop, err := a.Shop(ctx)
	if err != nil {
		return "", err
	}
	fresh := NewID()
	err = a.Store.In(ctx, func(tx *gorm.DB) error {
		if err := a.keepLedger(tx, a.Now()); err != nil {
			return err
		}
		c, err := one[store.Campaign](tx.Where("id = ?", id), "There is no such campaign.")
		if err != nil {
			return err
		}
		if c.Year == nil || *c.Year == year {
			return refuse(ErrInvalid, "Choose a campaign that has its days in another year.")
		}
		if err := copyCampaign(tx, c, fresh, year, shop); err != nil {
			return err
		}
		ids := map[string]string{}
		if err := copyDeadlines(tx, c, year, shop, ids); err != nil {
			return err
		}
		if err := a.copyOffers(tx, ids, *c.Year, year, shop); err != nil {
			return err
		}
		if err := copyPages(tx, c.ID, fresh, year, ids); err != nil {
			return err
		}
		return a.afterChange(tx, c.Name+" copied", nil)
	})
	if err != nil {
		return "", err
	}
	a.factsChanged()
	return fresh, nil
}

func copyCampaign(tx *gorm.DB, c store.Campaign, fresh string, year int, shop store.Shop) error {
	rule, err := campaignRule(c)
	if err != nil {
		return err
	}
	moved, err := rule.Move(*c.Year, year, shop.Countries)
	if err != nil {
		return refuse(ErrInvalid, "Its days cannot be moved to %d: %s.", year, err)
	}
	begins, ends, err := writtenDays(moved.From, moved.To)
	if err != nil {
		return err
	}
	err = tx.Exec("INSERT INTO campaigns (id, name, begins, ends, year, shelf_id, copy_of) VALUES (?, ?, ?::jsonb, ?::jsonb, ?, ?, ?)", fresh, ofYear(c.Name, *c.Year, year), begins, ends, year, c.ShelfID, c.ID).Error
	if err != nil {
		return err
	}
	return tx.Exec("INSERT INTO campaign_goods SELECT ?, variant_id FROM campaign_goods WHERE campaign_id = ?", fresh, c.ID).Error
}

// copyDeadlines copies the deadlines that the campaign's pages name, and those
// that end offers which share them.
func copyDeadlines(tx *gorm.DB, c store.Campaign, year int, shop store.Shop, ids map[string]string) error {
	var rows []store.Deadline
	err := tx.Raw(`SELECT d.* FROM deadlines d WHERE EXISTS (SELECT FROM pages p WHERE p.campaign_id = ? AND p.manuscript::text LIKE '%"' || d.id || '"%')`, c.ID).Scan(&rows).Error
	if err != nil {
		return fmt.Errorf("read the deadlines: %w", err)
	}
	for _, d := range rows {
		was := d.ID
		d.ID = NewID()
		d.Name = ofYear(d.Name, *c.Year, year)
		if d.At != nil {
			at, err := moveMoment(*d.At, *c.Year, year, shop)
			if err != nil {
				return err
			}
			d.At = &at
		}
		if err := tx.Create(&d).Error; err != nil {
			return err
		}
		ids[was] = d.ID
	}
	return nil
}

// ofYear names what was of one year as another year's.
func ofYear(name string, from, to int) string {
	return fmt.Sprintf("%s %d", strings.TrimSuffix(name, fmt.Sprintf(" %d", from)), to)
}

// moveMoment moves the day and keeps the time of day, in the store's zone.
func moveMoment(at time.Time, from, to int, shop store.Shop) (time.Time, error) {
	loc, err := time.LoadLocation(shop.Zone)
	if err != nil {
		return at, err
	}
	local := at.In(loc)
	y, m, d := local.Date()
	day, err := season.MoveDate(time.Date(y, m, d, 0, 0, 0, 0, time.UTC), from, to, shop.Countries)
	if err != nil {
		return at, err
	}
	return deadline.Resolve(day.Format(time.DateOnly)+local.Format("T15:04:05"), shop.Zone)
}

// copyOffers copies the offers that end with one of these deadlines. Their
// codes stay with the old ones.
func (a *App) copyOffers(tx *gorm.DB, ids map[string]string, from, to int, shop store.Shop) error {
	for was, is := range ids {
		var rows []store.Offer
		if err := tx.Where("deadline_id = ?", was).Order("created_at, id").Find(&rows).Error; err != nil {
			return err
		}
		for _, o := range rows {
			old := o.ID
			o.ID, o.DeadlineID, o.Used, o.EndedAt, o.CreatedAt = NewID(), &is, 0, nil, a.Now()
			o.Name = ofYear(o.Name, from, to)
			if o.StartsAt != nil {
				at, err := moveMoment(*o.StartsAt, from, to, shop)
				if err != nil {
					return err
				}
				o.StartsAt = &at
			}
			if err := tx.Create(&o).Error; err != nil {
				return err
			}
			if err := tx.Exec("INSERT INTO offer_goods SELECT ?, variant_id FROM offer_goods WHERE offer_id = ?", o.ID, old).Error; err != nil {
				return err
			}
		}
	}
	return nil
}

// copyPages copies pages and funnel; what they name of the old campaign they
// name of the new one.
func copyPages(tx *gorm.DB, from, fresh string, year int, ids map[string]string) error {
	var pages []store.Page
	if err := tx.Where("campaign_id = ?", from).Order("id").Find(&pages).Error; err != nil {
		return err
	}
	for _, p := range pages {
		ids[p.ID] = NewID()
	}
	var pairs []string
	for was, is := range ids {
		pairs = append(pairs, `"`+was+`"`, `"`+is+`"`, `"page:`+was+`"`, `"page:`+is+`"`)
	}
	swap := strings.NewReplacer(pairs...)
	for _, p := range pages {
		old := p.ID
		p.ID, p.CampaignID, p.Revision = ids[old], fresh, 0
		p.Manuscript = store.JSON(swap.Replace(string(p.Manuscript)))
		base := strings.TrimSuffix(p.Address, fmt.Sprintf("-%d", year-1))
		p.Address = fmt.Sprintf("%.54s-%d", base, year)
		if err := tx.Create(&p).Error; err != nil {
			if isDuplicate(err) {
				return refuse(ErrConflict, "There is a page at /%s already: this season seems to have been copied before.", p.Address)
			}
			return err
		}
		var s store.Step
		if err := tx.Raw("SELECT * FROM steps WHERE page_id = ?", old).Scan(&s).Error; err != nil {
			return err
		}
		if s.ID == "" {
			continue
		}
		ids[s.ID] = p.ID
		if err := tx.Create(&store.Step{ID: p.ID, CampaignID: fresh, PageID: p.ID, Kind: s.Kind, Position: s.Position}).Error; err != nil {
			return err
		}
	}
	var routes []store.Route
	if err := tx.Raw("SELECT r.* FROM routes r JOIN steps s ON s.id = r.from_step WHERE s.campaign_id = ?", from).Scan(&routes).Error; err != nil {
		return err
	}
	for _, r := range routes {
		if err := tx.Create(&store.Route{FromStep: ids[r.FromStep], Outcome: r.Outcome, ToStep: ids[r.ToStep]}).Error; err != nil {
			return err
		}
	}
	return nil
}
