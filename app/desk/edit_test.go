package desk_test

import (
	"context"
	"encoding/json"
	"testing"

	"chrysagon/core/manuscript"
	"chrysagon/core/refusal"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

// an undo may put an empty page back.
func TestAPageIsNotEmptiedByMistake(t *testing.T) {
	shop := testkit.Open(t)
	before, err := shop.App.Drafts.Draft(ctx, "night-flight")
	require.NoError(t, err)
	for what, c := range map[string]manuscript.Command{
		"no bands":    {Op: manuscript.Replace},
		"empty bands": {Op: manuscript.Replace, Bands: []manuscript.Band{}},
		"among more":  {Op: manuscript.Several, Steps: []manuscript.Command{{Op: manuscript.Replace}}},
	} {
		_, err := shop.App.Desk.Edit(ctx, "marta", "night-flight", c, false)
		require.ErrorIs(t, err, refusal.ErrInvalid, what)
		after, err := shop.App.Drafts.Draft(ctx, "night-flight")
		require.NoError(t, err)
		assert.Equal(t, before.Tree, after.Tree, what)
	}
	schema := shop.App.Render.Registry.Schema()
	empty := manuscript.Page{Version: manuscript.Version, Bands: []manuscript.Band{}}
	full, back, err := schema.Apply(empty, manuscript.Command{Op: manuscript.Replace, Bands: before.Tree.Bands})
	require.NoError(t, err)
	raw, err := json.Marshal(back)
	require.NoError(t, err)
	var kept manuscript.Command
	require.NoError(t, json.Unmarshal(raw, &kept))
	again, _, err := schema.Apply(full, kept)
	require.NoError(t, err)
	assert.Empty(t, again.Bands)
}
