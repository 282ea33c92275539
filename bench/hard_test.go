package main

import (
	"testing"

	"chrysagon/core/offer"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What is measured as hard is computed, and costs the buyer something.
func TestTheHardestCartsAreComputed(t *testing.T) {
	for name, in := range hardest() {
		q, err := offer.Compute(in)
		require.NoError(t, err, name)
		assert.Positive(t, q.Total.Minor, name)
	}
}
