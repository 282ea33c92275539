package interval_test

import (
	"fmt"
	"testing"

	"chrysagon/core/interval"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// R. G. Newcombe, "Two-sided confidence intervals for the single proportion", Statistics in
// Medicine 17 (1998), table I, method 3, at 95 per cent. Values from memory.
func TestNewcombesSingleProportions(t *testing.T) {
	for _, c := range []struct {
		hits, n   int
		low, high float64
	}{{81, 263, 0.2553, 0.3662}, {15, 148, 0.0624, 0.1605}, {0, 20, 0, 0.1611}, {1, 29, 0.0061, 0.1718}} {
		got := interval.Wilson(c.hits, c.n, interval.Z95)
		assert.InDelta(t, c.low, got.Low, 0.00005, "%d of %d", c.hits, c.n)
		assert.InDelta(t, c.high, got.High, 0.00005, "%d of %d", c.hits, c.n)
	}
}

// R. G. Newcombe's paper on differences (1998), table II, method 10, at 95 per cent.
// Values from memory.
func TestNewcombesDifferences(t *testing.T) {
	for _, c := range []struct {
		a, n, b, m int
		low, high  float64
	}{{56, 70, 48, 80, 0.0524, 0.3339}, {9, 10, 3, 10, 0.1705, 0.8090}, {10, 10, 0, 10, 0.6075, 1}} {
		got := interval.Difference(c.a, c.n, c.b, c.m, interval.Z95)
		assert.InDelta(t, c.low, got.Low, 0.00006, "%+v", c)
		assert.InDelta(t, c.high, got.High, 0.00006, "%+v", c)
	}
}

// An interval holds its rate, lies between 0 and 1, and is narrower the more is known.
func TestIntervalsAreSound(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(0, 100_000).Draw(t, "n")
		hits := rapid.IntRange(0, n).Draw(t, "hits")
		i := interval.Wilson(hits, n, interval.Z95)
		assert.LessOrEqual(t, 0.0, i.Low)
		assert.LessOrEqual(t, i.High, 1.0)
		if n == 0 {
			return
		}
		p := float64(hits) / float64(n)
		assert.LessOrEqual(t, i.Low, p+1e-12)
		assert.GreaterOrEqual(t, i.High, p-1e-12)
		more := interval.Wilson(hits*10, n*10, interval.Z95)
		assert.Less(t, more.High-more.Low, i.High-i.Low)
	})
}

func ExampleWilson() {
	i := interval.Wilson(15, 148, interval.Z95)
	fmt.Printf("%.1f %% to %.1f %%\n", 100*i.Low, 100*i.High)
	// Output: 6.2 % to 16.0 %
}
