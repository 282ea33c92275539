package video_test

import (
	"testing"

	"chrysagon/pieces/piecetest"
	"chrysagon/pieces/video"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, video.Kind) }
