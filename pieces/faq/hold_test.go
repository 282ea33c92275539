package faq_test

import (
	"testing"

	"chrysagon/pieces/faq"
	"chrysagon/pieces/piecetest"
)

func TestItHolds(t *testing.T) { piecetest.Hold(t, faq.Kind) }
