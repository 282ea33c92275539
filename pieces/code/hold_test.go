package code_test

import (
	"testing"

	"chrysagon/pieces/code"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, code.Kind) }
