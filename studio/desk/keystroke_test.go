package desk_test

import (
	"context"
	"maps"
	"slices"
	"testing"
	"time"

	"chrysagon/core/manuscript"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A key typed asks the database little and is answered with what changed: the band of
// the word, and no other.
func TestAKeyTypedCostsLittle(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	listening, end := context.WithCancel(context.Background())
	t.Cleanup(end)
	go shop.App.News.Listen(listening)
	require.Eventually(t, func() bool { _, heard := shop.App.News.Age(""); return heard }, 10*time.Second, 5*time.Millisecond)
	var has []string
	lines := map[string]string{}
	revision := float64(0)
	typed := func(text string) (statements int64, size int, bands []string) {
		before := shop.Store.Watch.Asked()
		answer := d.Command("night-flight", map[string]any{
			"command": manuscript.Command{Op: manuscript.SetField, Piece: "headline", Field: "text", Value: text}, "joins": true, "revision": revision, "has": has,
		})
		statements = shop.Store.Watch.Asked() - before
		require.Equal(t, 200, answer.Status, answer.Body)
		told := answer.JSON(t)
		revision = told["revision"].(float64)
		proof := told["proof"].(map[string]any)
		now := []string{proof["css"].(map[string]any)["tag"].(string)}
		for _, b := range proof["bands"].([]any) {
			band := b.(map[string]any)
			now = append(now, band["tag"].(string))
			if _, drawn := band["html"]; drawn {
				bands = append(bands, band["id"].(string))
			}
		}
		for _, l := range told["telling"].([]any) {
			lines[l.(map[string]any)["id"].(string)] = l.(map[string]any)["tag"].(string)
		}
		has = slices.AppendSeq(now, maps.Values(lines))
		return statements, len(answer.Body), bands
	}
	typed("Thirty grams of ligh")
	typed("Thirty grams of lig")
	statements, size, bands := typed("Thirty grams of li")
	assert.LessOrEqual(t, statements, int64(6))
	assert.LessOrEqual(t, size, 4<<10)
	assert.Len(t, bands, 1)
}
