package results_test

import (
	"context"
	"net/http"
	"testing"
	"time"

	"chrysagon/app/pages"
	"chrysagon/app/results"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

// A page that stands in no funnel is counted too, and adds nothing to the
// funnel's figures.
func TestPagesOutsideTheFunnelAreCounted(t *testing.T) {
	shop := testkit.Open(t)
	since := testkit.Start.Add(-time.Minute)
	before, err := shop.App.Results.Results(ctx, "frost-lanterns", since)
	require.NoError(t, err)
	assert.Empty(t, before.Beside)
	_, faults, err := shop.App.Pages.AddPage(ctx, pages.NewPage{CampaignID: "frost-lanterns", Purpose: "bridge", Name: "How we sew", Layout: "bare", Template: "bridge"})
	require.NoError(t, err)
	require.Empty(t, faults)
	shop.Write("frost-lanterns")
	_, err = shop.App.Publishing.Publish(ctx, "frost-lanterns", "Marta Venn")
	require.NoError(t, err)
	shop.Follow(t)
	one, other := shop.Browser(), shop.Browser()
	for _, b := range []*testkit.Browser{one, other, one} {
		assert.Equal(t, http.StatusOK, b.Get("/how-we-sew").Status)
	}
	shop.Record()
	after, err := shop.App.Results.Results(ctx, "frost-lanterns", since)
	require.NoError(t, err)
	assert.Equal(t, []results.Seen{{Name: "How we sew", Address: "how-we-sew", Visitors: 2}}, after.Beside)
	assert.Equal(t, before.Visitors, after.Visitors)
}
