package pages

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"unicode"

	"chrysagon/app/drafts"
	"chrysagon/core/goods"
	"chrysagon/core/manuscript"
	"chrysagon/core/publish"
	"chrysagon/core/purpose"
	"chrysagon/core/refusal"
	"chrysagon/core/route"
	"chrysagon/pieces/all"
	"chrysagon/store"

	"golang.org/x/text/runes"
	"golang.org/x/text/transform"
	"golang.org/x/text/unicode/norm"
	"gorm.io/gorm"
)

// Layouts are how a page can be framed.
var Layouts = []manuscript.Option{{Value: "bare", Label: "bare, nothing around it"}, {Value: "header", Label: "with the store’s header"}, {Value: "full", Label: "with header and footer"}}

func isLayout(name string) bool {
	for _, l := range Layouts {
		if l.Value == name {
			return true
		}
	}
	return false
}

// NewPage is a page as it is asked for.
type NewPage struct {
	CampaignID, Purpose, Name, Address, Layout string
	Template                                   string           // of those shipped, or kept:ID; empty: blank
	ShelfID                                    string           // the shelf it is a page of; its name is then the headline
	Tree                                       *manuscript.Page // all of it; nil: by the template
}

// Address makes an address of a name: small letters without their marks,
// digits, and hyphens for the rest.
func Address(name string) string {
	plain, _, err := transform.String(transform.Chain(norm.NFD, runes.Remove(runes.In(unicode.Mn)), norm.NFC), strings.ToLower(name))
	if err != nil {
		plain = strings.ToLower(name)
	}
	var b strings.Builder
	gap := false
	for _, r := range plain {
		switch {
		case (r >= 'a' && r <= 'z') || (r >= '0' && r <= '9'):
			if gap && b.Len() > 0 {
				b.WriteByte('-')
			}
			gap = false
			b.WriteRune(r)
		case r != '’' && r != '\'':
			gap = true
		}
	}
	return strings.Trim(b.String()[:min(b.Len(), publish.MaxAddress)], "-")
}

// AddPage makes a page, joins it to the campaign's funnel where its purpose
// has a place there, and returns it. Faults are by field.
func (ps *Pages) AddPage(ctx context.Context, in NewPage) (drafts.Draft, map[string]string, error) {
	if in.Address == "" {
		var err error
		if in.Address, err = ps.freeAddress(ctx, in.Name); err != nil {
			return drafts.Draft{}, nil, err
		}
	}
	faults := publish.Naming{Name: in.Name, Address: in.Address}.Faults()
	if !purpose.Known(in.Purpose) {
		faults["purpose"] = "Choose what the page is for."
	}
	if !isLayout(in.Layout) {
		faults["layout"] = "Choose what stands around the page."
	}
	tree, err := ps.compose(ctx, in)
	if err != nil {
		faults["template"] = refusal.Sentence(err)
	}
	if len(faults) > 0 {
		return drafts.Draft{}, faults, nil
	}
	row, err := ps.pageOf(in, tree)
	if err != nil {
		return drafts.Draft{}, nil, err
	}
	thanks, err := ps.thanks(ctx, in)
	if err != nil {
		return drafts.Draft{}, nil, err
	}
	err = ps.writePages(ctx, append([]store.Page{row}, thanks...)...)
	if store.IsDuplicate(err) {
		return drafts.Draft{}, map[string]string{"address": "Another page already has this address. Choose another."}, nil
	}
	if err != nil {
		return drafts.Draft{}, nil, err
	}
	d, err := ps.Drafts.Draft(ctx, row.ID)
	return d, nil, err
}

