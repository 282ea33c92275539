package form_test

import (
	"fmt"
	"testing"
	"time"

	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/offer/form"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

var (
	stock = map[string]goods.Product{"ember": {ID: "ember", Name: "Ember 180"}, "gull": {ID: "gull", Name: "Gull 90"}, "line-30": {ID: "line-30", Name: "Line"}}
	known = form.Known{
		Currency: "EUR", Zone: "Europe/Lisbon", Products: stock, Shelves: map[string]bool{"night": true}, Steps: map[string]bool{"upsell": true},
		Deadlines: map[string]time.Time{"friday": time.Date(2026, 11, 27, 23, 59, 0, 0, time.UTC), "span": {}},
	}
)

// draw makes an offer of any kind, with any of its members and any conditions
// that a form can say.
func draw(t *rapid.T) (offer.Offer, form.Bound) {
	one := func(name string) bool { return rapid.Bool().Draw(t, name) }
	some := rapid.SampledFrom([]string{"ember", "gull", "line-30"})
	percent := func() decimal.Decimal { return decimal.New(rapid.Int64Range(1, 1_000_000).Draw(t, "percent"), -4) }
	amount := func() money.Money { return money.Of(rapid.Int64Range(1, 9_999_99).Draw(t, "amount"), "EUR") }
	o := offer.Offer{ID: "o", Name: "Frost", Kind: rapid.SampledFrom(offer.Kinds()).Draw(t, "kind"), Class: rapid.SampledFrom([]string{"", "frost"}).Draw(t, "class")}
	for _, m := range o.Kind.Members() {
		if m.Optional && one("no "+m.Name) {
			continue
		}
		switch m.Name {
		case "percent":
			if o.Amount.Minor == 0 {
				o.Percent = percent()
			}
		case "amount":
			if o.Percent.IsZero() {
				o.Amount = amount()
			}
		case "steps":
			sum := amount()
			o.Steps = []offer.Step{{From: 2, Percent: percent()}, {From: 5, Amount: &sum}}
		case "buy":
			o.Buy = rapid.IntRange(1, 20).Draw(t, "buy")
		case "get":
			o.Get = rapid.IntRange(1, 20).Draw(t, "get")
		case "parts":
			o.Parts = []offer.Part{{ProductID: "ember", Quantity: rapid.IntRange(1, 9).Draw(t, "of it")}, {ProductID: "line-30", Quantity: 2}}
		case "gift_id":
			o.GiftID = some.Draw(t, "gift")
		default:
			t.Fatalf("the test knows no %s", m.Name)
		}
	}
	var b form.Bound
	if !o.Kind.OnParts() {
		switch rapid.IntRange(0, 2).Draw(t, "on") {
		case 0:
			o.Products = []string{some.Draw(t, "on it")}
		case 1:
			b.ShelfID = "night"
		}
	}
	o.Alone = o.Class == "" && o.Kind.StandsAlone() && one("alone")
	o.Only = rapid.SampledFrom(offer.Ways).Draw(t, "only")
	o.FirstOrder, o.NotReduced, o.NeedsCode = one("first"), one("not reduced"), one("needs code")
	o.MinQuantity, o.MaxUses, o.MaxUsesEach = rapid.IntRange(0, 9).Draw(t, "least"), rapid.IntRange(0, 900).Draw(t, "uses"), rapid.IntRange(0, 9).Draw(t, "each")
	if one("subtotal") {
		o.MinSubtotal = amount()
	}
	if one("countries") {
		o.Countries = []string{"PT", "ES"}
	}
	if one("step") {
		o.Step, o.Link = "upsell", "spring-letter"
	}
	b.DeadlineID = rapid.SampledFrom([]string{"", "friday", "span"}).Draw(t, "deadline")
	if one("starts") { // as a form says it: to the minute, and at an hour that is not there twice
		o.Starts = time.Date(2026, 11, rapid.IntRange(1, 20).Draw(t, "day"), 9, 30, 0, 0, time.UTC)
	}
	if one("code") {
		b.Code, o.NeedsCode = "FROST-10", true
	}
	return o, b
}

// What is written for an offer reads as that offer again.
func TestWhatIsWrittenReadsTheSame(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		o, b := draw(t)
		in := form.Write(o, b, known.Zone)
		got, bound, faults := form.Read(in, known)
		require.Empty(t, faults, "%+v", in)
		assert.Equal(t, b, bound)
		assert.Equal(t, in, form.Write(got, bound, known.Zone), "and is written the same")
		if !o.Percent.Equal(got.Percent) {
			t.Fatalf("%s is read as %s", o.Percent, got.Percent)
		}
		for i := range o.Steps {
			if !o.Steps[i].Percent.Equal(got.Steps[i].Percent) {
				t.Fatalf("%s is read as %s", o.Steps[i].Percent, got.Steps[i].Percent)
			}
			got.Steps[i].Percent = o.Steps[i].Percent
		}
		got.Percent = o.Percent
		o.Starts, got.Starts = o.Starts.UTC(), got.Starts.UTC()
		assert.Equal(t, o, got)
	})
}

// Every kind says what is missing in a sentence under the field that misses it.
func TestWhatIsMissingIsSaid(t *testing.T) {
	for _, k := range offer.Kinds() {
		_, _, faults := form.Read(form.Input{Name: "Frost", Kind: string(k), Goods: []string{"ember"}}, known)
		for _, m := range k.Members() {
			if !m.Optional && m.Name != "get" { // buy and get are refused together
				assert.NotEmpty(t, faults[m.Name], "%s of %s", m.Name, k)
			}
		}
	}
	_, _, faults := form.Read(form.Input{Name: "Frost", Kind: "raffle", Goods: []string{"ember"}}, known)
	assert.Equal(t, "Choose what the offer does.", faults["kind"])
	_, _, faults = form.Read(form.Input{Name: "Frost", Kind: "gift", Goods: []string{"ember"}, Members: map[string]string{"gift_id": "gone"}}, known)
	assert.Equal(t, "Choose what is given.", faults["gift_id"])
}

func Example() {
	o, _, _ := form.Read(form.Input{
		Name: "Lines by the half-dozen", Kind: "steps", Members: map[string]string{"steps": "3: 10%, 6: 20%"}, Goods: []string{"line-30"},
	}, known)
	fmt.Println(o.Describe())
	_, _, faults := form.Read(form.Input{Name: "Frost", Kind: "percent_off", Members: map[string]string{"percent": "120"}, Goods: []string{"ember"}}, known)
	fmt.Println(faults["percent"])
	// Output:
	// up to 20% off from 6
	// Write a percentage above 0 and at most 100, such as 25.
}
