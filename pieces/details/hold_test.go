package details_test

import (
	"testing"

	"chrysagon/pieces/details"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, details.Kind) }
