package order_test

import (
	"testing"

	"chrysagon/core/order"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestWaysToPay(t *testing.T) {
	assert.Equal(t, []order.Way{order.ByCard, order.ByAccount, order.ByTransfer, order.OnCollection}, order.Ways())
	for _, w := range order.Ways() {
		assert.NotEmpty(t, w.Words())
		assert.NotEmpty(t, w.Paid())
		assert.Equal(t, w == order.ByTransfer || w == order.OnCollection, w.ByHand(), w)
	}
	none := order.Way("barter")
	assert.False(t, none.ByHand())
	assert.Empty(t, none.Words()+none.Paid())
}

// Two examples by which ISO 11649 is commonly explained, one of digits and one with
// letters; from memory.
func TestReferencesAreThoseOfTheStandard(t *testing.T) {
	assert.Equal(t, "RF18539007547034", order.Reference("539007547034"))
	assert.Equal(t, "RF45G72UUR", order.Reference("g72 uur"))
	assert.True(t, order.ReferenceHolds("RF18 5390 0754 7034"))
	assert.True(t, order.ReferenceHolds("rf18 5390 0754 7034"))
	assert.Equal(t, "RF18 5390 0754 7034", order.Grouped("RF18539007547034"))
	for _, bad := range []string{"", "RF18", "RF19539007547034", "XX18539007547034", "RF1853900754703", "1042", "Ines", "RF1853900754703412345678901", "RFAB539007547034"} {
		assert.False(t, order.ReferenceHolds(bad), bad)
	}
}

// A slip of one sign, or two neighbours changed about, is found: what check digits by
// MOD 97-10 are for (ISO 7064).
func TestASlipInAReferenceIsFound(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		ref := order.Reference(rapid.StringMatching(`[A-Z0-9]{1,21}`).Draw(t, "body"))
		if !order.ReferenceHolds(ref) {
			t.Fatalf("%s does not hold", ref)
		}
		slip := []byte(ref)
		i := rapid.IntRange(4, len(slip)-1).Draw(t, "at")
		if j := i - 1; i > 4 && rapid.Bool().Draw(t, "two change places") {
			slip[i], slip[j] = slip[j], slip[i]
		} else {
			slip[i] = rapid.SampledFrom([]byte("0123456789")).Draw(t, "instead")
		}
		same := string(slip) == ref
		// A letter is read as two digits, so that only slips among digits are all found.
		digits := slip[i] <= '9' && ref[i] <= '9' && slip[i-1] <= '9' && ref[i-1] <= '9'
		if digits && !same && order.ReferenceHolds(string(slip)) {
			t.Fatalf("%s passes for %s", slip, ref)
		}
	})
}

// What waits for its owner ends as paid or as given up, and never goes back to the buyer.
func TestWhatIsAwaitedEnds(t *testing.T) {
	at, err := order.Next(order.Paying, order.Await)
	require.NoError(t, err)
	assert.Equal(t, order.Awaited, at)
	for event, want := range map[order.Event]order.State{order.Charge: order.Paid, order.Decline: order.Released} {
		got, err := order.Next(at, event)
		require.NoError(t, err)
		assert.Equal(t, want, got)
	}
	for _, event := range []order.Event{order.Pay, order.Await, order.Withdraw} {
		_, err := order.Next(at, event)
		require.Error(t, err, event)
	}
	require.Error(t, order.Move(order.Waiting, order.Confirming))
	require.NoError(t, order.Move(order.Waiting, order.Charged))
	assert.False(t, order.Waiting.Final())
	assert.Equal(t, "awaited", order.Standing(order.Awaited, "", 100, 0))
}
