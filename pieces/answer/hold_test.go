package answer_test

import (
	"testing"

	"chrysagon/pieces/answer"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, answer.Kind) }
