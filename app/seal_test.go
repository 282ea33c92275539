package app

import (
	"testing"
	"time"

	"chrysagon/core/money"
	"chrysagon/core/offer"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

var key = []byte("a key of the store, 32 bytes long")

func shown(page, bump int64) offer.Quote {
	line := func(id string, via offer.Via, minor int64) offer.Line {
		return offer.Line{ProductID: id, Via: via, Quantity: 1, Price: money.Of(minor, "EUR")}
	}
	return offer.Quote{
		Moment: time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC),
		Lines:  []offer.Line{line("ember", offer.Page, page), line("cell", offer.Bump, bump)},
	}
}

func TestWhatWasSealedIsReadBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		page, bump := rapid.Int64Range(0, money.Limit).Draw(t, "page"), rapid.Int64Range(0, money.Limit).Draw(t, "bump")
		q := shown(page, bump)
		s, ok := unseal(key, seal(key, q))
		require.True(t, ok)
		total, ok := s.total(q)
		require.True(t, ok)
		assert.Equal(t, page+bump, total)
		assert.Equal(t, q.Moment, s.moment())
		q.Lines = q.Lines[:1]
		total, _ = s.total(q)
		assert.Equal(t, page, total, "one seal serves the cart with and without the bump")
		q.Lines[0].Via = offer.Upsell
		_, ok = s.total(q)
		assert.False(t, ok, "a price shown on one way is no promise on another")
	})
}

// A seal with any character changed, cut or added, or of another store, is not
// one of ours.
func TestNoOtherSealIsTaken(t *testing.T) {
	good := seal(key, shown(5100, 700))
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
