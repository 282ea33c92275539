package rotate_test

import (
	"testing"

	"chrysagon/pieces/piecetest"
	"chrysagon/pieces/rotate"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, rotate.Kind) }
