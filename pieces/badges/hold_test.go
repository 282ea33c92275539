package badges_test

import (
	"testing"

	"chrysagon/pieces/badges"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, badges.Kind) }
