package calendar

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/core/deadline"
	"chrysagon/core/refusal"
	"chrysagon/core/season"
	"chrysagon/core/shelf"
	"chrysagon/store"

	"gorm.io/gorm"
)

// SeasonCampaign is a campaign in the year.
type SeasonCampaign struct {
	store.Campaign
	Window season.Window
	From   season.Moment
	To     season.Moment
	Goods  int
}

// Season is a year laid out.
type Season struct {
	Year      int
	Zone      string
	Countries []string
	Days      []season.Day
	Campaigns []SeasonCampaign
	Undated   []store.Campaign
	Clashes   []season.Clash
	Names     map[string]string // of goods in clashes, and of campaigns
	Deadlines []deadline.Instance
	Last      []season.Arrival
	Shop      store.Shop
}

// presents are the days by which parcels must have come, whose last order days
// the Season place computes.
var presents = []struct {
	id, name string
	before   int
}{{"valentines", "Valentine’s Day", 0}, {"easter", "Easter", -2}, {"mothers_day", "Mother’s Day", -1}, {"fathers_day", "Father’s Day", -1}, {"christmas_eve", "Christmas Eve", 0}}

// Season lays out a year: its days, campaigns, clashes, deadlines and last order days.
func (calendar *Calendar) Season(ctx context.Context, year int) (Season, error) {
	shop, err := calendar.Store.Shop(ctx)
	if err != nil {
		return Season{}, err
	}
	s := Season{Year: year, Zone: shop.Zone, Countries: shop.Countries, Shop: shop, Names: map[string]string{}}
	in, err := calendar.campaigns(ctx, &s, shop)
	if err != nil {
		return s, err
	}
	for _, country := range shop.Countries {
		for _, p := range presents {
			if _, err := (season.Moment{Day: p.id}).Resolve(year, []string{country}); err != nil {
				continue // not kept there
			}
			l := season.LastOrder{Name: p.name, ArriveBy: season.Moment{Day: p.id, Offset: p.before}, Handling: shop.HandlingDays, Transit: shop.TransitDays, From: shop.Country, To: country}
			arrival, err := l.Compute(year, []string{country})
			if err != nil {
				continue // its holidays are not known
			}
			arrival.Name += ", to " + country
			s.Last = append(s.Last, arrival)
		}
	}
	out, err := season.Compute(in)
	if err != nil {
		return s, refusal.Of(refusal.ErrInvalid, "The year cannot be laid out: %s.", err)
	}
	s.Days, s.Clashes = out.Days, out.Clashes
	if err := calendar.nameClashes(ctx, &s); err != nil {
		return s, err
	}
	return s, calendar.pins(ctx, &s)
}

// campaigns reads those of the year with their goods.
func (calendar *Calendar) campaigns(ctx context.Context, s *Season, shop store.Shop) (season.Input, error) {
	in := season.Input{Year: s.Year, Zone: shop.Zone, Countries: shop.Countries}
	var rows []store.Campaign
	if err := calendar.Store.On(ctx).Order("name, id").Find(&rows).Error; err != nil {
		return in, fmt.Errorf("read the campaigns: %w", err)
	}
	for _, r := range rows {
		s.Names[r.ID] = r.Name
		if r.Year == nil {
			s.Undated = append(s.Undated, r)
			continue
		}
		if *r.Year != s.Year {
			continue
		}
		rule, err := campaignRule(r)
		if err != nil {
			return in, err
		}
		c := SeasonCampaign{Campaign: r, From: rule.From, To: rule.To}
		if rule.Goods, err = calendar.campaignGoods(ctx, r, shop); err != nil {
			return in, err
		}
		if c.Window, err = rule.Window(s.Year, shop.Zone, shop.Countries); err != nil {
			s.Undated = append(s.Undated, r) // a day that is not kept any more in the countries chosen
			continue
		}
		c.Goods = len(rule.Goods)
		s.Campaigns = append(s.Campaigns, c)
		in.Campaigns = append(in.Campaigns, rule)
	}
	slices.SortStableFunc(s.Campaigns, func(a, b SeasonCampaign) int { return strings.Compare(a.Window.From, b.Window.From) })
	return in, nil
}

// campaignRule is a campaign that has its days, as core computes with it.
func campaignRule(r store.Campaign) (season.Campaign, error) {
	c := season.Campaign{ID: r.ID, Name: r.Name}
	if err := errors.Join(json.Unmarshal(r.Begins, &c.From), json.Unmarshal(r.Ends, &c.To)); err != nil {
		return c, fmt.Errorf("read campaign %s: %w", r.ID, err)
	}
	return c, nil
}

// clashAmong bounds how many goods of a shelf are looked at for clashes.
const clashAmong = 2000

func (calendar *Calendar) campaignGoods(ctx context.Context, c store.Campaign, shop store.Shop) ([]string, error) {
	ids, err := calendar.CampaignGoods(ctx, c.ID)
	if err != nil || c.ShelfID == nil {
		return ids, err
	}
	row, err := store.One[store.Shelf](calendar.Store.On(ctx).Where("id = ?", *c.ShelfID), "There is no such shelf.")
	if err != nil {
		return nil, err
	}
	s, err := factbook.ParseShelf(row)
	if err != nil {
		return nil, err
	}
	s.Limit, s.Order = clashAmong, []shelf.Order{}
	more, err := factbook.PickIDs(calendar.Store.On(ctx), s, factbook.Sight(shop.Zone, calendar.Store.Now()))
	return append(ids, more...), err
}

