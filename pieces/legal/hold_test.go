package legal_test

import (
	"testing"

	"chrysagon/pieces/legal"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, legal.Kind) }
