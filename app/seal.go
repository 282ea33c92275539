package app

import (
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
	"strings"
	"time"

	"chrysagon/core/offer"
	"chrysagon/store"
)

// Seen is what the server showed a visitor: the price of every line it could
// show, at a moment.
type seen struct {
	Moment int64            `json:"m"` // Unix milliseconds
	Prices map[string]int64 `json:"p"` // product/via -> minor units
}

func lineKey(product string, via offer.Via) string { return product + "/" + string(via) }

// Sealer returns what signs quotes with the store's key.
func (a *App) Sealer(ctx context.Context) (func(offer.Quote) string, error) {
	key, err := a.sealKey(ctx)
	if err != nil {
		return nil, err
	}
	return func(q offer.Quote) string { return seal(key, q) }, nil
}

func (a *App) sealKey(ctx context.Context) ([]byte, error) {
	shop, err := one[store.Shop](a.db(ctx), "The store is not set up.")
	return shop.SealKey, err
}

func seal(key []byte, q offer.Quote) string {
	s := seen{Moment: q.Moment.UnixMilli(), Prices: map[string]int64{}}
	for _, l := range q.Lines {
		s.Prices[lineKey(l.ProductID, l.Via)] = l.Price.Minor
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

// total is what a cart came to when it was seen; ok is false when some line
// was not shown.
func (s seen) total(q offer.Quote) (int64, bool) {
	var sum int64
	for _, l := range q.Lines {
		price, ok := s.Prices[lineKey(l.ProductID, l.Via)]
		if !ok {
			return 0, false
		}
		sum += price * int64(l.Quantity)
	}
	return sum, true
}

func (s seen) moment() time.Time { return time.UnixMilli(s.Moment).UTC() }
