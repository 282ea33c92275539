package check_test

import (
	"slices"
	"strings"
	"testing"

	"chrysagon/core/check"
	m "chrysagon/core/manuscript"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What a checkout lacks, and what it asks that its sale does not need, is said; what a
// press mends is mended by it.
func TestWhatACheckoutAsks(t *testing.T) {
	for name, c := range map[string]struct {
		fields m.Fields
		says   string
		grave  check.Gravity
		mends  bool
	}{
		"address left out":   {m.Fields{"product": "ember", "address": "absent"}, "leaves the address out", check.Stops, true},
		"no name":            {m.Fields{"product": "ember", "name": "absent"}, "needs the name of somebody", check.Mend, true},
		"phone":              {m.Fields{"product": "ember", "phone": "needed"}, "without a phone number, which", check.Notice, true},
		"much":               {m.Fields{"product": "ember", "phone": "needed", "tax": "needed", "company": "needed"}, "a phone number, a company and a tax number", check.Notice, false},
		"a choice of none":   {m.Fields{"product": "ember", "questions": []any{map[string]any{"says": "Which hand?", "kind": "choice", "options": " / "}}}, "nothing to choose", check.Mend, false},
		"an empty option":    {m.Fields{"product": "ember", "options": []any{map[string]any{"product": "ember"}, map[string]any{"words": "Two"}}}, "names no product, so", check.Mend, false},
		"itself as a bump":   {m.Fields{"product": "ember", "bumps": []any{map[string]any{"product": "ember"}}}, "stands as an order bump too", check.Mend, false},
		"a bump that is not": {m.Fields{"product": "ember", "bumps": []any{map[string]any{"product": "nowhere"}}}, "names no product that there is", check.Mend, false},
	} {
		t.Run(name, func(t *testing.T) {
			p := sound()
			order := &p.Manuscript.Bands[0].Columns[0].Pieces[4]
			order.Fields = c.fields
			var found []check.Finding
			for _, f := range check.Run(p) {
				if f.PieceID == order.ID && assert.NotEmpty(t, f.Remedy) {
					found = append(found, f)
				}
			}
			at := -1
			for i, f := range found {
				if strings.Contains(f.What, c.says) {
					at = i
				}
			}
			if !assert.GreaterOrEqual(t, at, 0, "%v", found) {
				return
			}
			assert.Equal(t, c.grave, found[at].Gravity)
			assert.Equal(t, c.mends, found[at].Mend != nil)
			if c.mends {
				order.Fields[found[at].Mend.Field] = found[at].Mend.Value
				for _, f := range check.Run(p) {
					assert.NotContains(t, f.What, c.says, "after the press")
				}
			}
		})
	}
}

// A checkout stands where a path goes on after it; the remedy fits the page.
func TestACheckoutOffASalesPage(t *testing.T) {
	for of, remedy := range map[string]string{"shelf": "“List with checkout”", "bridge": "Make a sales page", "sales": "", "product": ""} {
		p := sound()
		p.Purpose = of
		i := slices.IndexFunc(check.Run(p), func(f check.Finding) bool { return strings.Contains(f.What, "no sales page") })
		if remedy == "" {
			assert.Negative(t, i, of)
			continue
		}
		require.GreaterOrEqual(t, i, 0, of)
		found := check.Run(p)[i]
		assert.Equal(t, check.Stops, found.Gravity)
		assert.Contains(t, found.Remedy, remedy)
	}
}
