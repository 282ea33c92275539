package quote_test

import (
	"testing"

	"chrysagon/pieces/piecetest"
	"chrysagon/pieces/quote"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, quote.Kind) }
