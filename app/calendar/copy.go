package calendar

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"chrysagon/app/drafts"
	"chrysagon/core/deadline"
	"chrysagon/core/manuscript"
	"chrysagon/core/refusal"
	"chrysagon/core/season"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Again makes “the same as last season”: a copy of a campaign with its pages,
// funnel, deadlines and offers, all dates moved to another year. Nothing of it
// is live until it is published. It says what was copied, and what was not.
func (calendar *Calendar) Again(ctx context.Context, id string, year int) (copied, said string, err error) {
	shop, err := calendar.Store.Shop(ctx)
	if err != nil {
		return "", "", err
	}
	fresh := store.NewID()
	err = calendar.Store.In(ctx, func(tx *gorm.DB) error {
		if err := calendar.Prices.UpTo(tx, calendar.Store.Now()); err != nil {
			return err
		}
		c, err := store.One[store.Campaign](tx.Where("id = ?", id), "There is no such campaign.")
		if err != nil {
			return err
		}
		if c.Year == nil || *c.Year == year {
			return refusal.Of(refusal.ErrInvalid, "Choose a campaign that has its days in another year.")
		}
		if err := copyCampaign(tx, c, fresh, year, shop); err != nil {
			return err
		}
		ids := map[string]string{}
		if err := copyDeadlines(tx, c, year, shop, ids); err != nil {
			return err
		}
		if err := calendar.copyOffers(tx, ids, *c.Year, year, shop); err != nil {
			return err
		}
		done, err := calendar.copyPages(tx, c, fresh, year, ids)
		if err != nil {
			return err
		}
		said = fmt.Sprintf("“%s” was copied to %d: %s. Codes stay with last season’s offers; make new ones. Nothing is live until you publish it.", c.Name, year, done)
		return calendar.Prices.AfterChange(tx, c.Name+" copied", nil)
	})
	if err != nil {
		return "", "", err
	}
	calendar.News.FactsChanged()
	return fresh, said, nil
}

func copyCampaign(tx *gorm.DB, c store.Campaign, fresh string, year int, shop store.Shop) error {
	rule, err := campaignRule(c)
	if err != nil {
		return err
	}
	moved, err := rule.Move(*c.Year, year, shop.Countries)
	if err != nil {
		return refusal.Of(refusal.ErrInvalid, "Its days cannot be moved to %d: %s.", year, err)
	}
	begins, ends, err := season.Written(moved.From, moved.To)
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
		d.ID = store.NewID()
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
func (calendar *Calendar) copyOffers(tx *gorm.DB, ids map[string]string, from, to int, shop store.Shop) error {
	for was, is := range ids {
		var rows []store.Offer
		if err := tx.Where("deadline_id = ?", was).Order("created_at, id").Find(&rows).Error; err != nil {
			return err
		}
		for _, o := range rows {
			old := o.ID
			o.ID, o.DeadlineID, o.Used, o.EndedAt, o.CreatedAt = store.NewID(), &is, 0, nil, calendar.Store.Now()
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

// copyPages copies pages and funnel; what they name of the old campaign, in links
// of copy too, they name of the new one. It says in words what was done.
func (calendar *Calendar) copyPages(tx *gorm.DB, c store.Campaign, fresh string, year int, ids map[string]string) (string, error) {
	deadlines, copied := len(ids), store.TextArray(slices.Collect(maps.Values(ids)))
	var pages []store.Page
	if err := tx.Scopes(store.OfCampaign(c.ID), store.Shown).Order("id").Find(&pages).Error; err != nil {
		return "", err
	}
	for _, p := range pages {
		ids[p.ID] = store.NewID()
	}
	led := 0
	for _, p := range pages {
		old := p.ID
		tree, err := calendar.Render.Registry.Schema().Parse(p.Manuscript)
		if err != nil {
			return "", fmt.Errorf("read the page %s: %w", p.ID, err)
		}
		tree = calendar.Render.Registry.Schema().Refer(tree, func(of manuscript.FieldType, id string) string {
			is, ours := ids[id]
			if !ours || (of != manuscript.Link && of != manuscript.Deadline) {
				return id
			}
			if of == manuscript.Link {
				led++
			}
			return is
		})
		raw, err := json.Marshal(tree)
		if err != nil {
			return "", fmt.Errorf("write the page %s: %w", p.ID, err)
		}
		p.ID, p.CampaignID, p.Revision, p.Manuscript = ids[old], fresh, 0, raw
		base := strings.TrimSuffix(p.Address, fmt.Sprintf("-%d", *c.Year))
		p.Address = fmt.Sprintf("%.54s-%d", base, year)
		if err := tx.Create(&p).Error; err != nil {
			if store.IsDuplicate(err) {
				return "", refusal.Of(refusal.ErrConflict, "There is a page at /%s already: this season seems to have been copied before.", p.Address)
			}
			return "", err
		}
		var s store.Step
		if err := tx.Raw("SELECT * FROM steps WHERE page_id = ? AND campaign_id = ?", old, c.ID).Scan(&s).Error; err != nil {
			return "", err
		}
		if s.ID == "" {
			continue
		}
		ids[s.ID] = p.ID
		// An offer of a step holds on the step's copy.
		if err := tx.Exec("UPDATE offers SET detail = jsonb_set(detail, '{step}', to_jsonb(?::text)) WHERE detail->>'step' = ? AND deadline_id = ANY(?::text[])", p.ID, s.ID, copied).Error; err != nil {
			return "", err
		}
	}
	if err := copyFunnel(tx, c.ID, fresh, ids); err != nil {
		return "", err
	}
	var offers int64
	if err := tx.Raw("SELECT count(*) FROM offers WHERE deadline_id = ANY(?::text[])", copied).Scan(&offers).Error; err != nil {
		return "", err
	}
	return fmt.Sprintf("%s with %s between them, %s and %s", counted(len(pages), "page"), counted(led, "link"), counted(deadlines, "deadline"), counted(int(offers), "offer")), nil
}

func counted(n int, one string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %ss", n, one)
}

// copyFunnel copies the steps and routes of a campaign, with its own pages copied
// and those of others shared.
func copyFunnel(tx *gorm.DB, from, fresh string, ids map[string]string) error {
	f, err := drafts.ReadFunnel(tx, from)
	if err != nil {
		return err
	}
	f = f.Clone()
	for i, s := range f.Steps {
		if ids[s.ID] == "" {
			ids[s.ID] = store.NewID()
		}
		f.Steps[i].ID = ids[s.ID]
		if page, ours := ids[s.PageID]; ours {
			f.Steps[i].PageID = page
		}
	}
	for i, s := range f.Steps {
		f.Steps[i].Aim = ids[s.Aim]
	}
	for i, r := range f.Routes {
		f.Routes[i].ID, f.Routes[i].From, f.Routes[i].To = "", ids[r.From], ids[r.To]
		for j, to := range r.Fork {
			f.Routes[i].Fork[j].To = ids[to.To]
		}
	}
	return drafts.WriteFunnel(tx, fresh, f)
}
