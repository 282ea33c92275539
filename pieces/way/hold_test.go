package way_test

import (
	"testing"

	"chrysagon/pieces/piecetest"
	"chrysagon/pieces/way"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, way.Kind) }
