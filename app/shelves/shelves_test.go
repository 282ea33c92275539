package shelves_test

import (
	"context"
	"testing"

	"chrysagon/core/goods"
	"chrysagon/core/shelf"
	"chrysagon/internal/testkit"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

func TestShelvesAreLookedAtWhileTheyAreWritten(t *testing.T) {
	shop := testkit.Open(t)
	eighty, ten := decimal.NewFromInt(8000), decimal.NewFromInt(1000)
	s := shelf.Shelf{Rule: shelf.Rule{All: []shelf.Rule{{Field: shelf.Condition, Is: []goods.Value{goods.TextOf("returned"), goods.TextOf("ex-demo")}}, {Field: shelf.Price, AtMost: &eighty}}}}
	st, err := shop.App.Shelves.Evaluate(ctx, s)
	require.NoError(t, err)
	assert.Equal(t, 3, st.Count)
	s.Rule.All[1].AtMost = &ten
	st, err = shop.App.Shelves.Evaluate(ctx, s)
	require.NoError(t, err)
	assert.Contains(t, st.Warning, "Nothing stands on this shelf")
	assert.Contains(t, st.Loosen[0].Say+st.Loosen[1].Say, "at most €23.00”: 1 product then.")
	_, err = shop.App.Shelves.SaveShelf(ctx, "", " ", s)
	require.ErrorContains(t, err, "name")
}
