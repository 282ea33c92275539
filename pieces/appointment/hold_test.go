package appointment_test

import (
	"testing"

	"chrysagon/pieces/appointment"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, appointment.Kind) }
