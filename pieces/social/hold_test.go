package social_test

import (
	"testing"

	"chrysagon/pieces/piecetest"
	"chrysagon/pieces/social"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, social.Kind) }
