package house_test

import (
	"context"
	"testing"

	"chrysagon/core/refusal"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The tables of tax and delivery come back as they are given, and what is faulty
// leaves what stood.
func TestTablesOfRatesComeBack(t *testing.T) {
	ctx := context.Background()
	c := testkit.Use(t)
	was, err := c.House.Rates(ctx)
	require.NoError(t, err)
	require.NoError(t, c.House.SaveTax(ctx, was.TaxCSV))
	require.NoError(t, c.House.SaveShipping(ctx, was.ShipCSV))
	is, err := c.House.Rates(ctx)
	require.NoError(t, err)
	assert.Equal(t, was.TaxCSV, is.TaxCSV)
	assert.Equal(t, was.ShipCSV, is.ShipCSV)

	for _, bad := range []string{"country\nPT", "country,percent\nPT,much", "country,class,percent,name\nXX,standard,23,IVA"} {
		require.ErrorIs(t, c.House.SaveTax(ctx, bad), refusal.ErrInvalid, "%q", bad)
		require.ErrorIs(t, c.House.SaveShipping(ctx, bad), refusal.ErrInvalid, "%q", bad)
	}
	is, err = c.House.Rates(ctx)
	require.NoError(t, err)
	assert.Equal(t, was.TaxCSV, is.TaxCSV)
	assert.Equal(t, was.ShipCSV, is.ShipCSV)
}
