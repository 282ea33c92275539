package factbook_test

import (
	"testing"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/core/offer"
	"chrysagon/core/offer/form"
	"chrysagon/store"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func at(day int) time.Time { return time.Date(2026, 11, day, 9, 0, 0, 0, time.UTC) }

// An offer that was ended by hand holds no longer, and one that was ended before it
// began never did; goods that are gone leave it on nothing, and never on everything.
func TestARowAsCoreComputesWithIt(t *testing.T) {
	row, err := factbook.RowOf(offer.Offer{ID: "o", Name: "Frost", Kind: offer.PercentOff, Percent: decimal.NewFromInt(25), Products: []string{"ember"}, Conditions: offer.Conditions{Starts: at(10)}}, form.Bound{})
	require.NoError(t, err)
	rule := func() offer.Offer {
		o, err := row.Rule("EUR")
		require.NoError(t, err)
		require.NoError(t, o.Validate("EUR"))
		return o
	}
	o := rule()
	assert.False(t, o.Holds(at(9)))
	assert.True(t, o.Holds(at(20)))

	for day, held := range map[int]bool{15: true, 5: false} {
		end := at(day)
		row.EndedAt = &end
		o = rule()
		assert.Equal(t, held, o.Holds(at(12)), "ended on the %dth", day)
		assert.False(t, o.Holds(at(20)))
	}

	row.EndedAt, row.Goods = nil, nil
	o = rule()
	assert.False(t, o.General())
	row.General = true
	o = rule()
	assert.True(t, o.General())

	row.Detail = store.JSON("[")
	_, err = row.Rule("EUR")
	require.Error(t, err)
}
