package pages

import (
	"fmt"
	"strconv"
	"testing"
	"time"

	"chrysagon/core/shelf"
	"chrysagon/internal/wire"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/valyala/fasthttp"
)

var noon = time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)

func TestAKeptPageIsNeverStale(t *testing.T) {
	var k Cache
	e := newEntry([]byte("<p>kite</p>"))
	e.until = noon
	k.put("a", e, k.generation.Load())
	assert.NotNil(t, k.get("a", noon.Add(-time.Nanosecond)))
	assert.Nil(t, k.get("a", noon), "the moment itself is too late")
	assert.Nil(t, k.get("b", noon.Add(-time.Hour)))

	forever := newEntry([]byte("x"))
	k.put("c", forever, k.generation.Load())
	assert.NotNil(t, k.get("c", noon.AddDate(50, 0, 0)), "nothing on it changes by itself")
	k.forget()
	assert.Nil(t, k.get("c", noon))
}

// Facts were read, then something changed, then the page was drawn: it shows
// what no longer is, and must not be kept.
func TestAPageDrawnFromOldFactsIsNotKept(t *testing.T) {
	var k Cache
	generation := k.generation.Load()
	k.forget()
	k.put("a", newEntry([]byte("old")), generation)
	assert.Nil(t, k.get("a", noon))
	k.put("a", newEntry([]byte("new")), k.generation.Load())
	assert.NotNil(t, k.get("a", noon))
}

// What asks for ever other views fills nothing.
func TestViewsThatAreKeptAreFew(t *testing.T) {
	assert.True(t, keeps(shelf.View{}))
	assert.True(t, keeps(shelf.View{Page: keptPages}))
	for _, v := range []shelf.View{{Page: keptPages + 1}, {By: "cheap"}, shelf.View{}.With("lines", "2")} {
		assert.False(t, keeps(v), v)
	}
}

// However many pages are looked at one by one, so many are kept at most.
func TestKeptPagesAreBounded(t *testing.T) {
	var k Cache
	for i := range 3*keptAtMost + 7 {
		k.put(strconv.Itoa(i), newEntry([]byte("x")), 0)
	}
	n := 0
	k.pages.Range(func(_, _ any) bool { n++; return true })
	assert.Positive(t, n)
	assert.LessOrEqual(t, n, keptAtMost)
	assert.NotNil(t, k.get(strconv.Itoa(3*keptAtMost+6), noon), "the last one")
}

// What is packed anew for those who come again says the same in fewer bytes.
func TestAPageThatIsAskedForAgainIsPackedSmaller(t *testing.T) {
	var html []byte
	for i := range 400 {
		html = fmt.Appendf(html, "<p>Kite %d flies from %d to %d bft, and %d grams hang from it.</p>", i, i%5, i%7, i*37%900)
	}
	e := newEntry(html)
	quick := map[wire.Encoding][]byte{wire.Brotli: e.in(wire.Brotli), wire.Gzip: e.in(wire.Gzip)}
	e.pack()
	for encoding, before := range quick {
		after := e.in(encoding)
		assert.Less(t, len(after), len(before), encoding)
		for _, body := range [][]byte{before, after} {
			var r fasthttp.Response
			r.Header.SetContentEncoding(string(encoding))
			r.SetBodyRaw(body)
			said, err := r.BodyUncompressed()
			require.NoError(t, err)
			assert.Equal(t, html, said, encoding)
		}
	}
	assert.Equal(t, html, e.in(wire.Plain))
}
