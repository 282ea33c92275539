package order_test

import (
	"fmt"
	"testing"

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
