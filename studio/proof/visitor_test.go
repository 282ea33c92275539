package proof_test

import (
	"testing"

	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/offer"
	"chrysagon/studio/proof"

	"github.com/stretchr/testify/assert"
)

// A page can be seen as those for whom it is another one, and as nobody else.
func TestForWhomAPageIsAnother(t *testing.T) {
	values := func(f facts.Facts, countries ...string) (out []string) {
		for _, o := range proof.Visitors(f, countries) {
			out = append(out, o.Value)
		}
		return out
	}
	assert.Equal(t, []string{""}, values(facts.Facts{}))
	f := facts.Facts{
		Offers: []offer.Offer{
			{Conditions: offer.Conditions{FirstOrder: true}}, {Conditions: offer.Conditions{FirstOrder: true}}, {Conditions: offer.Conditions{Link: "kite-letter"}},
		},
		Deadlines: map[string]deadline.Deadline{"s": {Kind: deadline.Span}, "f": {Kind: deadline.Fixed}},
	}
	f.Context.Country = "PT"
	assert.Equal(t, []string{"", "first", "country:ES", "link:kite-letter", "day"}, values(f, "PT", "ES"), "each once, and not the store's own country")
	f.Deadlines = map[string]deadline.Deadline{"m": {Kind: deadline.Midnight}}
	assert.Contains(t, values(f), "zone:Asia/Tokyo")
}
