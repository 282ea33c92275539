package summary_test

import (
	"testing"

	"chrysagon/pieces/piecetest"
	"chrysagon/pieces/summary"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, summary.Kind) }
