package pages

import (
	"testing"
	"time"

	"chrysagon/core/shelf"

	"github.com/stretchr/testify/assert"
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
