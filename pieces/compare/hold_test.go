package compare_test

import (
	"testing"

	"chrysagon/pieces/compare"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, compare.Kind) }
