package menu_test

import (
	"testing"

	"chrysagon/pieces/menu"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, menu.Kind) }
