package shopfront_test

import (
	"context"
	"net/http"
	"regexp"
	"strings"
	"testing"

	"chrysagon/core/compose"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// An edition made when there was one composition only names none. It stays drawn in that,
// until the campaign goes out again.
func TestWhatIsLiveStaysComposedAsItWas(t *testing.T) {
	shop := testkit.Open(t)
	b := shop.Browser()
	ctx := context.Background()
	assert.Contains(t, b.Get("/night-flight").Body, " f-opening ")
	shop.Exec(`INSERT INTO editions (id, campaign_id, number, content, published_at, published_by)
		SELECT 'made-before', campaign_id, 99, content - 'composition', published_at, 'Marta' FROM editions WHERE id = (SELECT live_edition_id FROM campaigns WHERE id = 'frost-lanterns')`)
	_, err := shop.App.Publishing.PutBack(ctx, "frost-lanterns", "made-before")
	require.NoError(t, err)
	shop.Forget()
	old := b.Get("/night-flight").Body
	assert.NotContains(t, old, " f-opening ")
	assert.NotContains(t, old, `id="bar"`)
	assert.Contains(t, old, `<section class="band night" id="band-opening"`)

	state, err := shop.App.Publishing.State(ctx, "frost-lanterns")
	require.NoError(t, err)
	assert.True(t, state.Recomposed())
	assert.Equal(t, compose.First, state.Live.Composition)
	assert.Positive(t, state.Differs(), "so that it can go out anew though nobody changed a word")
	_, err = shop.App.Publishing.Publish(ctx, "frost-lanterns", "Marta")
	require.NoError(t, err)
	shop.Forget()
	assert.Contains(t, b.Get("/night-flight").Body, " f-opening ")
	state, err = shop.App.Publishing.State(ctx, "frost-lanterns")
	require.NoError(t, err)
	assert.False(t, state.Recomposed())
}

// What a page's style names is there, for whoever asks, and can be kept for ever.
func TestScenesAreServed(t *testing.T) {
	shop := testkit.Open(t)
	b := shop.Browser()
	paths := regexp.MustCompile(`/scenes/[a-z0-9.-]+svg`).FindAllString(b.Get("/night-flight").Body, -1)
	require.GreaterOrEqual(t, len(paths), 2, "one for a phone, one for a wide screen")
	for _, path := range paths {
		p := b.Get(path)
		assert.Equal(t, http.StatusOK, p.Status)
		assert.True(t, strings.HasPrefix(p.Body, "<svg"), path)
		assert.Contains(t, p.Header.Get("Cache-Control"), "immutable")
		assert.Equal(t, "image/svg+xml", p.Header.Get("Content-Type"))
	}
	assert.Equal(t, http.StatusNotFound, b.Get("/scenes/none.wide.00000000.17332effffff.svg").Status)
}
