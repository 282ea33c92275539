package mailing

import (
	"strings"
)

// The domains that most private addresses end in, and the endings that are mistyped most
// (common practice, no source).
var (
	often = []string{
		"gmail.com", "outlook.com", "hotmail.com", "yahoo.com", "icloud.com", "live.com", "proton.me", "gmx.net", "web.de",
		"orange.fr", "free.fr", "libero.it", "sapo.pt", "mail.com",
	}
	endings = map[string]string{"con": "com", "cmo": "com", "comm": "com", "vom": "com", "xom": "com", "ogr": "org", "orgg": "org", "nte": "net", "ner": "net"}
)

// Meant is the address that was probably meant, or "". It is suggested and never put in
// place of what was typed: there are people whose domain looks like a slip.
func Meant(email string) string {
	at := strings.LastIndexByte(email, '@')
	if at < 1 {
		return ""
	}
	local, domain := email[:at+1], strings.ToLower(email[at+1:])
	for _, known := range often {
		if domain == known {
			return ""
		}
	}
	for _, known := range often {
		if slipped(domain, known) {
			return local + known
		}
	}
	if dot := strings.LastIndexByte(domain, '.'); dot > 0 {
		if right, wrong := endings[domain[dot+1:]]; wrong {
			return local + domain[:dot+1] + right
		}
	}
	return ""
}

// Doubted is the address that was probably meant by one of which its owner has not said that
// they are sure; "": it is taken as it stands.
func Doubted(email, sure string) string {
	if strings.EqualFold(strings.TrimSpace(sure), email) {
		return ""
	}
	return Meant(email)
}

// slipped tells whether a word is another but for one slip of the hand: a letter that is
// missing, too many, wrong, or exchanged with its neighbour (a restricted
// Damerau-Levenshtein distance of one; F. J. Damerau, CACM 7(3), 1964).
func slipped(word, of string) bool {
	if word == of {
		return false
	}
	i := 0
	for i < len(word) && i < len(of) && word[i] == of[i] {
		i++
	}
	a, b := word[i:], of[i:]
	switch {
	case len(a) == len(b)+1:
		return a[1:] == b
	case len(b) == len(a)+1:
		return b[1:] == a
	case len(a) != len(b):
		return false
	}
	return a[1:] == b[1:] || (len(a) > 1 && a[0] == b[1] && a[1] == b[0] && a[2:] == b[2:])
}
