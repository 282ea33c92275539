package picture_test

import (
	"testing"

	"chrysagon/pieces/picture"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, picture.Kind) }
