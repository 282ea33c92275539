package publish_test

import (
	"fmt"
	"strings"
	"testing"

	"chrysagon/core/publish"

	"github.com/stretchr/testify/assert"
)

func TestAddresses(t *testing.T) {
	fault := func(address string) string { return publish.Naming{Name: "x", Address: address}.Faults()["address"] }
	for _, good := range []string{"a", "night-flight", "2026", "a-1-b", strings.Repeat("a", 60)} {
		assert.Empty(t, fault(good), good)
	}
	for _, bad := range []string{"", "-", "-a", "a-", "a--b", "A", "a b", "näh", "a/b", "../a", "a.b", "a?b", "%61", strings.Repeat("a", 61)} {
		assert.Contains(t, fault(bad), "small letters", bad)
	}
	for _, own := range []string{"orders", "assets", "privacy", "hooks"} {
		assert.Contains(t, fault(own), "the shop's own", own)
	}
}

func TestTheOtherParts(t *testing.T) {
	long := publish.Naming{Name: strings.Repeat("ä", 81), Address: "a", Title: strings.Repeat("ä", 121), Description: strings.Repeat("ä", 1001)}
	assert.Len(t, long.Faults(), 3)
	fits := publish.Naming{Name: strings.Repeat("ä", 80), Address: "a", Title: strings.Repeat("ä", 120), Description: strings.Repeat("ä", 1000)}
	assert.Empty(t, fits.Faults(), "characters are counted, not bytes")
	assert.Contains(t, publish.Naming{Address: "a"}.Faults()["name"], "Give the page a name")
}

func TestWhatMayGoOut(t *testing.T) {
	for _, c := range []struct {
		draft publish.Draft
		says  string
	}{
		{publish.Draft{}, ""},
		{publish.Draft{Live: 2, Differs: 1}, ""},
		{publish.Draft{Live: 2}, "Nothing has changed since edition 2"},
		{publish.Draft{Stops: 1, Live: 2, Differs: 1}, "mend what stops publishing"},
		{publish.Draft{Faults: 1}, "mend what stops publishing"},
	} {
		if c.says == "" {
			assert.Empty(t, c.draft.Refusal())
		} else {
			assert.Contains(t, c.draft.Refusal(), c.says)
		}
	}
}

func ExampleNaming_Faults() {
	fmt.Println(publish.Naming{Name: "Orders", Address: "orders"}.Faults()["address"])
	// Output: This address is the shop's own. Choose another.
}
