package source_test

import (
	"fmt"
	"net/url"
	"testing"
	"unicode/utf8"

	"chrysagon/core/source"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

const shop = "http://shop.localhost:8610"

func of(query, referrer string) source.Source {
	values, _ := url.ParseQuery(query)
	return source.Of(values.Get, referrer, shop)
}

func Example() {
	fmt.Println(of("utm_source=Posters&utm_medium=print", "").Name, of("", "https://www.search.example/?q=kites").Name)
	// Output: Posters search.example
}

func TestWhereAVisitorCameFrom(t *testing.T) {
	for _, c := range []struct {
		query, referrer string
		want            source.Source
	}{
		{"", "", source.Source{}},
		{"", shop + "/seven-knots", source.Source{}},
		{"utm_source=+Posters++of+May%00", "https://search.example", source.Source{Name: "Posters of May"}},
		{"utm_campaign=frost", "", source.Source{Name: source.Direct, Campaign: "frost"}},
		{"", "javascript:alert(1)", source.Source{}},
		{"utm_source=%ff%fe", "", source.Source{}},
	} {
		assert.Equal(t, c.want, of(c.query, c.referrer), "%q %q", c.query, c.referrer)
	}
}

// Whatever is sent, a name is short, can be kept in a database and read on a line.
func TestANameIsClean(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		name := source.Clean(string(rapid.SliceOf(rapid.Byte()).Draw(t, "bytes")))
		assert.True(t, utf8.ValidString(name))
		assert.LessOrEqual(t, utf8.RuneCountInString(name), source.MostLetters)
		assert.NotContains(t, name, "\x00")
		assert.NotContains(t, name, "\n")
		assert.Equal(t, name, source.Clean(name))
	})
}
