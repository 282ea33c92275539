package links_test

import (
	"net/http"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
)

// The script for pages outside may be taken by any of them; a link that nobody made
// leads nowhere, and no address in a link is followed.
func TestWhatLeadsIn(t *testing.T) {
	shop := testkit.OpenSeason(t)
	b := shop.Browser()
	script := b.Get("/outside.js")
	assert.Equal(t, http.StatusOK, script.Status)
	assert.Equal(t, "cross-origin", script.Header.Get("Cross-Origin-Resource-Policy"))
	assert.Contains(t, script.Body, "sendBeacon")
	for _, path := range []string{"/to/nothing", "/to/https:%2F%2Fevil.example", "/outside/nothing/on/yes", "/outside/seven-knots/on/yes"} {
		assert.Equal(t, http.StatusNotFound, b.Get(path).Status, path)
	}
	in := b.Get("/to/posters-at-the-harbour?utm_source=mine")
	assert.Equal(t, "/seven-knots?utm_campaign=frost-lanterns&utm_medium=print&utm_source=Posters", in.Location)
	assert.Equal(t, "no-store", in.Header.Get("Cache-Control"))
	assert.Equal(t, "/", b.Get("/outside/harbour-lamps/on/Two%20Words").Location)
}
