package web_test

import (
	"io/fs"
	"strings"
	"testing"

	"chrysagon/web"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What was built is all there, each under a name that holds its content's hash; icons
// are found by words, and a name that is none draws nothing.
func TestWhatWasBuiltIsThere(t *testing.T) {
	a, err := web.Open()
	require.NoError(t, err)
	for _, name := range []string{"studio.js", "studio.css", "page.js", "standin.css", "cardfield.js", "figtree.woff2", "mark.svg"} {
		at := a.Path(name)
		require.NotEmpty(t, at, name)
		raw, err := fs.ReadFile(a.Served(), strings.TrimPrefix(at, "/assets/"))
		require.NoError(t, err, name)
		assert.NotEmpty(t, raw, name)
	}
	assert.NotContains(t, a.Sheet("page"), "asset:", "every served file that styles name was found")
	assert.Contains(t, string(a.Icon("search")), "<svg")
	assert.Empty(t, a.Icon("no such icon"))
	found, all := a.FindSigns("kite", 5)
	assert.NotEmpty(t, found)
	assert.LessOrEqual(t, len(found), 5)
	assert.GreaterOrEqual(t, all, len(found))
	assert.Greater(t, len(web.Robots()), 10)
}
