package app

import (
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"chrysagon/core/facts"
	"chrysagon/core/offer"
	"chrysagon/pieces"
	"chrysagon/store"
)

// Seen is what the server showed a visitor: the total of every cart it could
// show, at a moment, for a country and a code.
type seen struct {
	Moment int64            `json:"m"` // Unix milliseconds
	For    string           `json:"f"` // country and code it was computed for
	Totals map[string]int64 `json:"t"` // cart -> minor units
}

// cartKey names a cart: what was ordered, how often and on what way.
func cartKey(cart []offer.Item) string {
	var b strings.Builder
	for _, item := range cart {
		fmt.Fprintf(&b, "%s/%s/%d ", item.ProductID, item.Via, item.Quantity)
	}
	return b.String()
}

// Sealer returns what signs quotes with the store's key.
func (a *App) Sealer(ctx context.Context) (pieces.Sealer, error) {
	key, err := a.sealKey(ctx)
	if err != nil {
		return nil, err
	}
	return func(f facts.Facts, moment time.Time, carts ...[]offer.Item) string {
		return seal(key, f, moment, carts...)
	}, nil
}

func (a *App) sealKey(ctx context.Context) ([]byte, error) {
	shop, err := one[store.Shop](a.db(ctx), "The store is not set up.")
	return shop.SealKey, err
}

func seal(key []byte, f facts.Facts, moment time.Time, carts ...[]offer.Item) string {
	s := seen{Moment: moment.UnixMilli(), For: sealedFor(f), Totals: map[string]int64{}}
	for _, cart := range carts {
		q, err := f.Quote(cart, moment)
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

func signature(key []byte, text string) string {
	mac := hmac.New(sha256.New, key)
	mac.Write([]byte(text))
	return base64.RawURLEncoding.EncodeToString(mac.Sum(nil)[:16])
}

// unseal reads what a visitor was shown; ok is false when the server did not
// write it.
func unseal(key []byte, text string) (seen, bool) {
	body, mark, found := strings.Cut(text, ".")
	if !found || !hmac.Equal([]byte(mark), []byte(signature(key, body))) {
		return seen{}, false
	}
	raw, err := base64.RawURLEncoding.DecodeString(body)
	if err != nil {
		return seen{}, false
	}
	var s seen
	return s, json.Unmarshal(raw, &s) == nil
}

// sealedFor is what a total was computed for beside the cart: a price seen
// for one country, or with a code, proves nothing for another.
func sealedFor(f facts.Facts) string {
	return f.Context.Country + " " + offer.Normal(strings.Join(f.Codes, " "))
}

// total is what a cart came to when it was seen; ok is false when it was not
// shown like that.
func (s seen) total(f facts.Facts, cart []offer.Item) (int64, bool) {
	total, ok := s.Totals[cartKey(cart)]
	return total, ok && s.For == sealedFor(f)
}

func (s seen) moment() time.Time { return time.UnixMilli(s.Moment).UTC() }
