package announcement_test

import (
	"testing"

	"chrysagon/pieces/announcement"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, announcement.Kind) }
