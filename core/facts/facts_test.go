package facts

import (
	"testing"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/goods"
	"chrysagon/core/ledger"
	"chrysagon/core/offer"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

var noon = time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)

// The least size that is not too small is sent: never one that a screen would
// have to enlarge while there is a larger one.
func TestAPictureIsHadAtTheLeastSizeThatFits(t *testing.T) {
	p := Picture{Path: "/pictures/d.webp", Sizes: []int{320, 640, 1280}}
	for width, want := range map[int]string{0: "320", 320: "320", 321: "640", 1280: "1280", 4000: "1280"} {
		assert.Equal(t, "/pictures/d.webp?w="+want, p.At(width), width)
	}
	assert.Equal(t, "/pictures/d.webp?w=1280", p.Shareable())
	drawn := Picture{Path: "/pictures/k.svg"}
	assert.Equal(t, "/pictures/k.svg", drawn.At(320))
	assert.Equal(t, "/pictures/k.png", drawn.Shareable(), "who shows cards draws no SVG")
	assert.Empty(t, drawn.Srcset())
	assert.Empty(t, Focus{50, 50}.Class())
	assert.Equal(t, "f0-100", Focus{0, 100}.Class())
}

func store() Facts {
	return Facts{
		Store:    Store{Currency: "EUR", Zone: "Europe/Lisbon"},
		Products: map[string]goods.Product{"ember": {ID: "ember", Name: "Ember 180", Price: eur(6800), Stock: 9}},
		Deadlines: map[string]deadline.Deadline{
			"friday": {ID: "friday", At: noon.Add(96 * time.Hour), Zone: "Europe/Lisbon"},
			"hour":   {ID: "hour", Kind: deadline.Span, Span: time.Hour, Zone: "Europe/Lisbon"},
		},
	}
}

func quarter() offer.Offer {
	return offer.Offer{ID: "week", Name: "Lantern week", Kind: offer.PercentOff, Percent: decimal.NewFromInt(25), ProductID: "ember"}
}

func price(t require.TestingT, f Facts, moment time.Time) int64 {
	q, err := f.Quote([]offer.Item{{ProductID: "ember", Quantity: 1, Via: offer.Page}}, moment)
	require.NoError(t, err)
	return q.Goods.Minor
}

// An offer bound to a fixed deadline ends in its instant, for everybody.
func TestAFixedDeadlineEndsItsOffer(t *testing.T) {
	f, o := store(), quarter()
	f.Bind(&o, "friday")
	f.Offers = []offer.Offer{o}
	end := f.Deadlines["friday"].At
	assert.EqualValues(t, 5100, price(t, f, end.Add(-time.Nanosecond)))
	assert.EqualValues(t, 6800, price(t, f, end))
	early := quarter()
	early.Ends = noon.Add(time.Hour)
	f.Bind(&early, "friday")
	assert.Equal(t, noon.Add(time.Hour), early.Ends, "one that ends by itself before keeps its end")
	late := quarter()
	late.Starts = end.Add(time.Hour)
	f.Bind(&late, "friday")
	f.Offers = []offer.Offer{late}
	assert.EqualValues(t, 6800, price(t, f, end.Add(2*time.Hour)), "one that would begin after its end never runs")
	unbound := quarter()
	f.Bind(&unbound, "no such deadline")
	assert.Equal(t, quarter(), unbound)
}

// A span runs from each visitor's own first sight.
func TestASpanEndsItsOfferForEachVisitor(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f, o := store(), quarter()
		f.Bind(&o, "hour")
		f.Offers = []offer.Offer{o}
		seen := noon.Add(time.Duration(rapid.IntRange(-7200, 7200).Draw(t, "seen")) * time.Second)
		moment := seen.Add(time.Duration(rapid.IntRange(0, 7200).Draw(t, "later")) * time.Second)
		f.Visitor = Visitor{FirstSeen: map[string]time.Time{"hour": seen}}
		want := int64(6800)
		if moment.Before(seen.Add(time.Hour)) {
			want = 5100
		}
		assert.Equal(t, want, price(t, f, moment))
		ended := o
		ended.Ends = seen.Add(10 * time.Minute)
		f.Offers = []offer.Offer{ended}
		if !moment.Before(ended.Ends) {
			assert.EqualValues(t, 6800, price(t, f, moment), "ended by hand, it is over for everybody")
		}
		assert.True(t, f.Offers[0].Windows == nil, "facts are not changed by being asked")
	})
}

func TestWhatMayBeStruckComesFromTheLedger(t *testing.T) {
	f := store()
	f.Ledgers = map[string][]ledger.Entry{"ember": {{Since: noon.AddDate(-1, 0, 0), Price: 6800}, {Since: noon.AddDate(0, 0, -1), Price: 5100}}}
	struck := f.Struck("ember", eur(5100), noon)
	require.NotNil(t, struck.Struck, struck.Reason)
	assert.EqualValues(t, 6800, struck.Struck.Minor, "the lowest of the thirty days before (Directive 98/6/EC, article 6a)")
	f.Ledgers = nil
	assert.Nil(t, f.Struck("ember", eur(5100), noon).Struck, "without a ledger nothing is struck")
}

// The public price is what anybody pays: no code, no context, no cost floor.
func TestThePublicPriceKnowsNoBuyer(t *testing.T) {
	f := store()
	coded := quarter()
	coded.Codes = []offer.Code{{Code: "FROST"}}
	f.Offers, f.Codes = []offer.Offer{coded}, []string{"FROST"}
	public, err := f.PublicPrice(f.Products["ember"], noon)
	require.NoError(t, err)
	assert.EqualValues(t, 6800, public)
	f.Offers = []offer.Offer{quarter()}
	public, err = f.PublicPrice(f.Products["ember"], noon)
	require.NoError(t, err)
	assert.EqualValues(t, 5100, public)
	f.Store.Currency = "XXX"
	_, err = f.PublicPrice(f.Products["ember"], noon)
	assert.Error(t, err)
}
