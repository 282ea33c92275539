package price_test

import (
	"testing"

	"chrysagon/pieces/piecetest"
	"chrysagon/pieces/price"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, price.Kind) }
