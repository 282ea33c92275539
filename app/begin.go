package app

import (
	"context"
	"crypto/rand"
	"fmt"
	"net/mail"
	"slices"
	"strings"
	"time"

	"chrysagon/core/country"
	"chrysagon/core/money"
	"chrysagon/core/season"
	"chrysagon/core/signin"
	"chrysagon/store"

	"github.com/shopspring/decimal"
	"gorm.io/gorm"
)

// Beginning is a store before it has anything, and whose it is.
type Beginning struct {
	Store    string // name, as buyers know it
	Currency string // ISO 4217; never changes
	Zone     string // IANA name
	Country  string // ISO 3166-1, two capital letters
	Owner    string // the owner's name
	Email    string // with which the owner signs in
	Password string
}

// Fault says what of it will not do, or "".
func (b Beginning) Fault() string {
	if strings.TrimSpace(b.Store) == "" || len([]rune(b.Store)) > 80 {
		return "The store needs a name of at most 80 characters."
	}
	if _, err := money.Digits(b.Currency); err != nil {
		return "The currency must be three capital letters of ISO 4217, such as EUR."
	}
	if _, err := time.LoadLocation(b.Zone); err != nil || b.Zone == "" || b.Zone == "Local" {
		return "The time zone must be one of the IANA's, such as Europe/Lisbon."
	}
	if !country.Known(b.Country) {
		return "The country must be two capital letters of ISO 3166-1, such as PT."
	}
	if strings.TrimSpace(b.Owner) == "" {
		return "The owner needs a name."
	}
	if at, err := mail.ParseAddress(b.Email); err != nil || at.Address != b.Email {
		return "The owner's email must be an address, such as owner@shop.example."
	}
	return signin.Fault(b.Password, b.Store, b.Owner, b.Email)
}

// Begin makes an empty store and its owner in a migrated database that has none.
func Begin(ctx context.Context, s *store.Store, b Beginning, now time.Time) error {
	b.Email = strings.ToLower(strings.TrimSpace(b.Email))
	if fault := b.Fault(); fault != "" {
		return refuse(ErrInvalid, "%s", fault)
	}
	now = now.UTC().Truncate(time.Microsecond)
	if err := MakePartitions(ctx, s, now); err != nil {
		return err
	}
	key := make([]byte, 32)
	_, _ = rand.Read(key) // never fails: crypto/rand ends the program instead
	seasons := []string{b.Country}
	if !slices.Contains(season.Countries(), b.Country) {
		seasons = []string{}
	}
	err := s.In(ctx, func(tx *gorm.DB) error {
		if err := tx.Exec("SELECT pg_advisory_xact_lock(hashtextextended('begin', 0))").Error; err != nil {
			return err
		}
		var stores int64
		if err := tx.Model(&store.Shop{}).Count(&stores).Error; err != nil {
			return err
		}
		if stores > 0 {
			return refuse(ErrConflict, "This database holds a store already. Nothing was changed.")
		}
		err := tx.Create(&store.Shop{
			ID: 1, Name: strings.TrimSpace(b.Store), Currency: b.Currency, Zone: b.Zone, GraceSeconds: 600, SealKey: key, Country: b.Country,
			Countries: seasons, TaxIncluded: true, FloorPercent: decimal.Zero, Struck: store.JSON("{}"),
			HandlingDays: 1, TransitDays: 3, LedgerKeptAt: &now, CalendarKey: NewSecret(), ContactEmail: b.Email,
		}).Error
		if err != nil {
			return err
		}
		if err := tx.Create(&store.User{ID: NewID(), Email: b.Email, Name: strings.TrimSpace(b.Owner), PasswordHash: HashPassword(b.Password)}).Error; err != nil {
			return err
		}
		return firstCampaign(tx, b, now)
	})
	if err != nil {
		return fmt.Errorf("begin the store: %w", err)
	}
	return nil
}

// firstCampaign is what the studio opens on: two months from today.
func firstCampaign(tx *gorm.DB, b Beginning, now time.Time) error {
	loc, err := time.LoadLocation(b.Zone)
	if err != nil {
		return err
	}
	from := now.In(loc)
	begins, ends, err := writtenDays(season.Moment{Date: from.Format(time.DateOnly)}, season.Moment{Date: from.AddDate(0, 2, 0).Format(time.DateOnly)})
	if err != nil {
		return err
	}
	return tx.Exec("INSERT INTO campaigns (id, name, begins, ends, year) VALUES (?, ?, ?::jsonb, ?::jsonb, ?)", NewID(), "First campaign", begins, ends, from.Year()).Error
}

// FirstStep is one of the things a new store needs before it can sell.
type FirstStep struct {
	What, Say, Link, Action string
	Done                    bool
}

// FirstSteps are what a store needs before it sells, in order; none once it has
// published.
func (a *App) FirstSteps(ctx context.Context) ([]FirstStep, error) {
	var has struct{ Editions, Goods, Rates, Zones, Pages bool }
	err := a.db(ctx).Raw(`SELECT EXISTS (SELECT FROM editions) AS editions, EXISTS (SELECT FROM variants) AS goods, EXISTS (SELECT FROM tax_rates) AS rates,
		EXISTS (SELECT FROM shipping_zones) AS zones, EXISTS (SELECT FROM pages WHERE aside_at IS NULL) AS pages`).Scan(&has).Error
	if err != nil || has.Editions {
		return nil, err
	}
	shop, err := a.Shop(ctx)
	if err != nil {
		return nil, err
	}
	var missing []string
	for _, w := range []struct{ what, text string }{{"who sells", shop.LegalName}, {"your address", shop.LegalAddress}, {"how you keep data", shop.Privacy}, {"your terms", shop.Terms}} {
		if strings.TrimSpace(w.text) == "" {
			missing = append(missing, w.what)
		}
	}
	steps := []FirstStep{
		{"Say who you are", "Every page and every mail names the seller, as the law asks.", "/store", "The store", len(missing) == 0},
		{"Bring your goods in", "One by one, or all at once from a table.", "/goods", "Goods", has.Goods},
		{"Say what sending costs", "And which tax is in your prices, for each country you send to. Goods that are downloaded need no parcel.", "/rates", "Rates", has.Zones && has.Rates},
		{"Make your first page", "From a template with a checkout on it, a page of your own, or a plan.", "/pages/new", "A new page", has.Pages},
		{"Let buyers pay", "No payment gateway is connected, so pages with a checkout cannot go out yet. To try everything with test cards, start the program with CHRYSAGON_STANDINS=till,letterbox.", "", "", a.Payments != nil},
		{"Let mail go out", "No mail server is set, so nobody is sent a confirmation, and you no messages. CHRYSAGON_SMTP names one.", "", "", a.Post != nil},
	}
	if len(missing) > 0 {
		steps[0].Say += " Missing: " + strings.Join(missing, ", ") + "."
	}
	if !slices.ContainsFunc(steps, func(s FirstStep) bool { return !s.Done }) {
		steps = append(steps, FirstStep{"Publish", "Look at the page in the proof, then publish it at the top right.", "", "", false})
	}
	return steps, nil
}
