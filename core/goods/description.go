package goods

import (
	"errors"
	"strings"
	"unicode/utf8"

	"chrysagon/core/rich"
)

// MaxDescription is how many characters the description of a product has at most,
// those of its marks counted.
const MaxDescription = 20_000

// Description is what is said of a product, as it is kept: copy with structure or plain
// lines. Its links lead to addresses elsewhere, to mails and to calls: pages come and go
// without the product.
func Description(text string) (string, error) {
	text = rich.Clean(strings.TrimSpace(strings.ToValidUTF8(text, "")), elsewhere)
	if utf8.RuneCountInString(text) > MaxDescription {
		return "", errors.New("is longer than 20,000 characters")
	}
	return text, nil
}

func elsewhere(target string) bool {
	for _, scheme := range []string{"https://", "http://", "mailto:", "tel:"} {
		if len(target) > len(scheme) && strings.EqualFold(target[:len(scheme)], scheme) {
			return true
		}
	}
	return false
}
