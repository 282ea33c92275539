package pages

import (
	"context"
	"fmt"
	"slices"

	"chrysagon/core/goods"
	"chrysagon/core/manuscript"
	"chrysagon/core/refusal"
	"chrysagon/store"
)

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
// form, or the campaign's, its next deadline, shelves in turn, pictures. Where a product is
// named, it is that.
func (ps *Pages) suit(ctx context.Context, campaignID, product string, form goods.Form, shelves []string, tree *manuscript.Page) error {
	var own struct {
		Product, Second, Deadline, Picture string
	}
	err := ps.Store.On(ctx).Raw(`SELECT
		coalesce((SELECT v.id FROM variants v JOIN products p ON p.id = v.product_id WHERE p.form = ? AND ? <> '' AND v.archived_at IS NULL ORDER BY v.stock > 0 DESC, p.name, v.id LIMIT 1),
			(SELECT g.variant_id FROM campaign_goods g WHERE g.campaign_id = ? ORDER BY g.variant_id LIMIT 1),
			(SELECT g.variant_id FROM offer_goods g JOIN offers o ON o.id = g.offer_id AND o.ended_at IS NULL AND o.only_via = '' ORDER BY o.created_at, g.variant_id LIMIT 1),
			(SELECT v.id FROM variants v JOIN products p ON p.id = v.product_id WHERE v.archived_at IS NULL ORDER BY p.picture_id IS NULL, p.name, v.id LIMIT 1), '') AS product,
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
	if product != "" {
		own.Product = product
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
	filled := schema.Filled(*tree) // its lists say what it sells
	if own.Deadline, err = ps.ending(ctx, own.Product, sells && !filled, shelves); err != nil {
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
				if !filled && (schema[piece.Kind].Sells() || !sells) {
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

// GoodsNamed is what one of the goods is called.
func (ps *Pages) GoodsNamed(ctx context.Context, id string) (string, error) {
	var name string
	err := ps.Store.On(ctx).Raw("SELECT "+store.GoodsName+" "+store.GoodsFrom+" WHERE v.id = ?", id).Scan(&name).Error
	if err == nil && name == "" {
		err = refusal.Of(refusal.ErrNotFound, "There is no such product.")
	}
	return name, err
}
