package groups_test

import (
	"testing"

	"chrysagon/pieces/groups"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, groups.Kind) }
