package divider_test

import (
	"testing"

	"chrysagon/pieces/divider"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, divider.Kind) }
