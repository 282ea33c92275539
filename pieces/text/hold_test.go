package text_test

import (
	"testing"

	"chrysagon/pieces/piecetest"
	"chrysagon/pieces/text"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, text.Kind) }