func (calendar *Calendar) nameClashes(ctx context.Context, s *Season) error {
	var ids []string
	for _, c := range s.Clashes {
		ids = append(ids, c.Goods...)
	}
	if len(ids) == 0 {
		return nil
	}
	var rows []struct{ ID, Name string }
	if err := calendar.Store.On(ctx).Raw("SELECT v.id, p.name "+store.GoodsFrom+" WHERE v.id IN ?", ids).Scan(&rows).Error; err != nil {
		return fmt.Errorf("name the goods: %w", err)
	}
	for _, r := range rows {
		s.Names[r.ID] = r.Name
	}
	return nil
}

// pins are the deadlines that fall into the year.
func (calendar *Calendar) pins(ctx context.Context, s *Season) error {
	var rows []store.Deadline
	if err := calendar.Store.On(ctx).Order("at NULLS LAST").Find(&rows).Error; err != nil {
		return fmt.Errorf("read the deadlines: %w", err)
	}
	for _, r := range rows {
		d := factbook.DeadlineOf(r)
		if d.Kind == deadline.Span {
			continue // every visitor has their own
		}
		i, err := d.For(deadline.Visitor{}, calendar.Store.Now())
		if err != nil {
			continue
		}
		if loc, err := time.LoadLocation(s.Zone); err == nil && i.At.In(loc).Year() == s.Year {
			s.Deadlines = append(s.Deadlines, i)
		}
	}
	return nil
}

// Calendar writes the year as iCalendar.
func (calendar *Calendar) Calendar(ctx context.Context, year int) (string, error) {
	s, err := calendar.Season(ctx, year)
	if err != nil {
		return "", err
	}
	var entries []season.Entry
	for _, c := range s.Campaigns {
		entries = append(entries, season.Entry{ID: fmt.Sprintf("campaign-%s-%d", c.ID, year), Name: c.Name, From: c.Window.From, To: c.Window.To})
	}
	for _, d := range s.Deadlines {
		entries = append(entries, season.Entry{ID: "deadline-" + d.ID, Name: d.Name, At: d.At})
	}
	for i, l := range s.Last {
		entries = append(entries, season.Entry{ID: fmt.Sprintf("last-order-%d-%d", year, i), Name: "Last order day for " + l.Name, From: l.Ordered, To: l.Ordered, Note: "Arrives on " + l.Arrives + "."})
	}
	return season.WriteCalendar(s.Shop.Name, entries, calendar.Store.Now()), nil
}

// CalendarKey tells whether a key opens the calendar that can be subscribed to.
func (calendar *Calendar) CalendarKey(ctx context.Context, key string) (bool, error) {
	shop, err := calendar.Store.Shop(ctx)
	return err == nil && key != "" && key == shop.CalendarKey, err
}

// BringIn takes the events of an iCalendar file: whole days become campaigns,
// moments deadlines. It is done as a whole or not at all.
func (calendar *Calendar) BringIn(ctx context.Context, raw []byte) (string, error) {
	shop, err := calendar.Store.Shop(ctx)
	if err != nil {
		return "", err
	}
	entries, err := season.ReadCalendar(raw, shop.Zone)
	if err != nil {
		return "", refusal.Of(refusal.ErrInvalid, "The calendar cannot be brought in: %s.", err)
	}
	campaigns, deadlines := 0, 0
	err = calendar.Store.In(ctx, func(tx *gorm.DB) error {
		for _, e := range entries {
			name := []rune(e.Name)
			e.Name = string(name[:min(len(name), 80)])
			if !e.At.IsZero() {
				deadlines++
				at := e.At
				if err := tx.Create(&store.Deadline{ID: store.NewID(), Name: e.Name, Kind: string(deadline.Fixed), At: &at, Zone: shop.Zone}).Error; err != nil {
					return err
				}
				continue
			}
			campaigns++
			year := 0
			if _, err := fmt.Sscanf(e.From, "%d", &year); err != nil {
				return err
			}
			err := tx.Exec("INSERT INTO campaigns (id, name, begins, ends, year) VALUES (?, ?, jsonb_build_object('date', ?::text), jsonb_build_object('date', ?::text), ?)", store.NewID(), e.Name, e.From, e.To, year).Error
			if err != nil {
				return err
			}
		}
		return nil
	})
	if err == nil {
		calendar.News.FactsChanged()
	}
	return fmt.Sprintf("%d campaigns and %d deadlines came in.", campaigns, deadlines), err
}

// SaveYear keeps whose days are shown, and how long parcels take.
func (calendar *Calendar) SaveYear(ctx context.Context, countries []string, handling, transit int) error {
	if len(countries) == 0 || len(countries) > season.MaxCountries {
		return refusal.Of(refusal.ErrInvalid, "Choose at least one country.")
	}
	for _, c := range countries {
		if _, err := season.Calendar(c); err != nil {
			return refusal.Of(refusal.ErrInvalid, "%s", refusal.Sentence(err))
		}
	}
	if handling < 0 || transit < 0 || handling > season.MaxWorkingDays || transit > season.MaxWorkingDays {
		return refusal.Of(refusal.ErrInvalid, "Handling and transit take from 0 to %d working days.", season.MaxWorkingDays)
	}
	return calendar.Store.On(ctx).Exec("UPDATE store SET countries = ?::text[], handling_days = ?, transit_days = ?", store.TextArray(countries), handling, transit).Error
}
