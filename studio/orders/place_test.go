package orders_test

import (
	"testing"

	"chrysagon/internal/testkit"
)

func TestThePlaceIsShown(t *testing.T) { testkit.Shows(t, "/orders", "To fetch for") }
