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
