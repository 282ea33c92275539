package check_test

import (
	"strings"
	"testing"

	"chrysagon/core/check"
	"chrysagon/core/facts"
	"chrysagon/core/manuscript"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// found are the findings of a page that say something.
func found(p check.Page, says ...string) []check.Finding {
	var out []check.Finding
	for _, f := range check.Run(p) {
		for _, one := range says {
			if strings.Contains(f.What, one) {
				out = append(out, f)
			}
		}
	}
	return out
}

func TestKeywordsPartedByAnotherSignAreNoticed(t *testing.T) {
	p := check.Page{}
	for text, want := range map[string]string{"kites; gifts | winter": "kites, gifts, winter", "kites/gifts;": "kites, gifts", "night kites, gifts": "", "": ""} {
		p.Manuscript.Sharing.Keywords = text
		list := found(p, "keywords are not parted")
		if want == "" {
			assert.Empty(t, list, text)
			continue
		}
		require.Len(t, list, 1, text)
		assert.Equal(t, want, list[0].Mend.Value, text)
	}
}

// Whatever is connected or not, a page promises only what a service does.
func TestWhatIsNotConnectedIsNotPromised(t *testing.T) {
	connected := func(p check.Page) []check.Finding {
		return found(p, "No payment gateway is connected", "no mail server is set")
	}
	for _, c := range []struct {
		kind             string
		fields           manuscript.Fields
		unpaid, unmailed int
	}{
		{"checkout", nil, 1, 0}, {"answer", nil, 1, 0}, {"appointment", nil, 0, 1}, {"form", manuscript.Fields{"asks": "message"}, 0, 1},
		{"form", manuscript.Fields{"asks": "opt_in", "gives": "file:x"}, 0, 1}, {"form", manuscript.Fields{"asks": "newsletter"}, 0, 0}, {"text", nil, 0, 0},
	} {
		p := check.Page{Schema: schema(), Manuscript: manuscript.Page{Bands: []manuscript.Band{{ID: "b", Columns: []manuscript.Column{{
			Pieces: []manuscript.Piece{{ID: "p", Kind: c.kind, Fields: c.fields}},
		}}}}}}
		assert.Empty(t, connected(p), c.kind)
		p.Facts.Store = facts.Store{Unpaid: true}
		assert.Len(t, connected(p), c.unpaid, c.kind)
		p.Facts.Store = facts.Store{Unmailed: true}
		assert.Len(t, connected(p), c.unmailed, c.kind)
	}
}
