package seal_test

import (
	"testing"
	"time"

	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/seal"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// A price is honoured for the store's grace time after it ended, and not a second longer;
// one that is lower now is charged as it is; whatever is charged, the lines come to the
// total.
func TestWhatWasSeenIsHonouredForItsGrace(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		list := rapid.Int64Range(1000, 100_000).Draw(t, "list")
		off := rapid.Int64Range(1, 900).Draw(t, "off")
		grace := time.Duration(rapid.IntRange(0, 60).Draw(t, "grace")) * time.Minute
		ends := noon.Add(time.Duration(rapid.IntRange(1, 120).Draw(t, "ends")) * time.Minute)
		pays := noon.Add(time.Duration(rapid.IntRange(0, 300).Draw(t, "pays")) * time.Minute)
		f := facts.Facts{
			Store:    facts.Store{Currency: "EUR", Zone: "UTC", Grace: grace},
			Products: map[string]goods.Product{"ember": {ID: "ember", Name: "Ember 180", Price: money.Of(list, "EUR"), Stock: 9}},
			Offers:   []offer.Offer{{ID: "week", Name: "Lantern week", Kind: offer.AmountOff, Amount: money.Of(off, "EUR"), Products: []string{"ember"}, Conditions: offer.Conditions{Ends: ends}}},
		}
		cart := []offer.Item{{ProductID: "ember", Quantity: 2, Via: offer.Page}}
		saw, ok := seal.Read(key, seal.Write(key, f, here, noon, cart))
		require.True(t, ok)
		now, err := f.Quote(cart, pays)
		require.NoError(t, err)
		answer, proves, err := saw.Honoured(seal.Return{Facts: f, Cart: cart, Now: now, At: here})
		require.NoError(t, err)
		require.True(t, proves)
		want, total := offer.ChargeNow, now.Total.Minor
		switch {
		case pays.Before(ends):
		case pays.Sub(ends) <= grace:
			want, total = offer.ChargeSeen, 2*(list-off)
		default:
			want = offer.TellFirst
		}
		require.Equal(t, want, answer.Verdict)
		require.Equal(t, total, answer.Quote.Total.Minor)
		sum := int64(0)
		for _, l := range answer.Quote.Lines {
			sum += l.Net.Minor
		}
		require.Equal(t, total, sum)

		other := here
		other.Edition = "e2"
		answer, _, err = saw.Honoured(seal.Return{Facts: f, Cart: cart, Now: now, At: other})
		require.NoError(t, err)
		require.NotEqual(t, offer.ChargeSeen, answer.Verdict, "a price of a former edition is honoured only where it is not below today's")
	})
}

// A change by hand ends what was seen at its moment: within the grace time the difference
// is taken off, with the reason.
func TestAChangeByHandEndsWhatWasSeen(t *testing.T) {
	cart, _ := carts()
	saw, _ := seal.Read(key, seal.Write(key, shown(5100, 0), here, noon, cart))
	f := shown(6800, 0)
	f.Store.Grace = 15 * time.Minute
	for after, want := range map[time.Duration]offer.Verdict{10 * time.Minute: offer.ChargeSeen, 15 * time.Minute: offer.ChargeSeen, 16 * time.Minute: offer.TellFirst} {
		changed := noon.Add(time.Minute)
		now, err := f.Quote(cart, changed.Add(after))
		require.NoError(t, err)
		answer, _, err := saw.Honoured(seal.Return{Facts: f, Cart: cart, Now: now, At: here, ByHand: changed})
		require.NoError(t, err)
		assert.Equal(t, want, answer.Verdict, after)
		if want == offer.ChargeSeen {
			assert.Equal(t, int64(5100), answer.Quote.Total.Minor)
			assert.Equal(t, int64(1700), answer.Quote.Reductions[0].Off.Minor, "the difference is told")
		}
	}
}
