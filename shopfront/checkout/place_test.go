package checkout_test

import (
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
)

// What a checkout's form misses is said by field, to scripts as to people, and
// nothing is asked of the till.
func TestWhatTheFormMisses(t *testing.T) {
	shop := testkit.Open(t)
	b := shop.Browser()
	form := b.Form(b.Get("/night-flight"), b.Card("9200000000000017"))
	form.Set("email", "ines")
	told := b.Post("/night-flight/checkout", form, "application/json")
	errs, _ := told.JSON(t)["errors"].(map[string]any)
	assert.NotEmpty(t, errs["email"])
	shown := b.Post("/night-flight/checkout", form, "")
	assert.Contains(t, shown.Body, `value="ines"`, "what was typed is kept")
	assert.Zero(t, shop.Number("SELECT count(*) FROM payments WHERE state <> 'charged'"))
}
