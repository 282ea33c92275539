package check

import (
	"testing"

	m "chrysagon/core/manuscript"

	"github.com/stretchr/testify/assert"
)

func TestCallsThatDoNotSayWhatFollows(t *testing.T) {
	button := m.Kind{Name: "button", Traits: m.Traits{Button: true, Calls: func(f m.Fields) []m.Call { return []m.Call{{Says: f.Text("label"), Target: "home"}} }}}
	found := func(label string) int {
		return len(vague(Page{Schema: m.Schema{"button": button}, Manuscript: m.Page{Bands: []m.Band{{ID: "b", Columns: []m.Column{{Pieces: []m.Piece{{ID: "p", Kind: "button", Fields: m.Fields{"label": label}}}}}}}}}))
	}
	for _, label := range []string{"Click here", "here", "READ MORE", "More …", " Submit! ", "Learn more →"} {
		assert.Equal(t, 1, found(label), label)
	}
	for _, label := range []string{"", "Send me my lantern kite", "More about the lantern", "Here comes the wind", "Order"} {
		assert.Zero(t, found(label), label)
	}
}
