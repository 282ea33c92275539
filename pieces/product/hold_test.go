package product_test

import (
	"testing"

	"chrysagon/pieces/piecetest"
	"chrysagon/pieces/product"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, product.Kind) }
