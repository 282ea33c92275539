package style

import (
	"fmt"
	"math"
	"strings"
)

// rimHeight is how deep an upper edge is cut, in hundredths of the screen's width.
const rimHeight = 2.4

// rim cuts the upper edge of a band and lets what is above it show: the band comes up by
// as much as is cut away. It is a polygon, so that it holds on any ground, colour, picture
// or scene, and what laps over the other edges of the band stays whole.
func rim(value string) string {
	cut := RimDepth(value)
	if cut == nil {
		return "clip-path:none;margin-top:0"
	}
	var points []string
	const many = 48
	for i := range many + 1 {
		x := float64(i) / many
		points = append(points, fmt.Sprintf("%s%% %svw", short(100*x), short(rimHeight*cut(x))))
	}
	return fmt.Sprintf("position:relative;margin-top:-%svw;clip-path:polygon(%s,100%% calc(100%% + 50vh),0 calc(100%% + 50vh))", short(rimHeight), strings.Join(points, ","))
}

// RimDepth is how much of the edge is cut away at a place from 0 to 1 across, from 0 to 1;
// nil where nothing is.
func RimDepth(value string) func(x float64) float64 {
	switch value {
	case "wave":
		return func(x float64) float64 { return 0.5 + 0.5*math.Sin(2*math.Pi*1.5*x) }
	case "torn":
		return ragged
	case "slope":
		return func(x float64) float64 { return x }
	case "hill":
		return func(x float64) float64 { return (2*x - 1) * (2*x - 1) }
	case "scallops":
		return func(x float64) float64 { return 0.8 * (1 - math.Abs(math.Sin(math.Pi*8*x))) }
	case "points":
		return func(x float64) float64 { return 0.6 * math.Abs(2*(12*x-math.Floor(12*x+0.5))) }
	}
	return nil
}

// ragged is an edge as paper tears: slow turns with quick ones on them, the same each time.
func ragged(x float64) float64 {
	y := 0.45 + 0.2*math.Sin(7.1*x+0.6) + 0.16*math.Sin(23.7*x+2.1) + 0.12*math.Sin(61.3*x+4)
	return min(max(y, 0), 1)
}

// torn is a shape with a torn edge at its foot.
func torn() string {
	var points []string
	const many = 24
	for i := range many + 1 {
		x := float64(i) / many
		points = append(points, fmt.Sprintf("%s%% %s%%", short(100*x), short(100-6*ragged(x))))
	}
	return "polygon(100% 0,0 0," + strings.Join(points, ",") + ")"
}

// short writes a number with two digits after the point, or as few as it needs.
func short(n float64) string {
	return strings.TrimSuffix(strings.TrimRight(fmt.Sprintf("%.2f", n), "0"), ".")
}
