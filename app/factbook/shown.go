package factbook

import (
	"fmt"
	"slices"

	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/ledger"
	"chrysagon/core/manuscript"
	"chrysagon/store"

	"gorm.io/gorm"
)

// shown is goods, and what belongs to them: it follows from the names, what stands on
// shelves, and what offers give.
type shown struct {
	byID    map[string]GoodsRow
	ledgers map[string][]ledger.Entry
	sells   map[string]facts.Page    // the live page that sells one of the goods
	pics    map[string]facts.Picture // named and of goods
	former  map[string]facts.Picture // as the edition that is looked at showed them
	said    said
}

// pictureSQL selects pictures without their files, with the bytes that a phone is sent.
const pictureSQL = `p.id, p.name, p.alt, p.mime, p.width, p.height, p.hash, p.focus_x, p.focus_y, encode(p.patches, 'base64') AS patches, p.dark, p.light`

// weightSQL is how many bytes of a picture a phone is sent.
const weightSQL = `coalesce((SELECT octet_length(s.bytes) FROM picture_sizes s WHERE s.picture_id = p.id
	ORDER BY (s.width < 780), abs(s.width - 780), s.mime <> 'image/webp' LIMIT 1), octet_length(p.bytes)) AS weight`

// soldSQL finds the live page of goods: one that was written for them, with a checkout,
// goes before their page of the page of a product, and that before one that only shows
// them.
const soldSQL = `SELECT DISTINCT ON (ref) ref, id, name, address FROM (
		SELECT s.ref, p.id, p.name, s.address, CASE s.what WHEN 'checkout' THEN 0 ELSE 2 END AS rank, p.purpose FROM public_shows s JOIN pages p ON p.id = s.page_id
			WHERE s.what IN ('checkout', 'product') AND s.ref = ANY(?::text[])
		UNION ALL SELECT v.id, l.page_id, p.name, '` + goods.Path + "' || v.address, 1, 'product' " + store.GoodsFrom + " CROSS JOIN (" + store.PageOfProducts + `) l WHERE v.id = ANY(?::text[]) AND v.archived_at IS NULL
	) found ORDER BY ref, rank, (purpose = 'sales') DESC, address`

func readShown(db *gorm.DB, how extent, products []string, names manuscript.Names, edition string, n named) (shown, error) {
	s := shown{byID: map[string]GoodsRow{}, ledgers: map[string][]ledger.Entry{}, sells: map[string]facts.Page{}, pics: map[string]facts.Picture{}, former: map[string]facts.Picture{}}
	var goods []GoodsRow
	var entries []store.LedgerEntry
	var sells []struct{ Ref, ID, Name, Address string }
	sold := append(slices.Clone(names.Sold), products...)
	var pics []struct {
		store.Picture
		Weight int
	}
	var former []struct {
		store.Picture
		Named string
	}
	var parts []store.Part
	ids := store.TextArray(products)
	if len(products) > 0 {
		parts = append(parts,
			store.Part{SQL: GoodsRows + " WHERE v.id = ANY(?::text[])", Args: []any{ids}, Into: &goods},
			store.Part{SQL: "SELECT * FROM price_ledger WHERE variant_id = ANY(?::text[]) ORDER BY variant_id, since", Args: []any{ids}, Into: &entries})
	}
	if how == all {
		named := append(slices.Clone(names.Pictures), n.ofStore()...)
		for _, g := range n.Groups {
			named = append(named, g.PictureID)
		}
		parts = append(parts,
			store.Part{SQL: soldSQL, Args: []any{store.TextArray(sold), store.TextArray(sold)}, Into: &sells},
			store.Part{SQL: "SELECT " + pictureSQL + ", " + weightSQL + ` FROM pictures p WHERE p.id = ANY(?::text[])
				OR p.id IN (SELECT d.picture_id FROM variants v JOIN products d ON d.id = v.product_id WHERE v.id = ANY(?::text[]))`,
				Args: []any{store.TextArray(named), ids}, Into: &pics})
		if names.Described {
			parts = append(parts, s.said.parts(names.Products)...)
		}
		if edition != "" && len(names.Pictures) > 0 {
			parts = append(parts, store.Part{SQL: "SELECT s.picture_id AS named, " + pictureSQL + ` FROM edition_pictures s JOIN pictures p ON p.hash = s.hash
				WHERE s.edition_id = ? AND s.picture_id = ANY(?::text[]) AND p.id <> s.picture_id`, Args: []any{edition, store.TextArray(names.Pictures)}, Into: &former})
		}
	}
	if err := store.Together(db, parts...); err != nil {
		return s, fmt.Errorf("read what the page shows: %w", err)
	}
	for _, r := range goods {
		s.byID[r.ID] = r
	}
	for _, r := range entries {
		s.ledgers[r.VariantID] = append(s.ledgers[r.VariantID], LedgerEntry(r))
	}
	for _, r := range sells {
		s.sells[r.Ref] = facts.Page{ID: r.ID, Name: r.Name, Address: r.Address, Live: true}
	}
	for _, r := range pics {
		p := PictureFacts(r.Picture)
		p.Weight = r.Weight
		s.pics[r.ID] = p
	}
	for _, r := range former {
		p := PictureFacts(r.Picture)
		p.ID = r.Named
		s.former[r.Named] = p
	}
	return s, nil
}

// ofStore are the pictures of the store itself: its logo and its icon.
func (n named) ofStore() []string {
	return []string{HouseOf(n.shop().House).Logo, Deref(n.shop().IconID)}
}

// pictures puts the pictures that are named, and those of goods, into facts: as the
// edition that is looked at showed them, where they have been replaced or cut since.
func (s shown) pictures(names manuscript.Names, f *facts.Facts) {
	f.Pictures = map[string]facts.Picture{}
	ids := append(slices.Clone(names.Pictures), f.Store.House.Logo, f.Store.Icon)
	for _, p := range f.Products {
		ids = append(ids, p.PictureID)
	}
	for _, id := range ids {
		if p, known := s.pics[id]; known {
			f.Pictures[id] = p
		}
	}
	for _, id := range names.Pictures {
		if p, known := s.former[id]; known {
			p.Weight = s.pics[id].Weight
			f.Pictures[id] = p
		}
	}
}

// sold puts the live pages that sell goods into facts: goods at hand, and those that
// links name; and the one that gives appointments.
func (s shown) sold(names manuscript.Names, n named, f *facts.Facts) {
	f.Sold = map[string]facts.Page{}
	for _, id := range append(slices.Clone(names.Sold), keys(f.Products)...) {
		if p, known := s.sells[id]; known {
			f.Sold[id] = p
		}
	}
	for _, r := range n.Booked {
		if names.Booked {
			f.Booked = facts.Page{ID: r.ID, Name: r.Name, Address: r.Address, Live: true}
		}
	}
}
