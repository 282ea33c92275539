package manuscript

import (
	"strings"
	"unicode"
	"unicode/utf8"
)

// Signed is what stands in a field of type [Sign], and so before words: the name of an icon
// that ships, a picture of the store's, or a sign that was typed, such as ✓ or №.
type Signed struct{ Icon, Picture, Typed string }

// pictured is how a sign names a picture.
const pictured = "picture:"

// MostTyped is how many characters of a sign can be typed: enough for one that is put
// together of several.
const MostTyped = 4

// SignOf reads a sign; false for what is none.
func SignOf(text string) (Signed, bool) {
	text = strings.TrimSpace(text)
	if id, is := strings.CutPrefix(text, pictured); is {
		return Signed{Picture: id}, identifier.MatchString(id)
	}
	if identifier.MatchString(text) {
		return Signed{Icon: text}, true
	}
	n := utf8.RuneCountInString(text)
	return Signed{Typed: text}, n >= 1 && n <= MostTyped && utf8.ValidString(text) && !strings.ContainsFunc(text, func(r rune) bool { return unicode.IsControl(r) || unicode.IsSpace(r) })
}

// String is the sign as it is stored.
func (s Signed) String() string {
	if s.Picture != "" {
		return pictured + s.Picture
	}
	return s.Icon + s.Typed
}
