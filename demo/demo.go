// Package demo loads the demo store, Gustwell Kiteworks. Its dates count from
// the day it is started, so that it never looks expired.
package demo

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"log/slog"
	"time"

	"chrysagon/app/account"
	"chrysagon/app/drafts"
	"chrysagon/app/events"
	"chrysagon/app/pictures"
	"chrysagon/app/publishing"
	"chrysagon/core/compose"
	"chrysagon/core/deadline"
	"chrysagon/core/manuscript"
	"chrysagon/core/purpose"
	"chrysagon/core/route"
	"chrysagon/store"

	"github.com/shopspring/decimal"
	"gorm.io/gorm"
)

// The demo owner's sign-in.
const (
	Email    = "owner@gustwell.example"
	Password = "lantern-kite-demo" //nolint:gosec // shown on the demo's sign-in page
)

const (
	zone       = "Europe/Lisbon"
	campaignID = "frost-lanterns"
	fridayID   = "lantern-friday"
)

//go:embed pictures/*.svg
var drawn embed.FS

// Open is Load and Season, and counts what came of all visitors once.
func Open(ctx context.Context, s *store.Store, lamps string, now time.Time) error {
	if err := load(ctx, s, now); err != nil {
		return err
	}
	return Season(ctx, s, lamps, now)
}

// Load fills an empty database with the demo store. In one that is filled it
// only moves the demo's deadline on when that has passed.
func Load(ctx context.Context, s *store.Store, now time.Time) error {
	if err := load(ctx, s, now); err != nil {
		return err
	}
	return rollUp(ctx, s)
}

func load(ctx context.Context, s *store.Store, now time.Time) error {
	now = now.UTC().Truncate(time.Microsecond)
	var stores int64
	if err := s.DB.WithContext(ctx).Model(&store.Shop{}).Count(&stores).Error; err != nil {
		return fmt.Errorf("look for the demo store: %w", err)
	}
	if stores > 0 {
		return refresh(ctx, s, now)
	}
	if err := store.MakePartitions(ctx, s, now); err != nil {
		return err
	}
	return s.In(ctx, func(tx *gorm.DB) error {
		for _, step := range []func(*gorm.DB, time.Time) error{shop, shelf, goods, tables, offers, shelves, campaign, year, past} {
			if err := step(tx, now); err != nil {
				return fmt.Errorf("load the demo store: %w", err)
			}
		}
		return nil
	})
}

// rollUp counts what came of the demo's visitors.
func rollUp(ctx context.Context, s *store.Store) error {
	recorder := events.New(s, slog.New(slog.DiscardHandler), nil)
	for {
		if n, err := recorder.RollUp(ctx); err != nil || n == 0 {
			return err
		}
	}
}

// friday is the demo's deadline: one minute to midnight of the coming Friday, at
// least two days on, so that there is time to look.
func friday(now time.Time) time.Time {
	loc, err := time.LoadLocation(zone)
	if err != nil {
		loc = time.UTC
	}
	local := now.In(loc)
	ahead := (int(time.Friday) - int(local.Weekday()) + 7) % 7
	if ahead < 2 {
		ahead += 7
	}
	day := local.AddDate(0, 0, ahead).Format(time.DateOnly)
	at, err := deadline.Resolve(day+"T23:59", zone)
	if err != nil {
		return now.Add(96 * time.Hour)
	}
	return at
}

func refresh(ctx context.Context, s *store.Store, now time.Time) error {
	return s.DB.WithContext(ctx).Exec(`UPDATE deadlines SET at = ? WHERE id = ? AND at < ?`, friday(now), fridayID, now).Error
}

