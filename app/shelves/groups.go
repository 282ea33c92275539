package shelves

import (
	"cmp"
	"context"
	"fmt"
	"strings"

	"chrysagon/app/factbook"
	"chrysagon/core/facts"
	"chrysagon/core/refusal"
	"chrysagon/store"
)

// Group is a shelf with a picture, for a card that leads to it.
type Group struct {
	ID, Name, ShelfID, Shelf string
	Picture                  facts.Picture
}

// Groups lists the groups of goods.
func (shelves *Shelves) Groups(ctx context.Context) ([]Group, error) {
	var rows []struct {
		store.GoodsGroup
		Shelf string
	}
	if err := shelves.Store.On(ctx).Raw("SELECT g.*, s.name AS shelf FROM goods_groups g JOIN shelves s ON s.id = g.shelf_id ORDER BY g.name, g.id").Scan(&rows).Error; err != nil {
		return nil, fmt.Errorf("read the groups: %w", err)
	}
	var ids []string
	for _, r := range rows {
		if r.PictureID != nil {
			ids = append(ids, *r.PictureID)
		}
	}
	pics, err := factbook.Pictures(shelves.Store.On(ctx), ids)
	if err != nil {
		return nil, err
	}
	out := make([]Group, len(rows))
	for i, r := range rows {
		out[i] = Group{ID: r.ID, Name: r.Name, ShelfID: r.ShelfID, Shelf: r.Shelf}
		if r.PictureID != nil {
			out[i].Picture = pics[*r.PictureID]
		}
	}
	return out, nil
}

// SaveGroup makes a group of a shelf, or changes its name and picture.
func (shelves *Shelves) SaveGroup(ctx context.Context, shelfID, name, pictureID string) error {
	name = strings.TrimSpace(name)
	if name == "" || len([]rune(name)) > 80 {
		return refusal.Of(refusal.ErrInvalid, "Give the group a name of at most 80 characters.")
	}
	if _, err := store.One[store.Shelf](shelves.Store.On(ctx).Where("id = ?", shelfID), "Keep the shelf first; then it can be a group."); err != nil {
		return err
	}
	row := store.GoodsGroup{ID: "group-" + shelfID, Name: name, ShelfID: shelfID}
	if pictureID != "" {
		if _, known, err := shelves.Pictures.PictureOf(ctx, pictureID); err != nil || !known {
			return cmp.Or(err, refusal.Of(refusal.ErrNotFound, "That picture is gone. Choose another."))
		}
		row.PictureID = &pictureID
	}
	err := shelves.Store.On(ctx).Save(&row).Error
	shelves.News.FactsChanged()
	return err
}

// DropGroup takes a group away; its shelf stays.
func (shelves *Shelves) DropGroup(ctx context.Context, id string) error {
	err := shelves.Store.On(ctx).Exec("DELETE FROM goods_groups WHERE id = ?", id).Error
	shelves.News.FactsChanged()
	return err
}
