package season_test

import (
	"testing"

	"chrysagon/internal/testkit"
)

func TestThePlaceIsShown(t *testing.T) { testkit.Shows(t, "/season", "Last order days") }
