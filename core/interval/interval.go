// Package interval says how far a measured rate may be from the true one.
package interval

import "math"

// Z95 is the standard normal quantile for 95 per cent, both sides.
const Z95 = 1.959963984540054

// Interval is where a proportion lies, with the confidence that was asked for.
type Interval struct {
	Low  float64 `json:"low"`
	High float64 `json:"high"`
}

// Wilson is the score interval of a proportion, hits of n, without correction for
// continuity: E. B. Wilson, "Probable inference, the law of succession, and statistical
// inference", Journal of the American Statistical Association 22 (1927). Of nothing,
// nothing is known: 0 to 1.
func Wilson(hits, n int, z float64) Interval {
	if n <= 0 {
		return Interval{0, 1}
	}
	p, m := float64(hits)/float64(n), float64(n)
	middle := (p + z*z/(2*m)) / (1 + z*z/m)
	half := z / (1 + z*z/m) * math.Sqrt(p*(1-p)/m+z*z/(4*m*m))
	return Interval{max(0, middle-half), min(1, middle+half)}
}

// Difference is the interval of the difference of two proportions, a of n less b of
// m, by the hybrid of two score intervals: R. G. Newcombe, "Interval estimation for the
// difference between independent proportions: comparison of eleven methods", Statistics
// in Medicine 17 (1998), method 10.
func Difference(a, n, b, m int, z float64) Interval {
	if n <= 0 || m <= 0 {
		return Interval{-1, 1}
	}
	p, q := float64(a)/float64(n), float64(b)/float64(m)
	x, y := Wilson(a, n, z), Wilson(b, m, z)
	return Interval{
		p - q - math.Hypot(p-x.Low, y.High-q),
		p - q + math.Hypot(x.High-p, q-y.Low),
	}
}
