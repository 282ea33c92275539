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

	"github.com/gosimple/slug"
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
	ProductID                                  string           // what it sells; "": what suits it of the store's goods
	Tree                                       *manuscript.Page // all of it; nil: by the template
}

// Address makes an address of a name: small letters without their marks, digits,
// and hyphens for the rest. Letters of other alphabets are written as they sound,
// where it is clear how; where it is not, they are left out.
func Address(name string) string {
	clear := strings.Map(func(r rune) rune {
		switch {
		case r == '’' || r == '\'':
			return -1
		case r < unicode.MaxLatin1 && !unicode.IsLetter(r) && !unicode.IsDigit(r), unicode.In(r, unicode.Han, unicode.Hiragana, unicode.Katakana):
			return ' '
		}
		return r
	}, name)
	made := slug.Make(clear)
	return strings.Trim(made[:min(len(made), publish.MaxAddress)], "-")
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

// AddAll makes several pages at once, all of them or none, that join no funnel by
// themselves: then does that in the same transaction. dress may change what each
// begins with.
func (ps *Pages) AddAll(ctx context.Context, list []NewPage, dress func(NewPage, manuscript.Page) manuscript.Page, then func(*gorm.DB, []store.Page) error) error {
	rows := make([]store.Page, len(list))
	var taken []string
	for i, in := range list {
		var err error
		if in.Address, err = ps.freeAddress(ctx, in.Name, taken...); err != nil {
			return err
		}
		taken = append(taken, in.Address)
		for _, fault := range (publish.Naming{Name: in.Name, Address: in.Address}).Faults() {
			return refusal.Of(refusal.ErrInvalid, "“%s”: %s", in.Name, fault)
		}
		tree, err := ps.compose(ctx, in)
		if err != nil {
			return err
		}
		if rows[i], err = ps.pageOf(in, dress(in, tree)); err != nil {
			return err
		}
	}
	err := ps.Store.In(ctx, func(tx *gorm.DB) error {
		for i := range rows {
			if err := tx.Create(&rows[i]).Error; err != nil {
				return err
			}
		}
		return then(tx, rows)
	})
	if store.IsDuplicate(err) {
		return refusal.Of(refusal.ErrConflict, "Another page has taken one of the addresses just now. Try again.")
	}
	return err
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
	title := in.Name
	if in.Purpose == purpose.Product {
		title = manuscript.NameHere
	}
	if t, known := all.TemplateOf(in.Template); known && purpose.Of(in.Purpose).Order != "" {
		title = t.Title // the subject, which names the order
	}
	return store.Page{
		ID: store.NewID(), CampaignID: in.CampaignID, Name: in.Name, Purpose: in.Purpose, Address: in.Address, Title: title,
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
// shop's own, nor one of some others.
func (ps *Pages) freeAddress(ctx context.Context, name string, but ...string) (string, error) {
	base := Address(name)
	for n := 1; n < 100; n++ {
		address := base
		if n > 1 {
			address = fmt.Sprintf("%.56s-%d", base, n)
		}
		if publish.Reserved(address) || slices.Contains(but, address) {
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
	if in.Purpose == purpose.Product {
		return tree, schema.Validate(tree) // it names no product: each of them stands in it by turns
	}
	if err := ps.suit(ctx, in.CampaignID, in.ProductID, form, shelves, &tree); err != nil {
		return tree, err
	}
	return tree, schema.Validate(tree)
}
