package manuscript_test

import (
	"strings"
	"testing"

	m "chrysagon/core/manuscript"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestTheHistorySaysWhatWasDone(t *testing.T) {
	p := page(band("hero", heading("h", "Fly")))
	p.Bands[0].Name = "Opening"
	title := schema["heading"].Title
	for said, c := range map[string]m.Command{
		"wrote “Fly by night” in " + title + " in “Opening”":                     {Op: m.SetField, Piece: "h", Field: "text", Value: "Fly  by\nnight"},
		"wrote “" + strings.Repeat("é", 60) + "…” in " + title + " in “Opening”": {Op: m.SetField, Piece: "h", Field: "text", Value: strings.Repeat("é", 61)},
		"emptied " + title + " in “Opening”":                                     {Op: m.SetField, Piece: "h", Field: "text", Value: ""},
		"changed a piece that is gone":                                           {Op: m.SetField, Piece: "gone", Field: "text", Value: "x"},
		"set at zero of “Opening” to “hide”":                                     {Op: m.SetBand, ID: "hero", Field: "at_zero", Value: "hide"},
		"moved a band that is gone":                                              {Op: m.MoveBand, ID: "gone"},
		"dressed " + title + " in “Opening”":                                     {Op: m.Dress, Looks: []m.LookAt{{ID: "h"}}},
		"dressed the page":                                                       {Op: m.Dress, Looks: []m.LookAt{{}}},
		"dressed 2 bands and pieces":                                             {Op: m.Dress, Looks: []m.LookAt{{ID: "h"}, {ID: "hero"}}},
	} {
		assert.Equal(t, said, schema.Tell(p, c))
	}
	rapid.Check(t, func(t *rapid.T) {
		assert.NotEmpty(t, schema.Tell(p, drawCommand(t, p, 0)), "every command can be told")
	})
}
