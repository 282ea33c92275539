package check

import (
	"testing"

	"chrysagon/core/facts"
	"chrysagon/core/manuscript"

	"github.com/stretchr/testify/assert"
)

func TestKeywordsPartedByAnotherSignAreNoticed(t *testing.T) {
	p := Page{}
	for text, want := range map[string]string{"kites; gifts | winter": "kites, gifts, winter", "kites/gifts;": "kites, gifts", "night kites, gifts": "", "": ""} {
		p.Manuscript.Sharing.Keywords = text
		found := keywords(p)
		if want == "" {
			assert.Empty(t, found, text)
			continue
		}
		assert.Equal(t, want, found[0].Mend.Value, text)
	}
}

// Whatever is connected or not, a page promises only what a service does.
func TestWhatIsNotConnectedIsNotPromised(t *testing.T) {
	piece := func(kind string, fields manuscript.Fields) manuscript.Page {
		return manuscript.Page{Bands: []manuscript.Band{{ID: "b", Columns: []manuscript.Column{{Pieces: []manuscript.Piece{{ID: "p", Kind: kind, Fields: fields}}}}}}}
	}
	for _, c := range []struct {
		kind             string
		fields           manuscript.Fields
		unpaid, unmailed int
	}{
		{"checkout", nil, 1, 0}, {"answer", nil, 1, 0}, {"appointment", nil, 0, 1}, {"form", manuscript.Fields{"asks": "message"}, 0, 1},
		{"form", manuscript.Fields{"asks": "opt_in", "gives": "file:x"}, 0, 1}, {"form", manuscript.Fields{"asks": "newsletter"}, 0, 0}, {"text", nil, 0, 0},
	} {
		p := Page{Manuscript: piece(c.kind, c.fields)}
		assert.Empty(t, connected(p), c.kind)
		p.Facts.Store = facts.Store{Unpaid: true}
		assert.Len(t, connected(p), c.unpaid, c.kind)
		p.Facts.Store = facts.Store{Unmailed: true}
		assert.Len(t, connected(p), c.unmailed, c.kind)
	}
}
