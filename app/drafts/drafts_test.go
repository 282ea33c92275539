package drafts_test

import (
	"context"
	"testing"

	"chrysagon/core/refusal"
	"chrysagon/core/route"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The funnel of a campaign's drafts leads from its sales page over the offer after
// paying to the thanks; a page that was set aside is not among the drafts.
func TestTheFunnelOfDrafts(t *testing.T) {
	ctx := context.Background()
	c := testkit.Use(t)
	funnel, err := c.Drafts.DraftFunnel(ctx, "frost-lanterns")
	require.NoError(t, err)
	at := funnel.Steps[0].ID
	for _, outcome := range []route.Outcome{route.Bought, route.Declined} {
		next, err := funnel.Next(at, outcome)
		require.NoError(t, err)
		at = next.ID
	}
	last := funnel.Steps[len(funnel.Steps)-1]
	assert.Equal(t, last.ID, at)
	assert.Equal(t, route.ThankYou, last.Kind)

	_, err = c.Drafts.Draft(ctx, "no such page")
	require.ErrorIs(t, err, refusal.ErrNotFound)
	before, err := c.Drafts.ReadDrafts(ctx, "frost-lanterns")
	require.NoError(t, err)
	c.Exec("UPDATE pages SET aside_at = now() WHERE id = 'quiver-bag'")
	after, err := c.Drafts.ReadDrafts(ctx, "frost-lanterns")
	require.NoError(t, err)
	assert.Len(t, after, len(before)-1)
}
