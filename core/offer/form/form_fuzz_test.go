package form_test

import (
	"testing"

	"chrysagon/core/offer"
	"chrysagon/core/offer/form"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Whatever is typed, a form is read without a panic, and what is not refused is
// an offer that core computes with.
func FuzzForm(f *testing.F) {
	f.Add("steps", "3: 10%, 6: 20%", "2", "goods", "PT", "2026-11-20T09:00")
	f.Add("set", "ember×2, line-30", "", "all", "", "")
	f.Add("buy_get", "999999", "-1", "shelf", "Atlantis", "soon")
	f.Fuzz(func(t *testing.T, kind, typed, number, covers, countries, starts string) {
		in := form.Input{
			Name: "Frost", Kind: kind, Covers: covers, ShelfID: "night", Goods: []string{"ember"}, MinQuantity: number, MaxUses: number, Countries: countries, Starts: starts,
			Members: map[string]string{},
		}
		for _, m := range offer.Kind(kind).Members() {
			in.Members[m.Name] = typed
		}
		in.Named()
		o, _, faults := form.Read(in, known)
		if len(faults) == 0 {
			require.NoError(t, o.Validate("EUR"))
		}
		for field, say := range faults {
			assert.NotEmpty(t, say, field)
		}
	})
}
