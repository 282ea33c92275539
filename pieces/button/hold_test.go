package button_test

import (
	"testing"

	"chrysagon/pieces/button"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, button.Kind) }
