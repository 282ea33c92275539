// Package drafts reads pages as they are being written, and the funnel that joins them.
package drafts

import (
	"bytes"
	"cmp"
	"context"
	"fmt"
	"slices"
	"sync"
	"sync/atomic"

	"chrysagon/core/goods"
	"chrysagon/core/manuscript"
	"chrysagon/core/publish"
	"chrysagon/core/purpose"
	"chrysagon/render"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Reader reads drafts, and keeps the trees it has read.
type Reader struct {
	Render *render.Renderer
	Store  *store.Store

	trees sync.Map     // page ID -> readTree
	kept  atomic.Int64 // readings among them
}

// Draft is a page being written.
type Draft struct {
	store.Page
	Tree manuscript.Page
	Step string // of the funnel, where the draft was read with those of its campaign

	Good manuscript.Good // for which the page of a product is drawn

	schema manuscript.Schema
	at     string // of the goods
}

// Shown is the tree as it is drawn and checked: that of the page of a product stands for
// one of the goods, and every other for itself.
func (d Draft) Shown() manuscript.Page {
	if d.Good.ID == "" {
		return d.Tree
	}
	return d.schema.Stand(d.Tree, d.Good)
}

// For is the page of a product as it stands for one of the goods, at an address.
func (d Draft) For(good manuscript.Good, address string, schema manuscript.Schema) Draft {
	d.Good, d.at, d.schema = good, goods.Path+address, schema
	return d
}

// At is its address on the shopfront: that of the goods for which it stands.
func (d Draft) At() string { return cmp.Or(d.at, d.Address) }

// Draft reads a page being written.
func (reader *Reader) Draft(ctx context.Context, pageID string) (Draft, error) {
	d, err := reader.draft(reader.Store.On(ctx), pageID)
	if err != nil {
		return d, err
	}
	err = reader.Stand(ctx, &d)
	return d, err
}

func (reader *Reader) draft(db *gorm.DB, pageID string) (Draft, error) {
	row, err := store.One[store.Page](db.Where("id = ?", pageID), "There is no such page.")
	if err != nil {
		return Draft{}, err
	}
	return reader.DraftOf(row)
}

// DraftOf reads a stored page. Trees are never changed in place, so one that was
// read before is read no second time.
func (reader *Reader) DraftOf(row store.Page) (Draft, error) {
	d := Draft{Page: row}
	if known, ok := reader.trees.Load(row.ID); ok {
		if k, ok := known.(readTree); ok && bytes.Equal(k.raw, row.Manuscript) {
			d.Tree = k.tree
			return d, nil
		}
	}
	var err error
	if d.Tree, err = reader.Render.Registry.Schema().Parse(row.Manuscript); err != nil {
		return d, fmt.Errorf("read the manuscript of %q: %w", row.Name, err)
	}
	if len(row.Manuscript) > 0 {
		if reader.kept.Add(1) > keptTrees {
			reader.trees.Clear()
			reader.kept.Store(1)
		}
		reader.trees.Store(row.ID, readTree{bytes.Clone(row.Manuscript), d.Tree})
	}
	return d, nil
}

// Stand lets those of some drafts that are pages of a product stand for one of the goods,
// so that they can be drawn and checked: the newest that can be had.
func (reader *Reader) Stand(ctx context.Context, list ...*Draft) error {
	if !slices.ContainsFunc(list, func(d *Draft) bool { return d.Purpose == purpose.Product }) {
		return nil
	}
	var stands struct {
		manuscript.Good
		Address string
	}
	err := reader.Store.On(ctx).Raw("SELECT v.id, v.address, " + store.GoodsName + " AS name " + store.GoodsFrom + ` WHERE v.archived_at IS NULL
		ORDER BY (p.form = 'digital' OR v.stock > v.reserved) DESC, (p.picture_id IS NULL), p.added_at DESC, v.id LIMIT 1`).Scan(&stands).Error
	if err != nil {
		return fmt.Errorf("look for a product to stand in: %w", err)
	}
	for _, d := range list {
		if d.Purpose == purpose.Product && stands.ID != "" {
			*d = d.For(stands.Good, stands.Address, reader.Render.Registry.Schema())
		}
	}
	return nil
}

// keptTrees is how many readings are kept before all are let go: enough for a
// season at hand, and no more memory than that.
const keptTrees = 256

// readTree is a manuscript as it is stored, and as it was read.
type readTree struct {
	raw  []byte
	tree manuscript.Page
}

// NamingOf is what a page is called and where it is found.
func NamingOf(d Draft) publish.Naming {
	return publish.Naming{Name: d.Name, Address: d.Address, Title: d.Title, Description: d.Description}
}

// ReadDrafts reads the pages of a campaign in the order of its funnel.
func (reader *Reader) ReadDrafts(ctx context.Context, campaignID string) ([]Draft, error) {
	var rows []struct {
		store.Page
		StepID string
	}
	err := reader.Store.On(ctx).Raw(`SELECT p.*, coalesce(s.id, '') AS step_id FROM pages p LEFT JOIN steps s ON s.page_id = p.id AND s.campaign_id = p.campaign_id
		WHERE p.campaign_id = ? AND p.aside_at IS NULL ORDER BY s.position, p.name`, campaignID).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("read the pages: %w", err)
	}
	drafts, each := make([]Draft, len(rows)), make([]*Draft, len(rows))
	for i, r := range rows {
		if drafts[i], err = reader.DraftOf(r.Page); err != nil {
			return nil, err
		}
		drafts[i].Step, each[i] = r.StepID, &drafts[i]
	}
	return drafts, reader.Stand(ctx, each...)
}

// LayoutOf is the layout of a name, the bare one where there is none.
func LayoutOf(name string) string {
	if name == "" {
		return "bare"
	}
	return name
}
