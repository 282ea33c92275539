package main

import (
	"net/http"
	"net/http/httptest"
	"net/url"
	"testing"

	"chrysagon/core/compose"
	"chrysagon/core/style"
	"chrysagon/pieces/all"
	"chrysagon/render"
	"chrysagon/web"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Whatever is asked for can be drawn, and every band of every template has something to show.
func TestEverythingThatIsListedIsDrawn(t *testing.T) {
	t.Chdir("../..")
	assets, err := web.Open()
	require.NoError(t, err)
	registry, err := all.Registry()
	require.NoError(t, err)
	d := drawer{render.New(registry, assets)}
	get := func(query url.Values) *httptest.ResponseRecorder {
		w := httptest.NewRecorder()
		d.page(w, httptest.NewRequest(http.MethodGet, "/?"+query.Encode(), nil))
		return w
	}
	for _, tpl := range all.Templates() {
		w := get(url.Values{"template": {tpl.Name}, "words": {"long"}, "goods": {"9"}, "house": {style.Houses[3].Name}})
		require.Equal(t, 200, w.Code, tpl.Name)
		assert.Contains(t, w.Body.String(), "<h1", tpl.Name)
	}
	schema := registry.Schema()
	for _, a := range all.Arrangements() {
		for _, m := range compose.Manners(schema, a.Band(schema, ids())) {
			w := get(url.Values{"arrangement": {a.Name}, "manner": {m.Name}, "tone": {"night"}, "pictures": {"dark"}})
			require.Equal(t, 200, w.Code, a.Name)
			assert.Contains(t, w.Body.String(), " m-"+m.Name, a.Name)
		}
	}
	assert.Equal(t, 404, get(url.Values{"template": {"submarine"}}).Code)
}
