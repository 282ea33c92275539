package own_test

import (
	"testing"

	"chrysagon/core/own"

	"github.com/stretchr/testify/assert"
)

func TestTwoPeoplesCodeIsBroughtTogether(t *testing.T) {
	one := func(name, text string) own.Snippet { return own.Snippet{Name: name, Kind: own.Styles, Text: text} }
	a, b := one("Quotes", "blockquote { margin: 0 }"), one("Links", "a { color: red }")
	for name, c := range map[string]struct{ was, mine, theirs, want own.Code }{
		"both add":                     {nil, own.Code{a}, own.Code{b}, own.Code{b, a}},
		"one adds, one takes away":     {own.Code{a}, own.Code{a, b}, nil, own.Code{b}},
		"I take away":                  {own.Code{a, b}, own.Code{a}, own.Code{a, b}, own.Code{a}},
		"I take away what they change": {own.Code{a}, nil, own.Code{one("Quotes", "blockquote { margin: 1em }")}, own.Code{one("Quotes", "blockquote { margin: 1em }")}},
		"they take away what I change": {own.Code{a}, own.Code{one("Quotes", "q { margin: 1em }")}, nil, own.Code{one("Quotes", "q { margin: 1em }")}},
		"both change one":              {own.Code{a}, own.Code{one("Quotes", "blockquote { margin: 0 } /* mine */")}, own.Code{one("Quotes", "/* theirs */ blockquote { margin: 0 }")}, own.Code{one("Quotes", "/* theirs */ blockquote { margin: 0 } /* mine */")}},
		"a kind changes":               {own.Code{a}, own.Code{{Name: "Quotes", Kind: own.Head, Text: a.Text}}, own.Code{a}, own.Code{{Name: "Quotes", Kind: own.Head, Text: a.Text}}},
		"nobody changes":               {own.Code{a}, own.Code{a}, own.Code{a}, own.Code{a}},
	} {
		assert.Equal(t, c.want, own.Merge(c.was, c.mine, c.theirs), name)
	}
}
