package mailing

import (
	"regexp"
	"strings"
)

// field is a field of the person in a text: its name and what stands there when it is not
// known, as in {name|friend}.
var field = regexp.MustCompile(`\{(name|order)(?:\|([^{}|]{0,60}))?\}`)

// Fill puts what is known of a person into a text, or what it says for when it is not. with
// prepares a value for where it is put; nil: it stays as it is. A value is put in once: a
// name that reads like a field is a name.
func Fill(text string, person map[string]string, with func(string) string) string {
	return field.ReplaceAllStringFunc(text, func(found string) string {
		parts := field.FindStringSubmatch(found)
		value := strings.TrimSpace(person[parts[1]])
		if value == "" {
			return parts[2] // it stands in the text already, in its form
		}
		if with != nil {
			return with(value)
		}
		return value
	})
}

// Unknown lists the fields of a text that say nothing for when they are not known: they
// would leave a hole, as in “Dear ,”.
func Unknown(text string) []string {
	var out []string
	for _, parts := range field.FindAllStringSubmatch(text, -1) {
		if parts[1] == "name" && strings.TrimSpace(parts[2]) == "" { // what an order is called is always known
			out = append(out, parts[0])
		}
	}
	return out
}
