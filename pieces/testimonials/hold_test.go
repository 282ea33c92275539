package testimonials_test

import (
	"testing"

	"chrysagon/pieces/piecetest"
	"chrysagon/pieces/testimonials"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, testimonials.Kind) }
