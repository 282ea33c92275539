package receipt_test

import (
	"testing"

	"chrysagon/pieces/piecetest"
	"chrysagon/pieces/receipt"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, receipt.Kind) }
