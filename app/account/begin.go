package account

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
	"chrysagon/core/refusal"
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
		return refusal.Of(refusal.ErrInvalid, "%s", fault)
	}
	now = now.UTC().Truncate(time.Microsecond)
	if err := store.MakePartitions(ctx, s, now); err != nil {
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
			return refusal.Of(refusal.ErrConflict, "This database holds a store already. Nothing was changed.")
		}
		err := tx.Create(&store.Shop{
			ID: 1, Name: strings.TrimSpace(b.Store), Currency: b.Currency, Zone: b.Zone, GraceSeconds: 600, SealKey: key, Country: b.Country,
			Countries: seasons, TaxIncluded: true, FloorPercent: decimal.Zero, Struck: store.JSON("{}"),
			HandlingDays: 1, TransitDays: 3, LedgerKeptAt: &now, CalendarKey: store.NewSecret(), ContactEmail: b.Email,
		}).Error
		if err != nil {
			return err
		}
		if err := tx.Create(&store.User{ID: store.NewID(), Email: b.Email, Name: strings.TrimSpace(b.Owner), PasswordHash: HashPassword(b.Password)}).Error; err != nil {
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
	begins, ends, err := season.Written(season.Moment{Date: from.Format(time.DateOnly)}, season.Moment{Date: from.AddDate(0, 2, 0).Format(time.DateOnly)})
	if err != nil {
		return err
	}
	return tx.Exec("INSERT INTO campaigns (id, name, begins, ends, year) VALUES (?, ?, ?::jsonb, ?::jsonb, ?)", store.NewID(), "First campaign", begins, ends, from.Year()).Error
}
