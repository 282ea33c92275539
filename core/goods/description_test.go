package goods_test

import (
	"strings"
	"testing"

	"chrysagon/core/goods"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestDescriptionsAreCopy(t *testing.T) {
	for text, kept := range map[string]string{
		"":                                      "",
		"  Two spars, one line.\nIt forgives. ": "Two spars, one line.\nIt forgives.",
		"<p>Fly it <script>go()</script><b>high</b></p>":                                 "<p>Fly it <b>high</b></p>",
		`<p><a href="https://wind.example">wind</a></p>`:                                 `<p><a href="https://wind.example">wind</a></p>`,
		`<p><a href="MAILTO:a@gustwell.example">write</a></p>`:                           `<p><a href="MAILTO:a@gustwell.example">write</a></p>`,
		`<p><a href="javascript:go()">a</a> <a href="page:x">b</a> <a href="">c</a></p>`: "<p>a b c</p>",
		"<h1>In the box</h1><ul><li>Line":                                                "<h3>In the box</h3><ul><li>Line</li></ul>",
		"one \xff two":                                                                   "one  two",
	} {
		said, err := goods.Description(text)
		require.NoError(t, err, text)
		assert.Equal(t, kept, said)
		again, err := goods.Description(said)
		require.NoError(t, err)
		assert.Equal(t, said, again)
	}
	_, err := goods.Description(strings.Repeat("é", goods.MaxDescription))
	require.NoError(t, err, "counted in characters")
	_, err = goods.Description(strings.Repeat("é", goods.MaxDescription+1))
	require.ErrorContains(t, err, "20,000 characters")
}

func TestAttributesInWords(t *testing.T) {
	assert.Equal(t, "90 cm", goods.Attribute{Unit: "cm"}.Words(goods.NumberOf("90")))
	assert.Equal(t, "yes", goods.Attribute{}.Words(goods.YesOf(true)))
	assert.Equal(t, "beginner", goods.Attribute{}.Words(goods.TextOf("beginner")))
}
