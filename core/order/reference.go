package order

import (
	"fmt"
	"math/big"
	"strings"
)

// Reference is the creditor reference of a transfer, by ISO 11649: RF, two check digits
// and a body of up to 21 letters and digits, which banks check before they send money.
// The body's other signs are left out.
func Reference(body string) string {
	body = plain(body)
	if len(body) > 21 {
		body = body[:21]
	}
	return fmt.Sprintf("RF%02d%s", 98-remainder(body+"RF00"), body)
}

// ReferenceHolds tells whether a reference is whole, by its check digits (ISO 11649, which
// takes them as ISO 7064 MOD 97-10 has it). Spaces and small letters are let through.
func ReferenceHolds(text string) bool {
	ref := plain(text)
	if len(ref) < 5 || len(ref) > 25 || !strings.HasPrefix(ref, "RF") || strings.Trim(ref[2:4], "0123456789") != "" {
		return false
	}
	return remainder(ref[4:]+ref[:4]) == 1
}

// plain are the letters and digits of a text, in capitals.
func plain(text string) string {
	return strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z':
			return r - 'a' + 'A'
		case (r >= 'A' && r <= 'Z') || (r >= '0' && r <= '9'):
			return r
		}
		return -1
	}, text)
}

// remainder is that of a text by 97, its letters read as 10 to 35.
func remainder(text string) int64 {
	var digits strings.Builder
	for _, r := range text {
		if r >= 'A' {
			fmt.Fprintf(&digits, "%d", r-'A'+10)
		} else {
			digits.WriteRune(r)
		}
	}
	n, _ := new(big.Int).SetString(digits.String(), 10)
	return new(big.Int).Mod(n, big.NewInt(97)).Int64()
}

// Grouped writes a reference in fours, as it stands on paper (ISO 11649).
func Grouped(ref string) string {
	var out strings.Builder
	for i, r := range ref {
		if i > 0 && i%4 == 0 {
			out.WriteByte(' ')
		}
		out.WriteRune(r)
	}
	return out.String()
}
