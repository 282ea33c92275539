package offers_test

import (
	"context"
	"slices"
	"testing"
	"time"

	"chrysagon/app/offers"
	"chrysagon/core/offer"
	"chrysagon/core/offer/form"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/gorm"
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
	in := offers.OfferInput{Name: "Gull days", Kind: "percent_off", Members: map[string]string{"percent": "10"}, Goods: []string{"gull"}, DeadlineID: runs}
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
	id := offerNamed(t, shop, offers.OfferInput{Name: "Gull days", Kind: "amount_off", Members: map[string]string{"amount": "3.00"}, Goods: []string{"gull"}})
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
	good := offers.OfferInput{Name: "Gull days", Kind: "percent_off", Members: map[string]string{"percent": "10"}, Goods: []string{"gull"}}
	for field, spoil := range map[string]func(*offers.OfferInput){
		"name":         func(in *offers.OfferInput) { in.Name = "" },
		"percent":      func(in *offers.OfferInput) { in.Members = map[string]string{"percent": "101"} },
		"goods":        func(in *offers.OfferInput) { in.Goods = nil },
		"shelf":        func(in *offers.OfferInput) { in.Covers, in.ShelfID = "shelf", "none such" },
		"steps":        func(in *offers.OfferInput) { in.Kind, in.Members = "steps", map[string]string{"steps": "three: ten"} },
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

// The database holds an offer to what its kind always has, and knows the kinds
// that the program has.
func TestTheDatabaseHoldsOffersToTheirKinds(t *testing.T) {
	shop := testkit.Open(t)
	assert.Equal(t, int64(len(offer.Kinds())), shop.Number("SELECT count(*) FROM offer_kinds"))
	put := "INSERT INTO offers (id, name, kind, percent, amount_minor, created_at) VALUES ('x', 'X', ?, ?, ?, now())"
	for _, k := range offer.Kinds() {
		err := shop.Store.DB.Transaction(func(tx *gorm.DB) error { return tx.Exec(put, k, 0, 0).Error })
		_, percent := k.Needs("percent")
		_, amount := k.Needs("amount")
		assert.Equal(t, percent || amount, err != nil, "%s: %v", k, err)
		shop.Exec("DELETE FROM offers WHERE id = 'x'")
	}
	assert.Error(t, shop.Store.DB.Transaction(func(tx *gorm.DB) error { return tx.Exec(put, "raffle", 1, 1).Error }))

	// A kind of an earlier or later program is forgotten, unless an offer is of it.
	shop.Exec("INSERT INTO offer_kinds VALUES ('raffle', true, false), ('lottery', false, false)")
	shop.Exec("INSERT INTO offers (id, name, kind, percent, created_at) VALUES ('x', 'X', 'raffle', 10, now())")
	require.NoError(t, shop.App.Offers.NoteKinds(ctx))
	assert.Zero(t, shop.Number("SELECT count(*) FROM offer_kinds WHERE kind = 'lottery'"))
	assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM offer_kinds WHERE kind = 'raffle'"))
}

// An offer of every kind comes back from the database as it was typed.
func TestAnOfferIsKeptAsTyped(t *testing.T) {
	shop := testkit.Open(t)
	typed := map[string]string{"percent": "12.5", "amount": "9.00", "steps": "2: 10%, 5: 8.00", "buy": "2", "get": "1", "parts": "ember×1, gull×2", "gift_id": "gull"}
	for _, k := range offer.Kinds() {
		in := offers.OfferInput{
			Name: string(k), Kind: string(k), Goods: []string{"gull"}, MinSubtotal: "25.00", MinQuantity: "2", Countries: "PT, ES", Link: "spring-letter", FirstOrder: true,
			Members: map[string]string{},
		}
		for _, m := range k.Members() {
			if !m.Optional {
				in.Members[m.Name] = typed[m.Name]
			}
		}
		in.ID = offerNamed(t, shop, in)
		list, err := shop.App.Offers.OfferRecords(ctx)
		require.NoError(t, err)
		i := slices.IndexFunc(list, func(o offers.OfferRecord) bool { return o.ID == in.ID })
		require.GreaterOrEqual(t, i, 0)
		got := form.Write(list[i].Rule, form.Bound{}, "Europe/Lisbon")
		for _, m := range k.Members() {
			if m.Optional && in.Members[m.Name] == "" {
				delete(got.Members, m.Name)
			}
		}
		if k.OnParts() {
			in.Goods = nil
		}
		in.Covers = "goods"
		assert.Equal(t, in, got, "%s", k)
	}
}
