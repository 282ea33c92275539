package studio

import (
	"strings"

	"chrysagon/core/manuscript"
	"chrysagon/core/refusal"

	"github.com/gofiber/fiber/v3"
)

// putInto gives a piece what was just made for it: into names page, piece and field.
func (s *Studio) putInto(c fiber.Ctx, into, id string) error {
	parts := strings.Split(into, "/")
	if len(parts) != 3 {
		return refusal.Refusal{Kind: refusal.ErrInvalid, Say: "It is made. The piece it was meant for is not known; choose it there."}
	}
	_, err := s.App.Desk.Edit(c, who(c).User.ID, parts[0], manuscript.Command{Op: manuscript.SetField, Piece: parts[1], Field: parts[2], Value: id}, false)
	return err
}
