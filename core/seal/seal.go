// Package seal signs the prices that a visitor is shown, and decides what is charged when
// they come back with them.
package seal

import (
	"crypto/hmac"
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"chrysagon/core/facts"
	"chrysagon/core/offer"
)

// Seen is what a visitor was shown: the total of every cart that could be shown, at a
// moment, on a step of an edition, for a country and codes. A page drawn for one visitor
// names them too; one kept for everybody names nobody.
type Seen struct {
	Millis  int64            `json:"m"` // the moment, in Unix milliseconds
	Edition string           `json:"e"`
	Step    string           `json:"s"` // the page, where it is of no funnel
	Visitor string           `json:"v,omitempty"`
	For     string           `json:"f"` // country and codes it was computed for
	Totals  map[string]int64 `json:"t"` // cart -> minor units
}

// Place is where a price is seen, and by whom.
type Place struct{ Edition, Step, Visitor string }

// At is a place as a visitor stands there; what names nobody holds for anybody. The
// visitor's secret itself is in no seal.
func At(edition, step, visitor string) Place {
	p := Place{Edition: edition, Step: step}
	if visitor != "" {
		sum := sha256.Sum256([]byte(visitor))
		p.Visitor = base64.RawURLEncoding.EncodeToString(sum[:9])
	}
	return p
}

// Kept is for how long a seal can be honoured, beyond the grace time: changes are known
// that long.
const Kept = 30 * 24 * time.Hour

// Write seals what carts come to at a moment, signed with the store's key (HMAC-SHA-256,
// cut to 128 bits); "" where one of them cannot be priced.
func Write(key []byte, f facts.Facts, at Place, moment time.Time, carts ...[]offer.Item) string {
	return WriteBy(key, f, at, moment, func(cart []offer.Item) (offer.Quote, error) { return f.Quote(cart, moment) }, carts...)
}

// WriteBy is [Write] for who has priced the carts already.
func WriteBy(key []byte, f facts.Facts, at Place, moment time.Time, quote func([]offer.Item) (offer.Quote, error), carts ...[]offer.Item) string {
	s := Seen{Millis: moment.UnixMilli(), Edition: at.Edition, Step: at.Step, Visitor: at.Visitor, For: sealedFor(f), Totals: map[string]int64{}}
	for _, cart := range carts {
		q, err := quote(cart)
		if err != nil {
			return ""
		}
		s.Totals[cartKey(cart)] = q.Total.Minor
	}
	body, err := json.Marshal(s)
	if err != nil {
		return ""
	}
	text := base64.RawURLEncoding.EncodeToString(body)
	return text + "." + signature(key, text)
}

// Read reads what a visitor was shown; false when it was not written with this key.
func Read(key []byte, text string) (Seen, bool) {
	body, mark, found := strings.Cut(text, ".")
	if !found || !hmac.Equal([]byte(mark), []byte(signature(key, body))) {
		return Seen{}, false
	}
	raw, err := base64.RawURLEncoding.DecodeString(body)
	if err != nil {
		return Seen{}, false
	}
	var s Seen
	return s, json.Unmarshal(raw, &s) == nil
}

// Moment is when it was shown.
func (s Seen) Moment() time.Time { return time.UnixMilli(s.Millis).UTC() }

// Holds tells whether a price was seen where it comes back, by who sends it.
func (s Seen) Holds(at Place) bool {
	return s.Step == at.Step && (s.Visitor == "" || s.Visitor == at.Visitor)
}

// Total is what a cart came to when it was seen; false when it was not shown like that.
func (s Seen) Total(f facts.Facts, cart []offer.Item) (int64, bool) {
	total, ok := s.Totals[cartKey(cart)]
	return total, ok && s.For == sealedFor(f)
}

// cartKey names a cart: what was ordered, how often and on what way.
func cartKey(cart []offer.Item) string {
	var b strings.Builder
	for _, item := range cart {
		fmt.Fprintf(&b, "%s/%s/%d ", item.ProductID, item.Via, item.Quantity)
	}
	return b.String()
}

// sealedFor is what a total was computed for beside the cart: a price seen for one
// country, or with a code, proves nothing for another.
func sealedFor(f facts.Facts) string {
	return f.Context.Country + " " + offer.Normal(strings.Join(f.Codes, " "))
}

func signature(key []byte, text string) string {
	mac := hmac.New(sha256.New, key)
	mac.Write([]byte(text))
	return base64.RawURLEncoding.EncodeToString(mac.Sum(nil)[:16])
}
