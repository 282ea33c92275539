package offer

import (
	"strings"
	"unicode"

	"golang.org/x/text/unicode/norm"
)

// Alphabet has the signs that generated codes are made of: no two of them look
// alike in print or sound alike on the phone.
const Alphabet = "ACDEFGHJKMNPQRTUVWXY34679"

// Normal is a code as it is compared: without regard to case, spaces, dashes
// and the width of its signs.
func Normal(code string) string {
	return strings.Map(func(r rune) rune {
		if unicode.IsSpace(r) || unicode.Is(unicode.Pd, r) || r == '\u2212' || r == '_' || r == '\u00ad' || unicode.Is(unicode.Cf, r) {
			return -1
		}
		return unicode.ToUpper(r)
	}, norm.NFKC.String(code))
}

// CodeOf makes a code of random bytes: one sign for each, in groups of four.
// Bytes beyond the last whole turn of the alphabet must not be handed in, or
// some signs come up more often; see [Fair].
func CodeOf(prefix string, random []byte) string {
	var b strings.Builder
	b.WriteString(prefix)
	for i, r := range random {
		if i%4 == 0 && b.Len() > 0 {
			b.WriteByte('-')
		}
		b.WriteByte(Alphabet[int(r)%len(Alphabet)])
	}
	return b.String()
}

// Fair tells whether a random byte gives every sign the same chance.
func Fair(r byte) bool { return int(r) < 256/len(Alphabet)*len(Alphabet) }
