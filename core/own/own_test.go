package own_test

import (
	"fmt"
	"strings"
	"testing"

	"chrysagon/core/own"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestOwnCodeThatWouldLeaveItsElementIsRefused(t *testing.T) {
	for _, bad := range []own.Snippet{
		{Name: "", Kind: own.Styles, Text: "a{}"},
		{Name: "empty", Kind: own.Styles, Text: "  "},
		{Name: "ends the style", Kind: own.Styles, Text: "a{} </style><script>alert(1)</script>"},
		{Name: "ends the script", Kind: own.Head, Text: `x = "</ScRiPt>"`},
		{Name: "comment", Kind: own.Foot, Text: "x = '<!-- <script>'"},
		{Name: "nul", Kind: own.Foot, Text: "a\x00b"},
		{Name: "not text", Kind: own.Foot, Text: "a\xffb"},
		{Name: "long", Kind: own.Foot, Text: strings.Repeat("a", own.MaxText+1)},
		{Name: "plain http", Kind: own.Measure, Text: "http://count.example/tag.js"},
		{Name: "a policy of its own", Kind: own.Measure, Text: "https://count.example;script-src *"},
		{Name: "who", Kind: own.Measure, Text: "https://a:b@count.example/tag.js"},
		{Name: "no host", Kind: own.Measure, Text: "https:///tag.js"},
		{Name: "a script", Kind: own.Measure, Text: "javascript:alert(1)"},
		{Name: "unknown", Kind: "body", Text: "a"},
	} {
		err := own.Code{bad}.Validate()
		require.ErrorContains(t, err, "own code “"+bad.Name+"”", bad.Name)
	}
	many := make(own.Code, own.MaxSnippets+1)
	require.ErrorContains(t, many.Validate(), fmt.Sprint(own.MaxSnippets))
}

func TestOwnCodeIsSortedByWhereItStands(t *testing.T) {
	code := own.Code{
		{Name: "Wide quotes", Kind: own.Styles, Text: " blockquote{max-width:none} "},
		{Name: "Footfall", Kind: own.Measure, Text: "https://count.example/tag.js?id=7"},
		{Name: "Footfall, second", Kind: own.Measure, Text: "https://count.example/more.js"},
		{Name: "Confetti", Kind: own.Foot, Text: "if (1 < 2) document.title += '!'"},
	}
	require.NoError(t, code.Validate())
	assert.Equal(t, []string{"blockquote{max-width:none}"}, code.Texts(own.Styles))
	assert.Equal(t, []string{"https://count.example"}, code.Origins(), "each service once")
	assert.Empty(t, code.Texts(own.Head))
	assert.Equal(t, "“Confetti” (a script at the foot)", code.Names()[3])
}
