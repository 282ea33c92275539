package hours_test

import (
	"testing"

	"chrysagon/pieces/hours"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, hours.Kind) }
