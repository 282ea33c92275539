package sharing

import (
	"testing"
	"time"

	"chrysagon/app/offers"
	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/offer"
	"chrysagon/store"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var noon = time.Date(2026, 11, 27, 12, 0, 0, 0, time.UTC)

func at(hours int) *time.Time { t := noon.Add(time.Duration(hours) * time.Hour); return &t }

// How an offer stands is said as of a moment, and on what it is.
func TestHowAnOfferStands(t *testing.T) {
	until := "friday"
	c := offers.Choices{
		Store: facts.Store{Zone: "Europe/Lisbon"}, Products: []goods.Product{{ID: "ember", Name: "Ember 180"}},
		Deadlines: []deadline.Deadline{{ID: until, Name: "Lantern Friday", Kind: deadline.Fixed, At: *at(5), Zone: "Europe/Lisbon"}},
	}
	week := func(change func(*offers.OfferRecord)) OfferRow {
		o := offers.OfferRecord{Offer: store.Offer{ID: "o", Name: "Lantern week"}, Goods: []string{"ember"}, Rule: offer.Offer{Kind: offer.PercentOff, Percent: decimal.NewFromInt(25)}}
		change(&o)
		return RowOf(o, c, c.Names(), noon)
	}
	r := week(func(o *offers.OfferRecord) { o.StartsAt, o.DeadlineID = at(-24), &until })
	assert.Equal(t, "25% off", r.Does)
	assert.Equal(t, "Ember 180", r.On)
	assert.Contains(t, r.Window, "until Lantern Friday")
	assert.Equal(t, "holds now", r.Status)
	assert.Equal(t, "to come", week(func(o *offers.OfferRecord) { o.Rule.Starts = *at(1) }).Status)
	assert.Equal(t, "ended", week(func(o *offers.OfferRecord) { o.Rule.Ends = *at(-1) }).Status)
	assert.Equal(t, "ended by hand", week(func(o *offers.OfferRecord) { o.EndedAt = at(-1) }).Status)
	assert.Equal(t, "everything", week(func(o *offers.OfferRecord) { o.General, o.Goods = true, nil }).On)
	assert.Equal(t, "used 3 of 10", week(func(o *offers.OfferRecord) { o.MaxUses, o.Used = 10, 3 }).Uses)
	assert.Equal(t, "2 codes", week(func(o *offers.OfferRecord) { o.Codes = 2 }).Uses)

	c.Offers = []offers.OfferRecord{
		{Offer: store.Offer{ID: "a", Name: "Here", DeadlineID: &until}, Goods: []string{"ember"}},
		{Offer: store.Offer{ID: "b", Name: "Elsewhere"}, Goods: []string{"gull"}},
		{Offer: store.Offer{ID: "c", Name: "Over", EndedAt: at(-1)}, Goods: []string{"ember"}},
	}
	on := OffersOn("ember", c, noon)
	require.Len(t, on, 1)
	assert.Equal(t, "Here", on[0].Name)
	assert.Equal(t, []string{"Here"}, Shared(until, c, noon).Offers)
	assert.Nil(t, Shared("none", c, noon))
}
