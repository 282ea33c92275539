package factbook

import (
	"fmt"
	"slices"

	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/mailing"
	"chrysagon/core/manuscript"
	"chrysagon/core/money"
	"chrysagon/core/purpose"
	"chrysagon/core/shipping"
	"chrysagon/core/target"
	"chrysagon/core/tax"
	"chrysagon/store"

	"gorm.io/gorm"
)

// named is what names alone tell where to find.
type named struct {
	Shops     []store.Shop
	Shelves   []store.Shelf
	Deadlines []store.Deadline
	Rates     []tax.Rate
	Zones     []zoneRow
	Pages     []pageRow
	Groups    []groupRow
	Files     []store.Handout
	Videos    []store.Video
	Booked    []pageRow
	Mailings  []store.List
}

type pageRow struct {
	ID, Name, Address, Purpose string
	Live, Aside                bool
}

type groupRow struct {
	ID, Name, Address string
	PictureID         string
}

type zoneRow struct {
	ID, Name  string
	Countries []string
	By        shipping.By
	UpTo      int64
	Free      *int64
	Steps     []struct{ From, Price int64 }
}

// The lists of tax and shipping, as every price needs them.
const (
	ratesSQL = "SELECT country, region, class, percent, name FROM tax_rates ORDER BY country, region, class"
	zonesSQL = `SELECT z.id, z.name, z.countries, z.by, z.up_to, z.free_minor AS free,
		(SELECT jsonb_agg(jsonb_build_object('from', s.from_amount, 'price', s.price_minor) ORDER BY s.from_amount) FROM shipping_steps s WHERE s.zone_id = z.id) AS steps
		FROM shipping_zones z ORDER BY z.position, z.id`
)

func readNamed(db *gorm.DB, how extent, names manuscript.Names) (named, error) {
	var n named
	parts := []store.Part{
		{SQL: `SELECT name, currency, zone, grace_seconds, legal_name, legal_address, transfer_to, transfer_days, collect_at, collect_days, phone, contact_email, country, countries, tax_included, floor_percent, struck,
			house, own, menu, foot, icon_id, encode(seal_key, 'base64') AS seal_key FROM store`, Into: &n.Shops},
		{SQL: "SELECT * FROM deadlines", Into: &n.Deadlines},
		{SQL: ratesSQL, Into: &n.Rates},
		{SQL: zonesSQL, Into: &n.Zones},
	}
	if len(names.Shelves) > 0 {
		parts = append(parts, store.Part{SQL: "SELECT id, name, shelf FROM shelves WHERE id = ANY(?::text[])", Args: []any{store.TextArray(names.Shelves)}, Into: &n.Shelves})
	}
	if len(names.Mailings) > 0 {
		parts = append(parts, store.Part{SQL: "SELECT * FROM lists WHERE id = ANY(?::text[])", Args: []any{store.TextArray(names.Mailings)}, Into: &n.Mailings})
	}
	if how == all {
		parts = append(parts, n.shownParts(names)...)
	}
	if err := store.Together(db, parts...); err != nil {
		return n, fmt.Errorf("read what the page names: %w", err)
	}
	if len(n.Shops) == 0 {
		_, err := store.One[store.Shop](db, store.NoShop)
		return n, err
	}
	return n, nil
}

// shownParts are the lists of what is shown beside goods.
func (n *named) shownParts(names manuscript.Names) []store.Part {
	parts := []store.Part{{
		SQL: `SELECT p.id, p.name, coalesce(l.address, p.address) AS address, p.purpose, l.address IS NOT NULL AS live, p.aside_at IS NOT NULL AS aside
			FROM pages p LEFT JOIN live_pages l ON l.page_id = p.id
			WHERE p.id = ANY(?::text[]) OR (l.address IS NOT NULL AND p.purpose = ANY(?::text[]))
				OR p.id IN (SELECT substr(by_hand ->> 'target', 6) FROM store, jsonb_array_elements(menu || foot) AS by_hand WHERE by_hand ->> 'target' LIKE 'page:%')
			ORDER BY p.name`,
		Args: []any{store.TextArray(names.Pages), store.TextArray(purpose.Led())}, Into: &n.Pages,
	}}
	if len(names.Groups) > 0 {
		parts = append(parts, store.Part{
			SQL: `SELECT g.id, g.name, g.picture_id, coalesce((SELECT min(s.address) FROM public_shows s WHERE s.what = 'shelf' AND s.ref = g.shelf_id), '') AS address
				FROM goods_groups g WHERE g.id = ANY(?::text[])`, Args: []any{store.TextArray(names.Groups)}, Into: &n.Groups,
		})
	}
	if len(names.Files) > 0 {
		parts = append(parts, store.Part{SQL: "SELECT id, name, hash FROM handouts WHERE id = ANY(?::text[])", Args: []any{store.TextArray(names.Files)}, Into: &n.Files})
	}
	if len(names.Videos) > 0 {
		parts = append(parts, store.Part{SQL: "SELECT id, name, hash, mime FROM videos WHERE id = ANY(?::text[])", Args: []any{store.TextArray(names.Videos)}, Into: &n.Videos})
	}
	if names.Booked {
		parts = append(parts, store.Part{SQL: `SELECT p.id, p.name, s.address FROM public_shows s JOIN pages p ON p.id = s.page_id
			WHERE s.what = 'appointment' ORDER BY s.address LIMIT 1`, Into: &n.Booked})
	}
	return parts
}

