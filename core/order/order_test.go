package order_test

import (
	"fmt"
	"testing"
	"time"

	"chrysagon/core/order"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// Whatever events come in whatever order, what is final stays final.
func TestFinalStatesAreFinal(t *testing.T) {
	events := []order.Event{order.Pay, order.Charge, order.Decline, order.Withdraw}
	rapid.Check(t, func(t *rapid.T) {
		state, ended := order.Open, false
		for range 20 {
			next, err := order.Next(state, rapid.SampledFrom(events).Draw(t, "event"))
			if err != nil {
				continue
			}
			if ended {
				t.Fatalf("an order that was %s became %s", state, next)
			}
			state = next
			ended = state == order.Paid || state == order.Released
		}
	})
}

func TestMoneyNewsIsActedOnOnce(t *testing.T) {
	require.NoError(t, order.Move(order.Asked, order.Charged))
	require.NoError(t, order.Move(order.Confirming, order.Cancelled))
	for _, final := range []order.PaymentState{order.Charged, order.Refused, order.Cancelled} {
		assert.True(t, final.Final())
		for _, to := range []order.PaymentState{order.Asked, order.Confirming, order.Charged, order.Refused, order.Cancelled} {
			assert.Error(t, order.Move(final, to), "%s to %s", final, to)
		}
	}
}

func ExampleNext() {
	state, _ := order.Next(order.Paying, order.Charge)
	_, err := order.Next(state, order.Charge)
	fmt.Println(state, "/", err)
	// Output: paid / an order that is paid cannot take the event "charge"
}

func TestAnUpsellIsOpenForAnHourAfterThePayment(t *testing.T) {
	paid := time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)
	assert.Empty(t, order.UpsellClosed(order.Paid, true, paid, paid))
	assert.Empty(t, order.UpsellClosed(order.Paid, true, paid, paid.Add(order.UpsellFor)), "the hour itself counts")
	assert.Contains(t, order.UpsellClosed(order.Paid, true, paid, paid.Add(order.UpsellFor+1)), "time is over")
	assert.Contains(t, order.UpsellClosed(order.Paid, false, paid, paid), "No card was kept")
	assert.Contains(t, order.UpsellClosed(order.Open, true, time.Time{}, paid), "not been paid")
}

// Every deed that can be done can be taken back, and what was taken back can be
// sent again.
func TestWhatIsDoneCanBeTakenBack(t *testing.T) {
	for _, from := range []order.Handling{order.ToPack, order.Sent, order.Done} {
		for _, deed := range []order.Deed{order.Send, order.Finish, order.Reopen} {
			to, err := order.Handle(from, deed)
			if err != nil {
				assert.Contains(t, err.Error(), from.Words())
				continue
			}
			if to != order.ToPack {
				back, err := order.Handle(to, order.Reopen)
				require.NoError(t, err)
				assert.Equal(t, order.ToPack, back)
			}
		}
	}
	assert.Equal(t, "waiting", order.Standing(order.Paying, "", 0, 0))
	assert.Equal(t, "refunded", order.Standing(order.Paid, order.Sent, 5100, 5100))
	assert.Equal(t, "sent", order.Standing(order.Paid, order.Sent, 5100, 5099))
	assert.Equal(t, "to_pack", order.Standing(order.Paid, order.Begin(true), 0, 0), "a free order is not refunded")
	assert.Equal(t, "done", order.Standing(order.Paid, order.Begin(false), 100, 0))
}
