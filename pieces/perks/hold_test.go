package perks_test

import (
	"testing"

	"chrysagon/pieces/perks"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, perks.Kind) }