func (n named) shop() store.Shop { return n.Shops[0] }

func (n named) deadline(id string) (deadline.Deadline, bool) {
	for _, r := range n.Deadlines {
		if r.ID == id {
			return DeadlineOf(r), true
		}
	}
	return deadline.Deadline{}, false
}

// tables are tax and shipping; nil where nothing is written of them.
func (n named) tables(shop store.Shop) (*tax.Table, *shipping.Table) {
	var taxes *tax.Table
	if len(n.Rates) > 0 {
		taxes = &tax.Table{Included: shop.TaxIncluded, Rates: n.Rates}
	}
	if len(n.Zones) == 0 {
		return taxes, nil
	}
	ships := &shipping.Table{}
	for _, z := range n.Zones {
		zone := shipping.Zone{ID: z.ID, Name: z.Name, Countries: z.Countries, By: z.By, UpTo: z.UpTo}
		if z.Free != nil {
			free := money.Of(*z.Free, shop.Currency)
			zone.FreeFrom = &free
		}
		for _, s := range z.Steps {
			zone.Steps = append(zone.Steps, shipping.Step{From: s.From, Price: money.Of(s.Price, shop.Currency)})
		}
		if len(zone.Steps) > 0 {
			ships.Zones = append(ships.Zones, zone)
		}
	}
	return taxes, ships
}

// Tables reads tax and shipping alone.
func Tables(db *gorm.DB, shop store.Shop) (*tax.Table, *shipping.Table, error) {
	var n named
	if err := store.Together(db, store.Part{SQL: ratesSQL, Into: &n.Rates}, store.Part{SQL: zonesSQL, Into: &n.Zones}); err != nil {
		return nil, nil, fmt.Errorf("read tax and shipping: %w", err)
	}
	taxes, ships := n.tables(shop)
	return taxes, ships, nil
}

// pages puts the pages that links and menus lead to into facts: where they are live, or
// where they will be.
func (n named) pages(names manuscript.Names, f *facts.Facts) {
	f.Pages = map[string]facts.Page{}
	linked := map[string]bool{}
	for _, id := range names.Pages {
		linked[id] = true
	}
	for _, l := range append(slices.Clone(f.Store.Menu), f.Store.Foot...) {
		if to, err := target.Parse(l.Target); err == nil && to.Kind == target.Page {
			linked[to.Value] = true
		}
	}
	for _, r := range n.Pages {
		page, of := facts.Page{ID: r.ID, Name: r.Name, Address: r.Address, Live: r.Live, Aside: r.Aside}, purpose.Of(r.Purpose)
		if linked[r.ID] || r.Live && (of.Menu || of.Foot) {
			f.Pages[r.ID] = page
		}
		switch {
		case r.Live && of.Menu:
			f.Menu = append(f.Menu, page)
		case r.Live && of.Foot:
			f.Legal = append(f.Legal, page)
		}
	}
}

// groups puts groups of goods into facts, each with the live page that shows its shelf.
func (n named) groups(ids []string, s shown, f *facts.Facts) {
	if len(ids) == 0 {
		return
	}
	f.Groups = map[string]facts.Group{}
	for _, r := range n.Groups {
		for _, id := range ids {
			if id == r.ID {
				f.Groups[id] = facts.Group{ID: id, Name: r.Name, Address: r.Address, Picture: s.pics[r.PictureID]}
			}
		}
	}
}

// files puts files and videos into facts.
func (n named) files(names manuscript.Names, f *facts.Facts) {
	f.Files = map[string]facts.File{}
	for _, id := range names.Files {
		for _, r := range n.Files {
			if r.ID == id {
				f.Files[id] = fileOf(r)
			}
		}
	}
	if len(names.Videos) == 0 {
		return
	}
	f.Videos = map[string]facts.Video{}
	for _, id := range names.Videos {
		for _, r := range n.Videos {
			if r.ID == id {
				f.Videos[id] = facts.Video{ID: id, Name: r.Name, Path: VideoPath(r), Mime: r.Mime}
			}
		}
	}
}

// mailings puts the lists of people into facts that forms put somebody on.
func (n named) mailings(ids []string, f *facts.Facts) {
	if len(ids) == 0 {
		return
	}
	f.Mailings = map[string]mailing.List{}
	for _, r := range n.Mailings {
		if slices.Contains(ids, r.ID) {
			f.Mailings[r.ID] = ListOf(r)
		}
	}
}

// ListOf is a stored list as core has it.
func ListOf(r store.List) mailing.List {
	return mailing.List{ID: r.ID, Name: r.Name, FromName: r.FromName, ReplyTo: r.ReplyTo, Why: r.Why, Confirmed: r.Confirmed, Gives: Deref(r.Gives), Code: Deref(r.CodeOffer), After: Deref(r.AfterID), Tells: mailing.Telling(r.Tells)}
}

func fileOf(r store.Handout) facts.File {
	return facts.File{ID: r.ID, Name: r.Name, Path: "/files/" + r.Hash}
}
