package desk

import (
	"context"
	"strings"

	"chrysagon/core/manuscript"
	"chrysagon/core/refusal"
)

// PutInto gives a piece what was just made for it: into names page, piece and field.
func (d *Desk) PutInto(ctx context.Context, user, into, id string) error {
	parts := strings.Split(into, "/")
	if len(parts) != 3 {
		return refusal.Of(refusal.ErrInvalid, "It is made. The piece it was meant for is not known; choose it there.")
	}
	_, err := d.Edit(ctx, user, parts[0], manuscript.Command{Op: manuscript.SetField, Piece: parts[1], Field: parts[2], Value: id}, false)
	return err
}
