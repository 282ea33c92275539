package piecetest_test

import (
	"strings"
	"testing"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
	"chrysagon/pieces/heading"
	"chrysagon/pieces/piecetest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What is held to is drawn: the words that are code stand in a heading as words.
func TestTheWordsReachThePage(t *testing.T) {
	registry, err := pieces.NewRegistry(heading.Kind)
	require.NoError(t, err)
	var out strings.Builder
	value := heading.Kind.View(piecetest.Context(piecetest.Facts()), m.Piece{ID: "p", Kind: "heading", Fields: m.Fields{"text": piecetest.Hostile}})
	require.NoError(t, registry.View("heading").Execute(&out, value))
	assert.Contains(t, out.String(), "&lt;script&gt;alert(1)&lt;/script&gt;")
}
