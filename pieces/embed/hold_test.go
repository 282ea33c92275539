package embed_test

import (
	"testing"

	"chrysagon/pieces/embed"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, embed.Kind) }
