package words_test

import (
	"testing"

	"chrysagon/core/words"

	"github.com/stretchr/testify/assert"
)

func TestThingsAreCounted(t *testing.T) {
	for want, got := range map[string]string{
		"1 order": words.Count(1, "order"), "3 orders": words.Count(3, "order"), "0 headlines": words.Count(0, "headline"), "2 parcels": words.Count(2, "parcel"),
		"2 shelves": words.Count(2, "shelf"), "4 countries": words.Count(4, "country"), "2 sales pages": words.Count(2, "sales page"), "2 boxes": words.Count(2, "box"),
		"an upsell": words.A("upsell"), "an opt-in": words.A("opt-in"), "a page": words.A("page"), "a one-click upsell": words.A("one-click upsell"),
		"an hour": words.A("hour"), "a unit": words.A("unit"), "an offer": words.A("offer"), "a use": words.A("use"),
	} {
		assert.Equal(t, want, got)
	}
}