// thanks makes the thank-you page that comes with the first page of a campaign
// that sells: buyers must have somewhere to go.
func (ps *Pages) thanks(ctx context.Context, in NewPage) ([]store.Page, error) {
	if purpose.Of(in.Purpose).Step != route.Sales {
		return nil, nil
	}
	f, err := ps.Drafts.DraftFunnel(ctx, in.CampaignID)
	if err != nil {
		return nil, err
	}
	for _, s := range f.Steps {
		if s.Kind == route.ThankYou {
			return nil, nil
		}
	}
	page := NewPage{CampaignID: in.CampaignID, Purpose: "thank_you", Name: "Thank you", Layout: "bare", Template: "thank-you"}
	tree, err := ps.compose(ctx, page)
	if err != nil {
		return nil, err
	}
	if page.Address, err = ps.freeAddress(ctx, "Thank you "+in.Name); err != nil {
		return nil, err
	}
	row, err := ps.pageOf(page, tree)
	return []store.Page{row}, err
}

// pageOf is a new page as it is stored.
func (ps *Pages) pageOf(in NewPage, tree manuscript.Page) (store.Page, error) {
	raw, err := json.Marshal(tree)
	if err != nil {
		return store.Page{}, fmt.Errorf("write the manuscript: %w", err)
	}
	return store.Page{
		ID: store.NewID(), CampaignID: in.CampaignID, Name: in.Name, Purpose: in.Purpose, Address: in.Address, Title: in.Name,
		Manuscript: raw, Layout: in.Layout, Template: in.Template, CreatedAt: ps.Store.Now(),
	}, nil
}

// writePages keeps new pages and gives each its place, all of them or none.
func (ps *Pages) writePages(ctx context.Context, pages ...store.Page) error {
	return ps.Store.In(ctx, func(tx *gorm.DB) error {
		for _, p := range pages {
			if err := tx.Create(&p).Error; err != nil {
				return err
			}
			if err := drafts.Join(tx, p); err != nil {
				return err
			}
		}
		return nil
	})
}

// freeAddress makes an address of a name that no page has and that is not the
// shop's own.
func (ps *Pages) freeAddress(ctx context.Context, name string) (string, error) {
	base := Address(name)
	for n := 1; n < 100; n++ {
		address := base
		if n > 1 {
			address = fmt.Sprintf("%.56s-%d", base, n)
		}
		if publish.Reserved(address) {
			continue
		}
		var taken int64
		if err := ps.Store.On(ctx).Model(&store.Page{}).Where("address = ?", address).Count(&taken).Error; err != nil {
			return "", fmt.Errorf("look for a free address: %w", err)
		}
		if taken == 0 {
			return address, nil
		}
	}
	return base, nil
}

// compose makes the manuscript a new page begins with.
func (ps *Pages) compose(ctx context.Context, in NewPage) (manuscript.Page, error) {
	schema := ps.Render.Registry.Schema()
	tree := manuscript.Page{Version: manuscript.Version, Bands: []manuscript.Band{}}
	var form goods.Form
	var shelves []string // that the page could show, the likeliest first
	var err error
	if in.Tree != nil {
		return schema.Fresh(*in.Tree, store.NewID), nil
	}
	if id, kept := strings.CutPrefix(in.Template, "kept:"); kept {
		t, err := store.One[store.Template](ps.Store.On(ctx).Where("id = ?", id), "There is no such template.")
		if err != nil {
			return tree, err
		}
		if tree, err = schema.Parse(t.Manuscript); err != nil {
			return tree, fmt.Errorf("read the template %q: %w", t.Name, err)
		}
		return schema.Fresh(tree, store.NewID), nil
	}
	if in.Template != "" {
		t, ok := all.TemplateOf(in.Template)
		if !ok {
			return tree, refusal.Of(refusal.ErrInvalid, "There is no such template.")
		}
		tree, form = t.Page(schema, store.NewID), t.Form()
		if shelves, err = ps.shelvesFor(ctx, in.CampaignID, t.Season == all.Clearance); err != nil {
			return tree, err
		}
	}
	if in.ShelfID != "" {
		tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
			switch {
			case schema[p.Kind].Traits.Stands:
				p.Fields["shelf"] = in.ShelfID
			case schema.Headline(p):
				p.Fields["text"] = in.Name
			}
		})
	}
	if err := ps.suit(ctx, in.CampaignID, form, shelves, &tree); err != nil {
		return tree, err
	}
	return tree, schema.Validate(tree)
}