func shop(tx *gorm.DB, now time.Time) error {
	key := make([]byte, 32)
	_, _ = rand.Read(key) // never fails: crypto/rand ends the program instead
	err := tx.Create(&store.Shop{
		Country: "PT", Countries: store.StringList{"PT", "ES"}, TaxIncluded: true, FloorPercent: decimal.NewFromInt(15), Struck: store.JSON("{}"),
		HandlingDays: 1, TransitDays: 3, LedgerKeptAt: &now, CalendarKey: store.NewSecret(),
		ID: 1, Name: "Gustwell Kiteworks", Currency: "EUR", Zone: zone, GraceSeconds: 600, SealKey: key,
		LegalName: "Gustwell Kiteworks, owner Marta Venn", LegalAddress: "4 Sailmakers’ Row, Gustwell", Phone: "+351 255 000 111",
		ContactEmail: "hello@gustwell.example",
		// The IBAN is the example of the IBAN registry for Portugal, which is nobody's account.
		TransferTo: "Gustwell Kiteworks\nIBAN PT50 0002 0123 1234 5678 9015 4\nBank of the Long Spit", TransferDays: 7,
		CollectAt: "4 Sailmakers’ Row, Gustwell\nTuesday to Saturday, 10:00 to 18:00", CollectDays: 5,
		Privacy: "We keep your name, email and address with your order, because the law asks us to keep orders for ten years, and use them for nothing else. A cookie joins your order to your browser. Your card number never reaches us: it goes straight to the till that charges it. Write to us to see what we keep, or to have mended what is wrong.",
		Terms:   "Prices include tax. You may send anything back within 30 days for any reason and get your money back, delivery included. We mend what we sell, free, for as long as you fly it.",
	}).Error
	if err != nil {
		return err
	}
	return tx.Create(&store.User{ID: "marta", Email: Email, Name: "Marta Venn", PasswordHash: account.HashPassword(Password)}).Error
}

// drawings are the store's pictures, all drawn for it.
var drawings = []store.Picture{
	{ID: "ember-night", Name: "Ember by night", Alt: "A lit kite in amber and gold with a lantern at its heart, on a long line", Width: 480, Height: 520},
	{ID: "ember", Name: "Ember 180", Alt: "The Ember 180, a red diamond kite with a bow tail", Width: 480, Height: 480},
	{ID: "bag", Name: "Quiver bag", Alt: "A green quiver bag with gold straps and a kite badge", Width: 480, Height: 480},
	{ID: "dunes", Name: "Dunes", Alt: "Two kites over pale dunes under a low sun", Width: 640, Height: 360},
	{ID: "night-dunes", Name: "Dunes by night", Alt: "A lit kite over dark dunes under a thin moon", Width: 1280, Height: 640},
	{ID: "gull", Name: "Gull 90", Alt: "The Gull 90, a blue bird kite with spread wings", Width: 480, Height: 480},
	{ID: "petrel", Name: "Petrel 160", Alt: "The Petrel 160, a green and gold kite on two lines", Width: 480, Height: 480},
	{ID: "shearwater", Name: "Shearwater 210", Alt: "The Shearwater 210, a dark blue kite on two lines", Width: 480, Height: 480},
	{ID: "loom", Name: "Loom", Alt: "The Loom, a broad red kite on four lines", Width: 480, Height: 480},
	{ID: "mistral", Name: "Mistral 2.0", Alt: "The Mistral 2.0, an arched amber sail with a control bar", Width: 480, Height: 480},
	{ID: "tramontane", Name: "Tramontane 3.5", Alt: "The Tramontane 3.5, a wide arched green sail with a control bar", Width: 480, Height: 480},
	{ID: "wisp", Name: "Wisp 120", Alt: "The Wisp 120, a pale, nearly see-through kite on two lines", Width: 480, Height: 480},
	{ID: "tern", Name: "Tern 60", Alt: "The Tern 60, a small striped pocket kite", Width: 480, Height: 480},
	{ID: "line", Name: "Line", Alt: "Blue line wound on a spool", Width: 480, Height: 480},
	{ID: "reel", Name: "Beech reel", Alt: "A beech reel wound with red line", Width: 480, Height: 480},
	{ID: "spars", Name: "Spare spars", Alt: "Six spars held by two gold bands", Width: 480, Height: 480},
	{ID: "repair", Name: "Repair tin", Alt: "A red tin with a kite on its front", Width: 480, Height: 480},
	{ID: "build-kit", Name: "Build-a-kite kit", Alt: "A box with a red kite on it, two spars laid on top", Width: 480, Height: 480},
	{ID: "plans", Name: "Kite plans", Alt: "A sheet with the outline of a kite and its measures", Width: 480, Height: 480},
	{ID: "seat", Name: "The workshop", Alt: "A workbench by a window, with a half-made green kite", Width: 640, Height: 480},
	{ID: "lantern-cell", Name: "Lantern cell", Alt: "A dark cell with a gold band and a flash on it", Width: 480, Height: 480},
}

