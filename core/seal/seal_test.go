package seal_test

import (
	"testing"
	"time"

	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/seal"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

var key = []byte("a key of the store, 32 bytes long")

var noon = time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)

var here = seal.Place{Edition: "e1", Step: "sales"}

func shown(page, bump int64) facts.Facts {
	f := facts.Facts{Store: facts.Store{Currency: "EUR"}, Products: map[string]goods.Product{}}
	for id, minor := range map[string]int64{"ember": page, "cell": bump} {
		f.Products[id] = goods.Product{ID: id, Name: id, Price: money.Of(minor, "EUR"), Stock: 9}
	}
	return f
}

func carts() (alone, both []offer.Item) {
	alone = []offer.Item{{ProductID: "ember", Quantity: 1, Via: offer.Page}}
	return alone, append(alone[:1:1], offer.Item{ProductID: "cell", Quantity: 1, Via: offer.Bump})
}

func TestWhatWasSealedIsReadBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		page, bump := rapid.Int64Range(0, money.Limit).Draw(t, "page"), rapid.Int64Range(0, money.Limit).Draw(t, "bump")
		f := shown(page, bump)
		alone, both := carts()
		s, ok := seal.Read(key, seal.Write(key, f, here, noon, alone, both))
		require.True(t, ok)
		total, ok := s.Total(f, both)
		require.True(t, ok)
		assert.Equal(t, page+bump, total)
		assert.Equal(t, noon, s.Moment())
		total, _ = s.Total(f, alone)
		assert.Equal(t, page, total, "one seal serves the cart with and without the bump")
		_, ok = s.Total(f, []offer.Item{{ProductID: "ember", Quantity: 1, Via: offer.Upsell}})
		assert.False(t, ok, "a price shown on one way is no promise on another")
		f.Context.Country = "US"
		_, ok = s.Total(f, alone)
		assert.False(t, ok, "nor for another country")
		f.Context.Country, f.Codes = "", []string{"FROST"}
		_, ok = s.Total(f, alone)
		assert.False(t, ok, "nor with another code")
	})
}

// A seal with any character changed, cut or added, or of another store, is not
// one of ours.
func TestNoOtherSealIsTaken(t *testing.T) {
	alone, both := carts()
	good := seal.Write(key, shown(5100, 700), here, noon, alone, both)
	_, ok := seal.Read([]byte("the key of another store, as long"), good)
	assert.False(t, ok)
	rapid.Check(t, func(t *rapid.T) {
		text := []byte(good)
		i := rapid.IntRange(0, len(text)-1).Draw(t, "at")
		switch rapid.IntRange(0, 2).Draw(t, "how") {
		case 0:
			text[i] = byte(rapid.IntRange(0, 255).Draw(t, "byte"))
		case 1:
			text = text[:i]
		default:
			text = append(text[:i:i], append([]byte{byte(rapid.IntRange(0, 255).Draw(t, "byte"))}, text[i:]...)...)
		}
		if _, ok := seal.Read(key, string(text)); ok && string(text) != good {
			t.Fatalf("%q was taken", text)
		}
	})
	for _, text := range []string{"", ".", "..", "a.b", good + ".", good + good} {
		_, ok := seal.Read(key, text)
		assert.False(t, ok, text)
	}
}

// A seal names where the price was seen, and by whom where the page was drawn for
// one visitor; a kept page's names nobody.
func TestASealHoldsWhereItWasSeen(t *testing.T) {
	at := func(visitor string) seal.Place { return seal.At("e1", "sales", visitor) }
	alone, _ := carts()
	kept, _ := seal.Read(key, seal.Write(key, shown(5100, 0), at(""), noon, alone))
	own, _ := seal.Read(key, seal.Write(key, shown(5100, 0), at("ines"), noon, alone))
	for _, c := range []struct {
		s    seal.Seen
		at   seal.Place
		want bool
	}{
		{kept, at("ines"), true}, {own, at("ines"), true}, {own, at("tom"), false}, {own, at(""), false},
		{kept, seal.At("e1", "bag", "ines"), false},
		{kept, seal.At("e2", "sales", "ines"), true},
	} {
		assert.Equal(t, c.want, c.s.Holds(c.at))
	}
	assert.NotContains(t, seal.Write(key, shown(1, 0), at("a-secret-of-26-characters."), noon, alone), "a-secret")
}