// shelvesFor lists the store's shelves: the campaign's own first, or, for a page
// that clears, those that pick what came back or has stood long.
func (ps *Pages) shelvesFor(ctx context.Context, campaignID string, clears bool) ([]string, error) {
	const cleared = `$.** ? (@ == "returned" || @ == "ex-demo" || @ == "days_in_stock")`
	var ids []string
	err := ps.Store.On(ctx).Raw(`SELECT id FROM shelves ORDER BY ? AND jsonb_path_exists(shelf, ?::jsonpath) DESC, id = (SELECT shelf_id FROM campaigns WHERE id = ?) DESC NULLS LAST, name, id LIMIT 20`,
		clears, cleared, campaignID).Scan(&ids).Error
	if err != nil {
		return nil, fmt.Errorf("look for shelves: %w", err)
	}
	return ids, nil
}

// suit fills in what a template leaves open with the store's own: goods of its
// form, or the campaign's, its next deadline, shelves in turn, pictures.
func (ps *Pages) suit(ctx context.Context, campaignID string, form goods.Form, shelves []string, tree *manuscript.Page) error {
	var own struct {
		Product, Second, Deadline, Picture string
	}
	err := ps.Store.On(ctx).Raw(`SELECT
		coalesce((SELECT v.id FROM variants v JOIN products p ON p.id = v.product_id WHERE p.form = ? AND ? <> '' ORDER BY v.stock > 0 DESC, p.name, v.id LIMIT 1),
			(SELECT g.variant_id FROM campaign_goods g WHERE g.campaign_id = ? ORDER BY g.variant_id LIMIT 1),
			(SELECT g.variant_id FROM offer_goods g JOIN offers o ON o.id = g.offer_id AND o.ended_at IS NULL AND o.only_via = '' ORDER BY o.created_at, g.variant_id LIMIT 1),
			(SELECT v.id FROM variants v JOIN products p ON p.id = v.product_id ORDER BY p.picture_id IS NULL, p.name, v.id LIMIT 1), '') AS product,
		coalesce((SELECT g.variant_id FROM offer_goods g JOIN offers o ON o.id = g.offer_id AND o.ended_at IS NULL AND o.only_via = 'upsell' ORDER BY o.created_at, g.variant_id LIMIT 1), '') AS second,
		coalesce((SELECT id FROM pictures ORDER BY name LIMIT 1), '') AS picture`, form, form, campaignID).Scan(&own).Error
	if err != nil {
		return fmt.Errorf("look for the store's own goods: %w", err)
	}
	schema := ps.Render.Registry.Schema()
	// A page that is answered with yes or no is all about what it adds.
	answered := false
	tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		answered = answered || schema[p.Kind].Traits.Takes == manuscript.TakesAnswer
	})
	if answered && own.Second != "" {
		own.Product = own.Second
	}
	var pic struct{ PictureID *string }
	if err := ps.Store.On(ctx).Raw("SELECT p.picture_id FROM variants v JOIN products p ON p.id = v.product_id WHERE v.id = ?", own.Product).Scan(&pic).Error; err != nil {
		return fmt.Errorf("look for the product's picture: %w", err)
	}
	if pic.PictureID != nil {
		own.Picture = *pic.PictureID
	}
	sells := false
	tree.Walk(func(_ manuscript.Band, p manuscript.Piece) { sells = sells || schema[p.Kind].Sells() })
	if own.Deadline, err = ps.ending(ctx, own.Product, sells, shelves); err != nil {
		return err
	}
	if own.Deadline == "" {
		dropTimers(schema, tree)
	}
	var pictures []string
	err = ps.Store.On(ctx).Raw(`SELECT i.id FROM pictures i LEFT JOIN products p ON p.picture_id = i.id LEFT JOIN (SELECT category FROM products JOIN variants v ON v.product_id = products.id WHERE v.id = ?) own ON own.category = p.category
		GROUP BY i.id, i.name ORDER BY count(own.category) > 0 DESC, count(p.id) > 0 DESC, i.name LIMIT 3`, own.Product).Scan(&pictures).Error
	if err != nil {
		return fmt.Errorf("look for pictures: %w", err)
	}
	tree.Walk(func(_ manuscript.Band, piece manuscript.Piece) {
		if items, has := schema[piece.Kind].Field("items"); has && schema[piece.Kind].Traits.Pictured && items.Type == manuscript.List {
			var list []any
			for _, id := range pictures {
				list = append(list, map[string]any{"picture": id})
			}
			piece.Fields["items"] = list
		}
		for _, f := range schema[piece.Kind].Fields {
			if piece.Fields.Text(f.Name) != "" {
				continue
			}
			value := ""
			switch f.Type { //nolint:exhaustive // the rest is written or chosen by hand
			case manuscript.Product:
				// What takes orders names the product; all else on its page follows.
				if f.Name != "bump" && (schema[piece.Kind].Sells() || !sells) {
					value = own.Product
				}
			case manuscript.Deadline:
				value = own.Deadline
			case manuscript.Shelf:
				if len(shelves) > 0 {
					value = shelves[0]
					shelves = append(shelves[1:], value)
				}
			case manuscript.Picture:
				value = own.Picture
			}
			if value != "" {
				piece.Fields[f.Name] = value
			}
		}
	})
	return nil
}

