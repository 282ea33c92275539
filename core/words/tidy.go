package words

import "strings"

// Tidy makes one line of a text, with single spaces.
func Tidy(text string) string { return strings.Join(strings.Fields(text), " ") }
