package find_test

import (
	"context"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Each kind of thing is found by what its owner calls it.
func TestFinding(t *testing.T) {
	ctx := context.Background()
	c := testkit.Use(t)
	for question, want := range map[string][2]string{
		"night fl": {"page", "/pages/night-flight"}, "Gull": {"product", "/goods/gull"}, "gk-gul-90": {"SKU", "/goods/gull"}, "lantern w": {"offer", "/offers?offer=lantern-week"},
		"light wind": {"shelf", "/shelves?shelf=light-wind"}, "#1001": {"order", "/orders/"}, "quiver": {"product", "/goods/quiver"},
	} {
		found, err := c.Find.Find(ctx, question)
		require.NoError(t, err)
		seen := false
		for _, s := range found {
			seen = seen || s.Kind == want[0] && len(s.Path) >= len(want[1]) && s.Path[:len(want[1])] == want[1]
		}
		assert.True(t, seen, "%s: %+v", question, found)
	}
	for _, nothing := range []string{"", "  ", "%", "_", `\`, "zeppelin", "'; DROP TABLE pages; --"} {
		found, err := c.Find.Find(ctx, nothing)
		require.NoError(t, err)
		assert.Empty(t, found, "%q", nothing)
	}
}
