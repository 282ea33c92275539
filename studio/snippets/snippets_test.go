package snippets_test

import (
	"testing"

	"chrysagon/core/own"
	"chrysagon/studio/snippets"

	"github.com/stretchr/testify/assert"
)

// The form holds what there is and one empty line more, without touching what it was
// made from, which goes along to be merged with.
func TestTheFormHasALineMore(t *testing.T) {
	code := own.Code{{Name: "Measure", Kind: own.Styles, Text: "a{}"}}
	form := snippets.OwnForm("/pages/p/own", code)
	assert.Len(t, form["Code"], 2)
	assert.Len(t, code, 1)
	assert.JSONEq(t, `[{"name":"Measure","kind":"styles","text":"a{}"}]`, form["Was"].(string))
	assert.Equal(t, true, form["Any"])
	assert.Equal(t, "null", snippets.OwnForm("/own", nil)["Was"])
}
