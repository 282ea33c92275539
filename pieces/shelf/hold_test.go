package shelf_test

import (
	"testing"

	"chrysagon/pieces/piecetest"
	"chrysagon/pieces/shelf"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, shelf.Kind) }