// ending is the next deadline at which a price on a page ends: that of an offer on
// what it sells, or on a shelf of it. A timer to any other would count to nothing.
func (ps *Pages) ending(ctx context.Context, product string, sells bool, shelves []string) (string, error) {
	if !sells {
		product = ""
	}
	var id string
	err := ps.Store.On(ctx).Raw(`SELECT coalesce((SELECT d.id FROM deadlines d JOIN offers o ON o.deadline_id = d.id WHERE d.kind = 'fixed' AND d.at > ? AND o.ended_at IS NULL AND NOT o.needs_code AND o.only_via <> 'bump'
		AND (o.general OR o.shelf_id = ANY(?::text[]) OR EXISTS (SELECT FROM offer_goods g WHERE g.offer_id = o.id AND g.variant_id = ?)) ORDER BY d.at, d.id LIMIT 1), '')`, ps.Store.Now(), store.TextArray(shelves), product).Scan(&id).Error
	if err != nil {
		return "", fmt.Errorf("look for what ends: %w", err)
	}
	return id, nil
}

// dropTimers takes timers off a page, and the bands that had nothing else.
func dropTimers(schema manuscript.Schema, tree *manuscript.Page) {
	var bands []manuscript.Band
	for _, b := range tree.Bands {
		left, timers := 0, 0
		for i := range b.Columns {
			before := len(b.Columns[i].Pieces)
			b.Columns[i].Pieces = slices.DeleteFunc(b.Columns[i].Pieces, func(p manuscript.Piece) bool { return schema[p.Kind].Traits.Counts })
			left, timers = left+len(b.Columns[i].Pieces), timers+before-len(b.Columns[i].Pieces)
		}
		if timers > 0 && left == 0 {
			continue
		}
		if timers > 0 {
			b.Columns = slices.DeleteFunc(b.Columns, func(c manuscript.Column) bool { return len(c.Pieces) == 0 })
		}
		bands = append(bands, b)
	}
	tree.Bands = bands
}

