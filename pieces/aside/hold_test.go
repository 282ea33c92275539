package aside_test

import (
	"testing"

	"chrysagon/pieces/aside"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, aside.Kind) }
