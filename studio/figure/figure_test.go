package figure_test

import (
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"strings"
	"testing"

	"chrysagon/core/manuscript"
	"chrysagon/core/style"
	"chrysagon/pieces/all"
	"chrysagon/studio/figure"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func Example() {
	fmt.Println(figure.Of("corner", "none"))
	// Output:
	// <svg class="figure" viewBox="0 0 44 30" width="44" height="30" aria-hidden="true"><rect x="6" y="6" width="32" height="18" rx="0" fill="currentColor" opacity=".35"/></svg>
}

// Whatever is chosen from a list of looks is chosen by sight: each value has a figure, which
// is sound XML and unlike those beside it.
func TestEveryChoiceHasAFigureOfItsOwn(t *testing.T) {
	held := func(name string, choices []style.Choice) {
		seen := map[string]string{}
		for _, c := range choices {
			drawn := string(figure.Of(name, c.Value))
			require.NotEmpty(t, drawn, "%s: %s", name, c.Value)
			assert.Empty(t, seen[drawn], "%s: %s is drawn alike", name, c.Value)
			seen[drawn] = c.Value
			assert.NotContains(t, drawn, "NaN")
			read := xml.NewDecoder(strings.NewReader(drawn))
			for {
				_, err := read.Token()
				if errors.Is(err, io.EOF) {
					break
				}
				require.NoError(t, err, "%s: %s", name, drawn)
			}
		}
	}
	for _, p := range style.Properties {
		if p.Kind == style.IsChoice {
			held(p.Name, p.Choices)
		}
	}
	for _, s := range style.Settings {
		held(s.Name, s.Choices)
	}
	var tones, columns []style.Choice
	for _, t := range manuscript.Tones {
		tones = append(tones, style.Choice{Value: string(t)})
	}
	for _, p := range manuscript.Proportions {
		columns = append(columns, style.Choice{Value: fmt.Sprint(p)})
	}
	held("band.tone", tones)
	held("band.columns", columns)
	registry, err := all.Registry()
	require.NoError(t, err)
	sighted := 0
	for _, name := range registry.Names() {
		kind, _ := registry.Kind(name)
		for _, f := range kind.Fields {
			var choices []style.Choice
			for _, o := range f.Options {
				if figure.Of(name+"."+f.Name, o.Value) != "" {
					choices = append(choices, style.Choice{Value: o.Value})
				}
			}
			if f.Type == manuscript.Choice && len(choices) > 0 {
				sighted++
				held(name+"."+f.Name, choices)
			}
		}
	}
	assert.Equal(t, 12, sighted, "fields of pieces whose choices are seen")
	assert.Empty(t, figure.Of("nothing", "of the kind"))
}
