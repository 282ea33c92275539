package shopfront_test

import (
	"net/http"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Whatever is asked for by HEAD is answered as by GET, without its body; who has it
// already is told so; and it is compressed as the browser takes it, in every part.
func TestHowAnswersAreSent(t *testing.T) {
	shop, _ := open(t)
	b := shop.Browser()
	page := b.Get("/night-flight").Body
	picture := regexp.MustCompile(`/pictures/[^"?]+`).FindString(page)
	script := regexp.MustCompile(`/assets/page-[^"]+js`).FindString(page)
	ask := func(method, address string, headers map[string]string) (int, http.Header) {
		req, err := http.NewRequest(method, address, nil)
		require.NoError(t, err)
		req.Header.Set("Accept-Encoding", "identity") // or the client would decompress unseen
		for name, value := range headers {
			req.Header.Set(name, value)
		}
		answer := b.Do(req)
		return answer.Status, answer.Header
	}
	origin := shop.App.Origins
	for _, address := range []string{origin.Shop + "/night-flight", origin.Shop + "/terms", origin.Shop + picture, origin.Shop + script, origin.Studio + "/sign-in", origin.Till + "/", origin.Shop + "/nowhere"} {
		got, header := ask(http.MethodGet, address, nil)
		head, same := ask(http.MethodHead, address, nil)
		assert.Equal(t, got, head, address)
		for _, name := range []string{"Content-Type", "Etag", "Cache-Control", "Vary", "Content-Security-Policy", "Permissions-Policy", "X-Content-Type-Options"} {
			assert.Equal(t, header.Get(name), same.Get(name), "%s of %s", name, address)
		}
		for _, name := range []string{"Content-Security-Policy", "Permissions-Policy", "X-Content-Type-Options", "Referrer-Policy"} {
			assert.NotEmpty(t, header.Get(name), "%s of %s", name, address)
		}
	}
	for _, address := range []string{origin.Shop + "/night-flight", origin.Shop + picture, origin.Shop + script} {
		_, header := ask(http.MethodGet, address, nil)
		require.NotEmpty(t, header.Get("Etag"), address)
		status, _ := ask(http.MethodGet, address, map[string]string{"If-None-Match": header.Get("Etag")})
		assert.Equal(t, http.StatusNotModified, status, address)
	}
	for _, address := range []string{origin.Shop + "/night-flight", origin.Shop + "/terms", origin.Shop + script, origin.Studio + "/sign-in", origin.Till + "/"} {
		for field, want := range map[string]string{"br": "br", "gzip": "gzip", "br;q=0, gzip": "gzip", "br;q=0, gzip;q=0": ""} {
			_, header := ask(http.MethodGet, address, map[string]string{"Accept-Encoding": field})
			assert.Equal(t, want, header.Get("Content-Encoding"), "%s for %s", address, field)
		}
	}
	assert.Regexp(t, `<link rel="preload" as="image" href="/scenes/[^"]+" media="[^"]+" fetchpriority="high"`, page, "the first view's scene comes first, that of one's own screen")
	assert.Equal(t, "User-agent: *\nDisallow: /\n", b.Get(origin.Studio+"/robots.txt").Body)
	assert.NotEmpty(t, b.Get("/favicon.ico").Location)
}
