package pieces_test

import (
	"testing"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/ledger"
	m "chrysagon/core/manuscript"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/pieces"
	"chrysagon/pieces/all"
	"chrysagon/pieces/checkout"
	"chrysagon/pieces/price"
	"chrysagon/pieces/timer"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var (
	noon = time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)
	end  = noon.Add(96 * time.Hour)
)

func context(moment time.Time) *pieces.Context {
	return &pieces.Context{Moment: moment, Facts: facts.Facts{
		Store: facts.Store{Currency: "EUR", Zone: "UTC"},
		Products: map[string]goods.Product{
			"ember": {ID: "ember", Name: "Ember 180", Price: money.Of(6800, "EUR"), Stock: 2, Form: goods.Physical},
			"cell":  {ID: "cell", Name: "Lantern cell", Price: money.Of(900, "EUR"), Stock: 0, Form: goods.Physical},
			"plans": {ID: "plans", Name: "Kite plans", Price: money.Of(1200, "EUR"), Form: goods.Digital},
		},
		Ledgers:   map[string][]ledger.Entry{"ember": {{Since: noon.AddDate(-1, 0, 0), Price: 6800}, {Since: noon.AddDate(0, 0, -1), Price: 5100}, {Since: end, Price: 6800}}},
		Deadlines: map[string]deadline.Deadline{"friday": {ID: "friday", Name: "Friday", At: end, Zone: "UTC"}},
		Offers:    []offer.Offer{{ID: "week", Name: "Lantern week", Kind: offer.PercentOff, Percent: decimal.NewFromInt(25), ProductID: "ember", Conditions: offer.Conditions{Ends: end}}},
	}}
}

func words(t pieces.Telling) string {
	text := ""
	for _, p := range t.Parts {
		text += p.Text
	}
	return text
}

func TestThePriceTellsWhereItComesFrom(t *testing.T) {
	p := m.Piece{Kind: "price", Fields: m.Fields{"product": "ember"}}
	assert.Equal(t, "Price of Ember 180 €68.00 €51.00 — saves €17.00, 25%, by Lantern week until Fri 27 Nov, 12:00", words(price.Kind.Tell(context(noon), p)))
	assert.Equal(t, "Price of Ember 180 €68.00, no offer holds", words(price.Kind.Tell(context(end), p)))
	unproved := context(noon)
	unproved.Facts.Ledgers = nil
	assert.Contains(t, words(price.Kind.Tell(unproved, p)), "€51.00 — no former price is shown: Nothing is recorded")
	none := price.Kind.Tell(context(noon), m.Piece{Kind: "price", Fields: m.Fields{"product": "gone"}})
	assert.True(t, none.Trouble)
	assert.Nil(t, price.Kind.View(context(noon), m.Piece{Fields: m.Fields{}}), "a visitor sees nothing rather than a wrong price")
}

func TestTheTimerTellsWhatHappensAtZero(t *testing.T) {
	p := m.Piece{Kind: "timer", Fields: m.Fields{"deadline": "friday", "then": "hide"}}
	assert.Equal(t, "Timer to Friday, Fri 27 Nov, 12:00 — then hidden", words(timer.Kind.Tell(context(noon), p)))
	assert.Contains(t, words(timer.Kind.Tell(context(end), p)), "passed")
	c := context(noon)
	require.NotNil(t, timer.Kind.View(c, p))
	assert.Equal(t, end, c.Until(), "the page holds until the deadline")
}

func travels(t *testing.T, sale checkout.Sale, bump bool) bool {
	t.Helper()
	c := context(noon)
	values := map[string]string{}
	if bump {
		values["bump"] = "1"
	}
	chosen, _ := sale.Read(values)
	q, err := c.Facts.Quote(sale.Cart(chosen), noon)
	require.NoError(t, err)
	return checkout.Travels(c.Facts, q)
}

