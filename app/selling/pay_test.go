package selling_test

import (
	"context"
	"errors"
	"testing"
	"time"

	"chrysagon/app/selling"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

// ready is a checkout of the demo's sales page, filled in well.
func ready(t *testing.T, c *testkit.Cases) selling.PayInput {
	t.Helper()
	live, err := c.Publishing.Live(ctx, "night-flight")
	require.NoError(t, err)
	in := selling.PayInput{Live: live, Visitor: "somebody", Values: map[string]string{
		"name": "Ines Falk", "email": "ines@example.org", "street": "7 Lee Lane", "postcode": "1200-109", "town": "Lisbon", "country": "Portugal", "token": "card",
	}}
	shown, err := c.Selling.Quote(ctx, in)
	require.NoError(t, err)
	in.Values["seen"] = shown.Shown.Seen
	return in
}

// Whatever the till answers, the order, the stock and what the buyer is told agree.
func TestWhatTheTillAnswersIsWhatHolds(t *testing.T) {
	for name, one := range map[string]struct {
		refuses string
		fails   error
		goes    string // where the buyer goes next
		paid    int64  // orders
		held    int64  // units set aside
	}{
		"approved": {goes: "/quiver-bag?order=", paid: 1},
		"refused":  {refuses: "This card has no cover."},
		"silent":   {fails: errors.New("no answer"), goes: "/orders/", held: 1},
	} {
		c := testkit.Use(t)
		c.Till.Refuses, c.Till.Fails = one.refuses, one.fails
		stock := c.Number("SELECT stock FROM variants WHERE id = 'ember'")
		before := c.Number("SELECT count(*) FROM orders WHERE state = 'paid'")
		told, err := c.Selling.Pay(ctx, ready(t, c))
		require.NoError(t, err, name)
		assert.Contains(t, told.Go, one.goes, name)
		assert.Equal(t, one.refuses, told.Errors["card"], name)
		require.Len(t, c.Till.Charges, 1, name)
		assert.Equal(t, int64(5100), c.Till.Charges[0].Amount.Minor, name)
		assert.Equal(t, one.paid, c.Number("SELECT count(*) FROM orders WHERE state = 'paid'")-before, name)
		require.NoError(t, c.Selling.TakeOut(ctx))
		assert.Equal(t, one.held, c.Number("SELECT reserved FROM variants WHERE id = 'ember'"), name)
		assert.Equal(t, one.paid, stock-c.Number("SELECT stock FROM variants WHERE id = 'ember'"), name)
	}
}

// A till that was silent is asked again under the same key, and its answer holds.
func TestASilentTillIsAskedAgain(t *testing.T) {
	c := testkit.Use(t)
	c.Till.Fails = errors.New("no answer")
	in := ready(t, c)
	_, err := c.Selling.Pay(ctx, in)
	require.NoError(t, err)
	c.Till.Fails = nil
	c.Clock.Advance(2 * time.Minute)
	_, err = c.Selling.ReconcilePayments(ctx)
	require.NoError(t, err)
	assert.Len(t, c.Till.Charges, 1, "it is not charged twice")
	assert.Equal(t, int64(1), c.Number("SELECT count(*) FROM orders WHERE email = 'ines@example.org' AND state = 'paid'"))
	require.NoError(t, c.Selling.TakeOut(ctx))
	assert.Zero(t, c.Number("SELECT reserved FROM variants WHERE id = 'ember'"))
}

// What is missing in the form is told before the till is asked.
func TestNothingIsAskedWhileTheFormIsFaulty(t *testing.T) {
	c := testkit.Use(t)
	for field, wrong := range map[string]string{"email": "ines", "name": "", "street": "", "country": "Atlantis"} {
		in := ready(t, c)
		in.Values[field] = wrong
		told, err := c.Selling.Pay(ctx, in)
		require.NoError(t, err, field)
		assert.NotEmpty(t, told.Errors[field], field)
	}
	assert.Empty(t, c.Till.Charges)
	assert.Zero(t, c.Number("SELECT count(*) FROM payments WHERE state <> 'charged'"))
}
