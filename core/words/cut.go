package words

import (
	"strings"
)

// Cut is a text cut to so many letters, without what is not UTF-8.
func Cut(text string, most int) string {
	if r := []rune(strings.ToValidUTF8(text, "")); len(r) > most {
		return string(r[:most])
	}
	return strings.ToValidUTF8(text, "")
}
