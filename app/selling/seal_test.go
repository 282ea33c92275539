package selling

import (
	"testing"
	"time"

	"chrysagon/app/publishing"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/route"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

var key = []byte("a key of the store, 32 bytes long")

var noon = time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)

var here = stand{edition: "e1", step: "sales"}

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
		s, ok := unseal(key, seal(key, f, here, noon, alone, both))
		require.True(t, ok)
		total, ok := s.total(f, both)
		require.True(t, ok)
		assert.Equal(t, page+bump, total)
		assert.Equal(t, noon, s.moment())
		total, _ = s.total(f, alone)
		assert.Equal(t, page, total, "one seal serves the cart with and without the bump")
		_, ok = s.total(f, []offer.Item{{ProductID: "ember", Quantity: 1, Via: offer.Upsell}})
		assert.False(t, ok, "a price shown on one way is no promise on another")
		f.Context.Country = "US"
		_, ok = s.total(f, alone)
		assert.False(t, ok, "nor for another country")
		f.Context.Country, f.Codes = "", []string{"FROST"}
		_, ok = s.total(f, alone)
		assert.False(t, ok, "nor with another code")
	})
}

// A seal with any character changed, cut or added, or of another store, is not
// one of ours.
func TestNoOtherSealIsTaken(t *testing.T) {
	alone, both := carts()
	good := seal(key, shown(5100, 700), here, noon, alone, both)
	_, ok := unseal([]byte("the key of another store, as long"), good)
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
		if _, ok := unseal(key, string(text)); ok && string(text) != good {
			t.Fatalf("%q was taken", text)
		}
	})
	for _, text := range []string{"", ".", "..", "a.b", good + ".", good + good} {
		_, ok := unseal(key, text)
		assert.False(t, ok, text)
	}
}

// A seal names where the price was seen, and by whom where the page was drawn for
// one visitor; a kept page's names nobody.
func TestASealHoldsWhereItWasSeen(t *testing.T) {
	live := publishing.Live{Edition: &publishing.Edition{ID: "e1"}, Step: route.Step{ID: "sales"}}
	alone, _ := carts()
	kept, _ := unseal(key, seal(key, shown(5100, 0), standOf(live, ""), noon, alone))
	own, _ := unseal(key, seal(key, shown(5100, 0), standOf(live, "ines"), noon, alone))
	for _, c := range []struct {
		s    seen
		at   stand
		want bool
	}{
		{kept, standOf(live, "ines"), true}, {own, standOf(live, "ines"), true}, {own, standOf(live, "tom"), false}, {own, standOf(live, ""), false},
		{kept, standOf(publishing.Live{Edition: live.Edition, Step: route.Step{ID: "bag"}}, "ines"), false},
		{kept, standOf(publishing.Live{Edition: live.Edition, Page: publishing.EditionPage{ID: "sales"}}, "ines"), true},
	} {
		assert.Equal(t, c.want, c.s.holds(c.at))
	}
	assert.NotContains(t, seal(key, shown(1, 0), standOf(live, "a-secret-of-26-characters."), noon, alone), "a-secret")
}
