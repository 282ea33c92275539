package orders_test

import (
	"context"
	"errors"
	"testing"
	"time"

	"chrysagon/app/orders"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

func paid(t *testing.T, c *testkit.Cases) string {
	t.Helper()
	var id string
	require.NoError(t, c.Store.DB.Raw("SELECT id FROM orders WHERE state = 'paid' ORDER BY number DESC LIMIT 1").Scan(&id).Error)
	return id
}

// A till that refuses to give back, or does not answer, leaves the order as it was,
// and it can be asked for again.
func TestARefundTheTillRefuses(t *testing.T) {
	c := testkit.Use(t)
	id := paid(t, c)
	c.Till.Refuses = "Too long ago."
	_, err := c.Orders.Refund(ctx, "Marta Venn", orders.RefundAsk{OrderID: id, Way: "whole"})
	require.NoError(t, err)
	whole, err := c.Orders.WholeOrder(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, whole.TotalMinor, whole.Left.Minor, "nothing went back")
	assert.True(t, whole.Refunds, "and it can be asked for again")

	c.Till.Refuses = ""
	plan, err := c.Orders.Refund(ctx, "Marta Venn", orders.RefundAsk{OrderID: id, Way: "whole"})
	require.NoError(t, err)
	whole, err = c.Orders.WholeOrder(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, whole.TotalMinor, plan.Amount.Minor)
	assert.Zero(t, whole.Left.Minor)
	keys := map[string]bool{}
	for _, r := range c.Till.Refunds {
		assert.False(t, keys[r.Key], "each refund has a key of its own")
		keys[r.Key] = true
	}
}

// The day's orders go to the owner as one letter, and a day without any sends none.
func TestTheDaysOrdersAreOneLetter(t *testing.T) {
	c := testkit.Use(t)
	n := c.Number("SELECT count(*) FROM orders WHERE state = 'paid' AND paid_at >= $1", testkit.Start.AddDate(0, 0, -2))
	require.Positive(t, n)
	require.NoError(t, c.Orders.DeliverDigest(ctx, orders.SendDigest{Since: testkit.Start.AddDate(0, 0, -2), Until: testkit.Start}))
	require.Len(t, c.Post.Letters, 1)
	assert.Contains(t, c.Post.Letters[0].Subject, "orders, €")
	require.NoError(t, c.Orders.DeliverDigest(ctx, orders.SendDigest{Since: testkit.Start.Add(time.Hour), Until: testkit.Start.Add(2 * time.Hour)}))
	assert.Len(t, c.Post.Letters, 1)
	c.Post.Fails = errors.New("no answer")
	require.Error(t, c.Orders.DeliverDigest(ctx, orders.SendDigest{Since: testkit.Start.AddDate(0, 0, -2), Until: testkit.Start}), "the job is tried again")
}