// CopyPage makes a page like another, layout and all, under a name of its own.
func (ps *Pages) CopyPage(ctx context.Context, pageID string) (drafts.Draft, error) {
	d, err := ps.Drafts.Draft(ctx, pageID)
	if err != nil {
		return d, err
	}
	raw, err := json.Marshal(ps.Render.Registry.Schema().Fresh(d.Tree, store.NewID))
	if err != nil {
		return d, fmt.Errorf("write the manuscript: %w", err)
	}
	row := d.Page
	row.ID, row.Revision, row.Manuscript, row.CreatedAt = store.NewID(), 0, raw, ps.Store.Now()
	row.AsideAt, row.AsideFor = nil, nil
	row.Name = string([]rune(row.Name)[:min(len([]rune(row.Name)), publish.MaxName-7)]) + ", copy"
	if purpose.Of(row.Purpose).Step == route.ThankYou {
		row.Purpose = "plain" // a funnel has one
	}
	for n := 2; n < 100; n++ {
		row.Address = fmt.Sprintf("%.55s-%d", strings.TrimRight(d.Address, "-"), n)
		if err = ps.writePages(ctx, row); !store.IsDuplicate(err) {
			break
		}
	}
	if err != nil {
		return d, fmt.Errorf("copy the page: %w", err)
	}
	return ps.Drafts.Draft(ctx, row.ID)
}

// KeepTemplate keeps a page, as it is now, to begin others from.
func (ps *Pages) KeepTemplate(ctx context.Context, pageID string) (store.Template, error) {
	d, err := ps.Drafts.Draft(ctx, pageID)
	if err != nil {
		return store.Template{}, err
	}
	raw, err := json.Marshal(d.Tree)
	if err != nil {
		return store.Template{}, fmt.Errorf("write the manuscript: %w", err)
	}
	t := store.Template{ID: store.NewID(), Name: d.Name, Purpose: d.Purpose, Layout: drafts.LayoutOf(d.Layout), Manuscript: raw, KeptAt: ps.Store.Now()}
	return t, ps.Store.On(ctx).Create(&t).Error
}

// Templates lists the templates that were kept, the latest first.
func (ps *Pages) Templates(ctx context.Context) ([]store.Template, error) {
	var list []store.Template
	err := ps.Store.On(ctx).Order("kept_at DESC").Limit(200).Find(&list).Error
	return list, err
}

// Example is a page as a template would begin it, for its proof.
func (ps *Pages) Example(ctx context.Context, campaignID, template string) (manuscript.Page, error) {
	return ps.compose(ctx, NewPage{CampaignID: campaignID, Template: template})
}

// Retake gives a page the bands of a template in place of its own. It can be
// undone like any change.
func (ps *Pages) Retake(ctx context.Context, userID, pageID, template string) (drafts.Draft, error) {
	d, err := ps.Drafts.Draft(ctx, pageID)
	if err != nil {
		return d, err
	}
	tree, err := ps.compose(ctx, NewPage{CampaignID: d.CampaignID, Template: template})
	if err != nil {
		return d, err
	}
	return ps.Desk.Edit(ctx, userID, pageID, manuscript.Command{Op: manuscript.Replace, Bands: tree.Bands}, false)
}

// Dress changes what a page is for and what stands around it.
func (ps *Pages) Dress(ctx context.Context, pageID, part, layout string) error {
	if !isLayout(layout) {
		return refusal.Of(refusal.ErrInvalid, "Choose what stands around the page.")
	}
	d, err := ps.Drafts.Draft(ctx, pageID)
	if err != nil {
		return err
	}
	if part == "" {
		part = d.Purpose
	}
	if part != d.Purpose && (purpose.Of(part).Step != "" || purpose.Of(d.Purpose).Step != "" || !purpose.Known(part)) {
		return refusal.Of(refusal.ErrInvalid, "What sells or follows a payment has its place in the funnel; make a new page for that.")
	}
	return ps.Store.On(ctx).Model(&store.Page{}).Where("id = ?", pageID).Updates(map[string]any{"purpose": part, "layout": layout, "revision": gorm.Expr("revision + 1")}).Error
}
