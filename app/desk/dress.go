package desk

import (
	"context"

	"chrysagon/app/drafts"
	"chrysagon/core/manuscript"
	"chrysagon/core/refusal"
	"chrysagon/core/style"
)

// Dressing is a whole look being put on a band or a piece: Look replaces what it
// wears, and an empty one takes it back to the house style.
type Dressing struct {
	ID    string     `json:"id"` // empty: the page
	Look  style.Look `json:"look"`
	Alike bool       `json:"alike"` // on all that are alike, too
}

// Wear puts a look on one thing or on all that are alike.
func (desk *Desk) Wear(ctx context.Context, userID, pageID string, d Dressing) (drafts.Draft, error) {
	return desk.edit(ctx, userID, pageID, false, func(p manuscript.Page) (manuscript.Command, error) {
		ids := []string{d.ID}
		if d.Alike {
			if ids = desk.Render.Registry.Schema().Alike(p, d.ID); len(ids) == 0 {
				return manuscript.Command{}, refusal.Of(refusal.ErrNotFound, "What was to be dressed is no longer on the page.")
			}
		}
		return p.Wearing(d.Look, ids...), nil
	})
}
