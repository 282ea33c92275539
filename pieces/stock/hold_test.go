package stock_test

import (
	"testing"

	"chrysagon/pieces/piecetest"
	"chrysagon/pieces/stock"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, stock.Kind) }
