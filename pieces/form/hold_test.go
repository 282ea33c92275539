package form_test

import (
	"testing"

	"chrysagon/pieces/form"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, form.Kind) }