func shelf(tx *gorm.DB, _ time.Time) error {
	for _, p := range drawings {
		raw, err := drawn.ReadFile("pictures/" + p.ID + ".svg")
		if err != nil {
			return fmt.Errorf("read a picture: %w", err)
		}
		sum := sha256.Sum256(raw)
		p.Mime, p.Bytes, p.Hash = "image/svg+xml", raw, hex.EncodeToString(sum[:12])
		p.Source = p.Hash
		p.ComesFrom, p.Permission = "Drawn for the store, 2026", "Own drawing"
		if err := pictures.NoteDrawn(&p); err != nil {
			return fmt.Errorf("draw %s: %w", p.ID, err)
		}
		if err := tx.Create(&p).Error; err != nil {
			return err
		}
	}
	return nil
}

func campaign(tx *gorm.DB, now time.Time) error {
	if err := tx.Create(&store.Campaign{ID: campaignID, Name: "Frost Lanterns"}).Error; err != nil {
		return err
	}
	edition := publishing.Edition{ID: "frost-1", CampaignID: campaignID, Number: 1, Composition: compose.Version}
	for _, p := range pages() {
		edition.Funnel.Steps = append(edition.Funnel.Steps, route.Step{ID: p.id, Kind: route.Kind(p.purpose), PageID: p.id, Name: p.name})
		edition.Pages = append(edition.Pages, publishing.EditionPage{
			ID: p.id, Name: p.name, Address: p.address, Title: p.title, Description: p.description, Manuscript: p.tree,
		})
	}
	edition.Funnel.Routes = []route.Route{
		{From: "night-flight", Outcome: route.Bought, To: "quiver-bag"},
		{From: "quiver-bag", Outcome: route.Accepted, To: "thank-you"},
		{From: "quiver-bag", Outcome: route.Declined, To: "thank-you"},
	}
	return goLive(tx, edition, now.AddDate(0, 0, -3), pages())
}

// goLive writes an edition and lets it go live, with those of its pages that are new.
func goLive(tx *gorm.DB, e publishing.Edition, at time.Time, fresh []page) error {
	for _, p := range fresh {
		raw, err := json.Marshal(p.tree)
		if err != nil {
			return fmt.Errorf("write a manuscript: %w", err)
		}
		err = tx.Create(&store.Page{
			ID: p.id, CampaignID: e.CampaignID, Name: p.name, Purpose: p.purpose, Address: p.address, Title: p.title, Description: p.description, Manuscript: raw,
		}).Error
		if err != nil {
			return err
		}
	}
	if err := drafts.WriteFunnel(tx, e.CampaignID, e.Funnel); err != nil {
		return err
	}
	content, err := json.Marshal(e)
	if err != nil {
		return fmt.Errorf("write an edition: %w", err)
	}
	if err := tx.Create(&store.Edition{ID: e.ID, CampaignID: e.CampaignID, Number: e.Number, Content: content, PublishedAt: at, PublishedBy: "Marta Venn"}).Error; err != nil {
		return err
	}
	if err := tx.Model(&store.Campaign{}).Where("id = ?", e.CampaignID).Update("live_edition_id", e.ID).Error; err != nil {
		return err
	}
	for _, p := range fresh {
		if p.purpose == purpose.Letter {
			continue
		}
		if err := tx.Create(&store.LivePage{Address: p.address, PageID: p.id, CampaignID: e.CampaignID}).Error; err != nil {
			return err
		}
	}
	return nil
}

type page struct {
	id, name, purpose, address, title, description string
	tree                                           manuscript.Page
}
