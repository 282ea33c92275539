package heading_test

import (
	"testing"

	"chrysagon/pieces/heading"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, heading.Kind) }
