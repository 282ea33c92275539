package bullets_test

import (
	"testing"

	"chrysagon/pieces/bullets"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, bullets.Kind) }
