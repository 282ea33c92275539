package shelves_test

import (
	"testing"

	"chrysagon/internal/testkit"
)

func TestThePlaceIsShown(t *testing.T) { testkit.Shows(t, "/shelves", "days in stock") }
