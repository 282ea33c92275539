package gallery_test

import (
	"testing"

	"chrysagon/pieces/gallery"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, gallery.Kind) }
