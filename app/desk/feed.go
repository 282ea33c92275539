package desk

import (
	"context"
	"fmt"
	"strings"

	"chrysagon/app/pictures"
	"chrysagon/core/feed"
	"chrysagon/core/manuscript"
	"chrysagon/core/refusal"
	"chrysagon/core/target"
	"chrysagon/store"
)

// TakeFeed fills a list of posts from a feed file: each with its words, its
// link, and the picture of the shelf that bears its file's name. It says what
// came in, and which pictures the shelf lacks. Undo takes it back.
func (desk *Desk) TakeFeed(ctx context.Context, userID, pageID, pieceID, field string, raw []byte) (string, error) {
	posts, err := feed.Parse(raw)
	if err != nil {
		return "", refusal.Of(refusal.ErrInvalid, "The file cannot be taken: %s.", err.Error())
	}
	if len(posts) == 0 {
		return "", refusal.Of(refusal.ErrInvalid, "The feed can be read, but nothing was posted in it.")
	}
	var pics []store.Picture
	if err := desk.Store.On(ctx).Select("id", "name").Find(&pics).Error; err != nil {
		return "", fmt.Errorf("read the pictures: %w", err)
	}
	byName := map[string]string{}
	for _, p := range pics {
		byName[strings.ToLower(p.Name)] = p.ID
	}
	var items []any
	var lacks []string
	for _, p := range posts {
		item := map[string]any{"text": p.Text}
		if id, ok := byName[strings.ToLower(pictures.PictureName(p.Image))]; ok && p.Image != "" {
			item["picture"] = id
		} else if p.Image != "" {
			lacks = append(lacks, p.Image)
		}
		if to, err := target.Parse(p.Link); err == nil && to.Kind == target.Outside {
			item["link"] = p.Link
		}
		items = append(items, item)
	}
	if _, err := desk.Edit(ctx, userID, pageID, manuscript.Command{Op: manuscript.SetField, Piece: pieceID, Field: field, Value: items}, false); err != nil {
		return "", err
	}
	said := fmt.Sprintf("%d posts came in.", len(posts))
	if len(lacks) > 0 {
		said += " The shelf lacks these pictures; put them there and hand the feed in again: " + strings.Join(lacks[:min(len(lacks), 5)], ", ")
		if len(lacks) > 5 {
			said += fmt.Sprintf(" and %d more", len(lacks)-5)
		}
		said += "."
	}
	return said, nil
}
