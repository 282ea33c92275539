package timer_test

import (
	"testing"

	"chrysagon/pieces/piecetest"
	"chrysagon/pieces/timer"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, timer.Kind) }
