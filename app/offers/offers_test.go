package offers_test

import (
	"context"
	"testing"
	"time"

	"chrysagon/app/offers"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

func deadlineNamed(t *testing.T, shop *testkit.Shop, in offers.DeadlineInput) string {
	t.Helper()
	id, faults, err := shop.App.Offers.SaveDeadline(ctx, in)
	require.NoError(t, err)
	require.Empty(t, faults)
	return id
}

func offerNamed(t *testing.T, shop *testkit.Shop, in offers.OfferInput) string {
	t.Helper()
	id, faults, err := shop.App.Offers.SaveOffer(ctx, in)
	require.NoError(t, err)
	require.Empty(t, faults)
	return id
}

// What a change would do is told against the offer as it is kept, though both
// may hang on deadlines that repeat: here one that runs now gives way to one
// that does not.
func effectOf(t *testing.T, shop *testkit.Shop, in offers.OfferInput) (offers.Effect, error) {
	t.Helper()
	tried, faults, err := shop.App.Offers.Try(ctx, in, offers.Basket{})
	require.NoError(t, err)
	require.Empty(t, faults)
	return shop.App.Offers.Effect(ctx, tried)
}

func TestTheEffectOfAChangeIsToldAgainstWhatHolds(t *testing.T) {
	shop := testkit.Open(t)
	tomorrow := testkit.Start.Add(22 * time.Hour).Format("2006-01-02T15:04") // its end, which it runs 23 hours before
	runs := deadlineNamed(t, shop, offers.DeadlineInput{Name: "Every day", Kind: "repeating", Start: tomorrow, Rule: "FREQ=DAILY", RunsHours: 23})
	later := deadlineNamed(t, shop, offers.DeadlineInput{Name: "From spring", Kind: "repeating", Start: "2027-03-01T09:00", Rule: "FREQ=DAILY", RunsHours: 20})
	in := offers.OfferInput{Name: "Gull days", Kind: "percent_off", Value: "10", Goods: []string{"gull"}, DeadlineID: runs}
	in.ID = offerNamed(t, shop, in)
	shop.Clock.Advance(time.Hour)
	require.NoError(t, shop.App.Prices.KeepLedger(ctx))

	same, err := effectOf(t, shop, in)
	require.NoError(t, err)
	assert.Zero(t, same.Count, "nothing was changed: %+v", same)

	in.DeadlineID = later
	e, err := effectOf(t, shop, in)
	require.NoError(t, err)
	require.Equal(t, 1, e.Count, "it stops running for everybody")
	assert.Less(t, e.Moves[0].From.Minor, e.Moves[0].To.Minor)
}

// Ending an offer is one press, keeps the order of things that were bought
// with it, and can be pressed twice.
func TestAnOfferIsEndedOnce(t *testing.T) {
	shop := testkit.Open(t)
	id := offerNamed(t, shop, offers.OfferInput{Name: "Gull days", Kind: "amount_off", Value: "3.00", Goods: []string{"gull"}})
	before := shop.Number("SELECT list_minor - now_minor FROM (SELECT price_minor AS list_minor, now_minor FROM variants WHERE id = 'gull') v")
	require.Equal(t, int64(300), before)
	require.NoError(t, shop.App.Offers.EndOffer(ctx, id))
	require.NoError(t, shop.App.Offers.EndOffer(ctx, id), "again changes nothing")
	assert.Zero(t, shop.Number("SELECT price_minor - now_minor FROM variants WHERE id = 'gull'"))
	require.Error(t, shop.App.Offers.EndOffer(ctx, "no-such-offer"))
}

// What is wrong with an offer is said beside the field it was typed in, and
// nothing of it is kept.
func TestOffersAreRefusedByField(t *testing.T) {
	shop := testkit.Open(t)
	before := shop.Number("SELECT count(*) FROM offers")
	good := offers.OfferInput{Name: "Gull days", Kind: "percent_off", Value: "10", Goods: []string{"gull"}}
	for field, spoil := range map[string]func(*offers.OfferInput){
		"name":         func(in *offers.OfferInput) { in.Name = "" },
		"value":        func(in *offers.OfferInput) { in.Value = "101" },
		"goods":        func(in *offers.OfferInput) { in.Goods = nil },
		"shelf":        func(in *offers.OfferInput) { in.Covers, in.ShelfID = "shelf", "none such" },
		"steps":        func(in *offers.OfferInput) { in.Kind, in.Steps = "steps", "three: ten" },
		"min_quantity": func(in *offers.OfferInput) { in.MinQuantity = "-2" },
		"min_subtotal": func(in *offers.OfferInput) { in.MinSubtotal = "much" },
		"max_uses":     func(in *offers.OfferInput) { in.MaxUses = "0.5" },
		"starts":       func(in *offers.OfferInput) { in.Starts = "soon" },
		"deadline":     func(in *offers.OfferInput) { in.DeadlineID = "none such" },
		"countries":    func(in *offers.OfferInput) { in.Countries = "Atlantis" },
	} {
		in := good
		spoil(&in)
		_, faults, err := shop.App.Offers.SaveOffer(ctx, in)
		require.NoError(t, err, field)
		assert.NotEmpty(t, faults[field], "%s: %v", field, faults)
	}
	assert.Equal(t, before, shop.Number("SELECT count(*) FROM offers"))
}
