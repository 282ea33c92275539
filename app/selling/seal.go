package selling

import (
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"chrysagon/app/publishing"
	"chrysagon/core/facts"
	"chrysagon/core/offer"
	"chrysagon/pieces"
	"chrysagon/store"

	"gorm.io/gorm"
)

// seen is what the server showed a visitor: the total of every cart it could
// show, at a moment, on a step of an edition, for a country and codes. A page
// drawn for one visitor names them too; one kept for everybody names nobody.
type seen struct {
	Moment  int64            `json:"m"` // Unix milliseconds
	Edition string           `json:"e"`
	Step    string           `json:"s"` // the page, where it is of no funnel
	Visitor string           `json:"v,omitempty"`
	For     string           `json:"f"` // country and codes it was computed for
	Totals  map[string]int64 `json:"t"` // cart -> minor units
}

// stand is where a price is seen and by whom.
type stand struct{ edition, step, visitor string }

// standOf is where a visitor stands on a live page. What names nobody holds for
// anybody.
func standOf(live publishing.Live, visitor string) stand {
	s := stand{edition: live.Edition.ID, step: live.Step.ID}
	if s.step == "" {
		s.step = live.Page.ID
	}
	if visitor != "" {
		sum := sha256.Sum256([]byte(visitor))
		s.visitor = base64.RawURLEncoding.EncodeToString(sum[:9])
	}
	return s
}

// honoured is for how long a seal can be, beyond the grace time: changes are kept
// that long.
const honoured = 30 * 24 * time.Hour

// holds tells whether a price was seen where it comes back, by who sends it.
func (s seen) holds(at stand) bool {
	return s.Step == at.step && (s.Visitor == "" || s.Visitor == at.visitor)
}

// cartKey names a cart: what was ordered, how often and on what way.
func cartKey(cart []offer.Item) string {
	var b strings.Builder
	for _, item := range cart {
		fmt.Fprintf(&b, "%s/%s/%d ", item.ProductID, item.Via, item.Quantity)
	}
	return b.String()
}

// Sealer returns what signs quotes with the store's key, for a live page and,
// where it is drawn for one visitor, for them.
func (counter *Counter) Sealer(ctx context.Context, live publishing.Live, visitor string) (pieces.Sealer, error) {
	key, err := counter.sealKey(ctx)
	if err != nil {
		return nil, err
	}
	at := standOf(live, visitor)
	return func(f facts.Facts, moment time.Time, carts ...[]offer.Item) string {
		return seal(key, f, at, moment, carts...)
	}, nil
}

func (counter *Counter) sealKey(ctx context.Context) ([]byte, error) {
	shop, err := store.One[store.Shop](counter.Store.On(ctx), "The store is not set up.")
	return shop.SealKey, err
}

func seal(key []byte, f facts.Facts, at stand, moment time.Time, carts ...[]offer.Item) string {
	s := seen{Moment: moment.UnixMilli(), Edition: at.edition, Step: at.step, Visitor: at.visitor, For: sealedFor(f), Totals: map[string]int64{}}
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

// firstChange is the first moment after a price was seen at which anything that
// it follows from was changed by hand: the goods of a cart, an offer on them, or
// the rates. Zero: nothing was.
func firstChange(db *gorm.DB, cart []offer.Item, since time.Time) (time.Time, error) {
	var ids []string
	for _, item := range cart {
		ids = append(ids, item.ProductID)
	}
	var first []struct{ At time.Time }
	err := db.Raw("SELECT at FROM price_changes WHERE at > ? AND (goods IS NULL OR goods && ?::text[]) ORDER BY at LIMIT 1", since, store.TextArray(ids)).Scan(&first).Error
	if err != nil || len(first) == 0 {
		return time.Time{}, err
	}
	return first[0].At.UTC(), nil
}

// ForgetChanges drops what no seal that is still honoured can ask for.
func (counter *Counter) ForgetChanges(ctx context.Context) error {
	return counter.Store.On(ctx).Exec("DELETE FROM price_changes WHERE at < ?", counter.Store.Now().Add(-honoured-48*time.Hour)).Error
}

func (s seen) moment() time.Time { return time.UnixMilli(s.Moment).UTC() }
