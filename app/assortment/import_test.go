package assortment_test

import (
	"strings"
	"testing"
	"time"

	"chrysagon/app/assortment"
	"chrysagon/core/refusal"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A table far wider than any list of goods is refused before it is kept.
func TestAVeryWideTableIsNotKept(t *testing.T) {
	shop := testkit.Open(t)
	wide := "sku,name" + strings.Repeat(",x", 200_000) + "\nGK-1,Kite\n"
	_, err := shop.App.Goods.KeepImport(ctx, "marta", "wide.csv", []byte(wide))
	require.ErrorIs(t, err, refusal.ErrInvalid)
	require.ErrorContains(t, err, "200002 columns, and at most 400")
	assert.Zero(t, shop.Number("SELECT count(*) FROM imports"))
}

// An import's progress is read from the database, by whichever program is asked.
func TestProgressIsSeenByAnotherProgram(t *testing.T) {
	shop := testkit.Open(t)
	other := &assortment.Assortment{Store: shop.Store.By(shop.Clock.Now)}
	d := handIn(t, shop, "sku,name,price\nNEW-1,Skylark,39.90\n")
	_, err := other.ImportUnderway(ctx, d.ID)
	require.ErrorIs(t, err, refusal.ErrNotFound)
	_, err = shop.App.Goods.BeginImport(ctx, d.ID)
	require.NoError(t, err)
	p, err := other.ImportUnderway(ctx, d.ID)
	require.NoError(t, err)
	assert.Equal(t, "Beginning", p.Step)
	shop.Clock.Advance(10 * time.Minute)
	p, err = other.ImportUnderway(ctx, d.ID)
	require.NoError(t, err)
	assert.Contains(t, p.Failed, "has stopped", "its program was killed")
	mine, err := other.BeginImport(ctx, d.ID)
	require.NoError(t, err)
	assert.True(t, mine, "so that it can be begun again")
	require.NoError(t, other.FailImport(ctx, d.ID, "No."))
	p, err = shop.App.Goods.ImportUnderway(ctx, d.ID)
	require.NoError(t, err)
	assert.Equal(t, "No.", p.Failed)
}
