package icon_test

import (
	"testing"

	"chrysagon/pieces/icon"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, icon.Kind) }
