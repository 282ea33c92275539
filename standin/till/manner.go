// Package till is the stand-in for the service that charges cards. It keeps
// its own ledger, answers again to a key it knows, signs its webhooks after
// the Standard Webhooks specification, and never shows the shop a card number.
package till

import "strings"

// Manner is how a card behaves.
type Manner string

// The manners of the test cards.
const (
	Approves     Manner = "approves"
	Declines     Manner = "declines"
	LacksFunds   Manner = "lacks_funds"
	TimesOut     Manner = "times_out" // charges, then does not answer
	Confirms     Manner = "confirms"  // the buyer must confirm first
	DeclinesKept Manner = "declines_kept"
)

// Card is a test card number and its behaviour.
type Card struct {
	Number string
	Manner Manner
	What   string
}

// Cards are the test numbers. They begin with 9, which ISO/IEC 7812-1 leaves to
// national bodies, so that none is a real card; the last digit is Luhn's.
var Cards = []Card{
	{"9200 0000 0000 0017", Approves, "is approved"},
	{"9200 0000 0000 0025", Declines, "is declined"},
	{"9200 0000 0000 0033", LacksFunds, "is declined for insufficient funds"},
	{"9200 0000 0000 0041", TimesOut, "is charged, but the till's answer never comes"},
	{"9200 0000 0000 0058", Confirms, "must be confirmed on the till's page"},
	{"9200 0000 0000 0066", DeclinesKept, "is approved once, then declined for one-press additions"},
}

// Luhn tells whether a number of digits passes the check of ISO/IEC 7812-1,
// annex B.
func Luhn(digits string) bool {
	sum, double := 0, false
	for i := len(digits) - 1; i >= 0; i-- {
		d := int(digits[i] - '0')
		if d < 0 || d > 9 {
			return false
		}
		if double {
			if d *= 2; d > 9 {
				d -= 9
			}
		}
		sum, double = sum+d, !double
	}
	return len(digits) >= 12 && len(digits) <= 19 && sum%10 == 0
}

// manner finds how a number behaves; ok is false when no such card exists.
func manner(digits string) (Manner, bool) {
	for _, c := range Cards {
		if strings.ReplaceAll(c.Number, " ", "") == digits {
			return c.Manner, true
		}
	}
	return "", false
}
