// Package words writes numbers of things and their articles.
package words

import (
	"strconv"
	"strings"

	"github.com/jinzhu/inflection"
)

// Count writes a number of things: 1 order, 3 orders, 0 headlines.
func Count(n int, thing string) string {
	if n == 1 || n == -1 {
		return strconv.Itoa(n) + " " + thing
	}
	return strconv.Itoa(n) + " " + Many(thing)
}

// Many is the plural of a thing, of which only the last word changes.
func Many(thing string) string {
	at := strings.LastIndex(thing, " ") + 1
	return thing[:at] + inflection.Plural(thing[at:])
}

// A writes a thing with its article, by the sound it begins with: an upsell, a
// one-click upsell, an hour.
func A(thing string) string {
	if thing == "" {
		return ""
	}
	lower := strings.ToLower(thing)
	vowel := strings.ContainsRune("aeiou", rune(lower[0]))
	for _, begins := range []string{"one", "once", "uni", "use", "usu", "euro", "eu-"} { // written with a vowel, and not spoken so
		vowel = vowel && !strings.HasPrefix(lower, begins)
	}
	for _, begins := range []string{"hour", "honest", "heir"} {
		vowel = vowel || strings.HasPrefix(lower, begins)
	}
	if vowel {
		return "an " + thing
	}
	return "a " + thing
}

// Begin writes the first sign large, as a sentence begins.
func Begin(text string) string {
	for i, r := range text {
		return strings.ToUpper(string(r)) + text[i+len(string(r)):]
	}
	return ""
}

// And says several things as one: a, b and c.
func And(things ...string) string {
	if len(things) < 2 {
		return strings.Join(things, "")
	}
	last := len(things) - 1
	return strings.Join(things[:last], ", ") + " and " + things[last]
}