func TestWhatACheckoutSells(t *testing.T) {
	fields := func(pairs ...string) m.Piece {
		f := m.Fields{}
		for i := 0; i < len(pairs); i += 2 {
			f[pairs[i]] = pairs[i+1]
			if pairs[i] == "bump" {
				f["bumps"] = []any{map[string]any{"product": pairs[i+1]}}
			}
		}
		return m.Piece{Kind: "checkout", Fields: f}
	}
	_, ok := checkout.Resolve(context(noon), fields())
	assert.False(t, ok, "nothing is chosen")

	sale, ok := checkout.Resolve(context(noon), fields("product", "ember", "bump", "plans"))
	require.True(t, ok)
	chosen, _ := sale.Read(map[string]string{"bump": "1"})
	assert.Len(t, sale.Cart(chosen), 2)
	assert.Len(t, sale.Cart(chosen.With()), 1)
	assert.True(t, travels(t, sale, false))

	sale, _ = checkout.Resolve(context(noon), fields("product", "ember", "bump", "cell"))
	assert.Empty(t, sale.Bumps, "what is sold out is not offered")
	sale, _ = checkout.Resolve(context(noon), fields("product", "ember", "bump", "ember"))
	assert.Empty(t, sale.Bumps, "nor the product itself again")
	sale, _ = checkout.Resolve(context(noon), fields("product", "cell"))
	assert.Contains(t, sale.Closed, "Sold out")
	sale, _ = checkout.Resolve(context(noon), fields("product", "plans"))
	assert.Empty(t, sale.Closed)
	assert.False(t, travels(t, sale, false))
	sale, _ = checkout.Resolve(context(noon), fields("product", "plans", "bump", "ember"))
	assert.False(t, travels(t, sale, false))
	assert.True(t, travels(t, sale, true), "a digital product with a physical bump")

	closing := fields("product", "ember", "deadline", "friday", "after", "close")
	c := context(noon)
	sale, _ = checkout.Resolve(c, closing)
	assert.Empty(t, sale.Closed)
	assert.Equal(t, end, c.Until())
	sale, _ = checkout.Resolve(context(end), closing)
	assert.Equal(t, "Orders closed on Friday 27 November 2026, 12:00, UTC.", sale.Closed)
	sale, _ = checkout.Resolve(context(end), fields("product", "ember", "deadline", "friday", "after", "sell"))
	assert.Empty(t, sale.Closed, "unless it goes on selling")
}

// What is added by an arrangement is valid, complete and different each time.
func TestArrangementsMakeValidBands(t *testing.T) {
	registry, err := all.Registry()
	require.NoError(t, err)
	n := 0
	id := func() string { n++; return "id-" + string(rune('a'+n/26)) + string(rune('a'+n%26)) }
	page := m.Page{Version: m.Version}
	for _, a := range all.Arrangements() {
		page.Bands = append(page.Bands, a.Band(registry.Schema(), id), a.Band(registry.Schema(), id))
	}
	require.NoError(t, registry.Schema().Validate(page))
	first := func(kind string) m.Piece {
		var found m.Piece
		page.Walk(func(_ m.Band, p m.Piece) {
			if p.Kind == kind && found.ID == "" {
				found = p
			}
		})
		return found
	}
	assert.Len(t, first("perks").Fields.List("items"), 3, "three perks to fill in")
	assert.Equal(t, "1", first("heading").Fields.Text("level"), "an opening's heading is the page's headline")
}

func TestTwoKindsOfOneNameAreRefused(t *testing.T) {
	_, err := pieces.NewRegistry(price.Kind, price.Kind)
	require.ErrorContains(t, err, `two kinds of piece are named "price"`)
}

func TestHoldsKeepsTheEarliestMomentToCome(t *testing.T) {
	c := &pieces.Context{Moment: noon}
	c.Holds(noon.Add(-time.Hour))
	c.Holds(noon)
	assert.True(t, c.Until().IsZero(), "what is over does not change again")
	c.Holds(noon.Add(2 * time.Hour))
	c.Holds(noon.Add(time.Hour))
	c.Holds(noon.Add(3 * time.Hour))
	assert.Equal(t, noon.Add(time.Hour), c.Until())
}

// Price, checkout and seal ask for the same carts; each is priced once, and every cart is
// its own.
func TestACartIsPricedOnce(t *testing.T) {
	c := context(noon)
	one, err := c.Quote(offer.Item{ProductID: "ember", Quantity: 1, Via: offer.Page})
	require.NoError(t, err)
	two, err := c.Quote(offer.Item{ProductID: "ember", Quantity: 2, Via: offer.Page})
	require.NoError(t, err)
	assert.NotEqual(t, one.Total, two.Total)
	c.Facts.Products = nil // what was priced needs them no more
	again, err := c.Quote(offer.Item{ProductID: "ember", Quantity: 1, Via: offer.Page})
	require.NoError(t, err)
	assert.Equal(t, one, again)
	_, err = c.Quote(offer.Item{ProductID: "ember", Quantity: 1, Via: offer.Upsell})
	require.Error(t, err, "another way is another cart")
}
