package news

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// What was read may be kept only while the database is heard, and until something a page
// shows is told to be another: a page's own words are not.
func TestWhatWasReadGrowsOld(t *testing.T) {
	h := &Hub{}
	age := func(except string) uint64 {
		at, _ := h.Age(except)
		return at
	}
	_, heard := h.Age("")
	assert.False(t, heard, "nobody listens")
	h.hears(true)
	_, heard = h.Age("")
	assert.True(t, heard)
	before := age("letter")
	h.pass(newsOf("page:letter:7"))
	assert.Equal(t, before, age("letter"), "its own words")
	assert.Greater(t, age("bridge"), before, "another page may name it")
	before = age("letter")
	h.pass(newsOf("sale"))
	assert.Equal(t, before, age("letter"), "a sale is told apart")
	h.FactsChanged()
	assert.Greater(t, age("letter"), before)
}

// A slow listener misses repetitions, and never the last word of any topic; when the
// program ends, all are told.
func TestASlowListenerHearsTheLastWord(t *testing.T) {
	h := &Hub{}
	l := h.Subscribe()
	for _, said := range []string{"page:letter:1", "facts", "page:letter:2", "page:letter:3"} {
		h.pass(newsOf(said))
	}
	<-l.Ready()
	assert.Equal(t, []News{{Topic: "page:letter", What: "3"}, {Topic: FactsChanged}}, l.Take())
	assert.Empty(t, l.Take())
	h.Hush()
	_, open := <-l.Ready()
	assert.False(t, open)
}
