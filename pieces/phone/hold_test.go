package phone_test

import (
	"testing"

	"chrysagon/pieces/phone"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, phone.Kind) }
