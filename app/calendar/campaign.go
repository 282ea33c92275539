package calendar

import (
	"context"
	"fmt"
	"strings"
	"time"

	"chrysagon/core/refusal"
	"chrysagon/core/season"
	"chrysagon/store"

	"gorm.io/gorm"
)

// CampaignInput is a campaign as it is typed.
type CampaignInput struct {
	ID, Name, From, To string // dates, or a day with an offset: black_friday-10
	Year               int
	ShelfID            string
	Goods              []string
}

// readDay reads 2026-11-27, black_friday or black_friday-10.
func readDay(text string) (season.Moment, bool) {
	text = strings.TrimSpace(text)
	if _, err := time.Parse(time.DateOnly, text); err == nil {
		return season.Moment{Date: text}, true
	}
	at := strings.LastIndexAny(text, "+-")
	m := season.Moment{Day: text}
	if at > 0 {
		if _, err := fmt.Sscanf(text[at:], "%d", &m.Offset); err == nil {
			m.Day = text[:at]
		}
	}
	return m, m.Day != ""
}

// SaveCampaign keeps a campaign's name, days and goods. Faults are by field.
func (calendar *Calendar) SaveCampaign(ctx context.Context, in CampaignInput) (string, map[string]string, error) {
	shop, err := calendar.Store.Shop(ctx)
	if err != nil {
		return "", nil, err
	}
	faults := map[string]string{}
	in.Name = strings.TrimSpace(in.Name)
	if in.Name == "" || len([]rune(in.Name)) > 80 {
		faults["name"] = "Give the campaign a name of at most 80 characters."
	}
	from, okFrom := readDay(in.From)
	to, okTo := readDay(in.To)
	if !okFrom || !okTo {
		faults["from"] = "Choose its first and its last day."
	} else if _, err := (season.Campaign{From: from, To: to}).Window(in.Year, shop.Zone, shop.Countries); err != nil {
		field, say := refusal.CutPlace(strings.Replace(err.Error(), ".", ": ", 1))
		faults[field] = say
	}
	if len(faults) > 0 {
		return "", faults, nil
	}
	begins, ends, err := season.Written(from, to)
	if err != nil {
		return "", nil, err
	}
	id := in.ID
	if id == "" {
		id = store.NewID()
	}
	var onShelf *string
	if in.ShelfID != "" {
		onShelf = &in.ShelfID
	}
	err = calendar.Store.In(ctx, func(tx *gorm.DB) error {
		err := tx.Exec(`INSERT INTO campaigns (id, name, begins, ends, year, shelf_id) VALUES (?, ?, ?::jsonb, ?::jsonb, ?, ?)
			ON CONFLICT (id) DO UPDATE SET name = EXCLUDED.name, begins = EXCLUDED.begins, ends = EXCLUDED.ends, year = EXCLUDED.year, shelf_id = EXCLUDED.shelf_id`,
			id, in.Name, begins, ends, in.Year, onShelf).Error
		if err != nil {
			return err
		}
		if err := tx.Exec("DELETE FROM campaign_goods WHERE campaign_id = ?", id).Error; err != nil {
			return err
		}
		return tx.Exec("INSERT INTO campaign_goods SELECT ?, v.id FROM variants v WHERE v.id = ANY(?::text[])", id, store.TextArray(in.Goods)).Error
	})
	return id, nil, err
}

// ShiftCampaign moves a campaign's first and last day by so many days. What
// hangs on a retail day goes on hanging on it, further from it.
func (calendar *Calendar) ShiftCampaign(ctx context.Context, id string, from, to int) error {
	if from < -400 || from > 400 || to < -400 || to > 400 {
		return refusal.Of(refusal.ErrInvalid, "A campaign is moved by at most 400 days at once.")
	}
	shop, err := calendar.Store.Shop(ctx)
	if err != nil {
		return err
	}
	return calendar.Store.In(ctx, func(tx *gorm.DB) error {
		var c store.Campaign
		if err := tx.Raw("SELECT * FROM campaigns WHERE id = ? FOR UPDATE", id).Scan(&c).Error; err != nil {
			return err
		}
		if c.ID == "" || c.Year == nil {
			return refusal.Of(refusal.ErrNotFound, "There is no such campaign in the year.")
		}
		rule, err := campaignRule(c)
		if err != nil {
			return err
		}
		rule.From, rule.To = shifted(rule.From, from), shifted(rule.To, to)
		if _, err := rule.Window(*c.Year, shop.Zone, shop.Countries); err != nil {
			return refusal.Of(refusal.ErrInvalid, "A campaign cannot end before it begins.")
		}
		begins, ends, err := season.Written(rule.From, rule.To)
		if err != nil {
			return err
		}
		return tx.Exec("UPDATE campaigns SET begins = ?::jsonb, ends = ?::jsonb WHERE id = ?", begins, ends, id).Error
	})
}

func shifted(m season.Moment, days int) season.Moment {
	if at, err := time.Parse(time.DateOnly, m.Date); err == nil {
		m.Date = at.AddDate(0, 0, days+m.Offset).Format(time.DateOnly)
		m.Offset = 0
		return m
	}
	m.Offset += days
	return m
}

// CampaignGoods lists the goods a campaign names one by one.
func (calendar *Calendar) CampaignGoods(ctx context.Context, id string) ([]string, error) {
	var ids []string
	if err := calendar.Store.On(ctx).Raw("SELECT variant_id FROM campaign_goods WHERE campaign_id = ? ORDER BY variant_id", id).Scan(&ids).Error; err != nil {
		return nil, fmt.Errorf("read a campaign's goods: %w", err)
	}
	return ids, nil
}
