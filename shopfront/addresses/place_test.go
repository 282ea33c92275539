package addresses_test

import (
	"net/http"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
)

// What is asked for beside pages answers, and what is not there says so.
func TestWhatIsAskedForBesidePages(t *testing.T) {
	b := testkit.Open(t).Browser()
	for address, kind := range map[string]string{"/robots.txt": "text/plain", "/sitemap.xml": "xml", "/privacy": "text/html", "/terms": "text/html", "/contact": "text/html"} {
		page := b.Get(address)
		assert.Equal(t, http.StatusOK, page.Status, address)
		assert.Contains(t, page.Header.Get("Content-Type"), kind, address)
		assert.Equal(t, "nosniff", page.Header.Get("X-Content-Type-Options"), address)
	}
	for _, address := range []string{"/pictures/none.webp", "/pictures/..%2f..%2fetc%2fpasswd", "/videos/none.mp4", "/no-such-page", "/%ff"} {
		assert.Contains(t, []int{http.StatusNotFound, http.StatusBadRequest}, b.Get(address).Status, address)
	}
}
