package rating_test

import (
	"testing"

	"chrysagon/pieces/piecetest"
	"chrysagon/pieces/rating"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, rating.Kind) }
