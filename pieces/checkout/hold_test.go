package checkout_test

import (
	"testing"

	"chrysagon/pieces/checkout"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, checkout.Kind) }
