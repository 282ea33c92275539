package facts

import (
	"testing"

	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/shipping"
	"chrysagon/core/tax"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
)

func eur(minor int64) money.Money { return money.Of(minor, "EUR") }

func iva(minor int64) tax.Share {
	return tax.Share{Name: "IVA", Percent: decimal.NewFromInt(23), Tax: eur(minor)}
}

func TestSumsSayWhatStandsBetweenGoodsAndTotal(t *testing.T) {
	q := offer.Quote{
		Reductions:  []offer.Reduction{{Name: "Kite club", Off: eur(500)}},
		Shipping:    offer.Sending{Cost: shipping.Cost{Zone: "Iberia", Why: "by weight"}, Total: eur(390)},
		Taxes:       []tax.Share{iva(1085)},
		TaxIncluded: true,
	}
	assert.Equal(t, []Row{sum("Kite club", eur(-500)), sum("Delivery", eur(390)), sum("IVA 23%, included", eur(1085))}, Sums(q))
	assert.Equal(t, "−€5.00", Sums(q)[0].Value)
}

// One receipt for two payments names each rate once.
func TestTogetherAddsUpWhatHasOneName(t *testing.T) {
	first := []Row{{Label: "Delivery", Value: "free"}, sum("IVA 23%, included", eur(1085))}
	upsell := []Row{{Label: "Delivery", Value: "included"}, sum("IVA 23%, included", eur(445)), sum("IVA 6%, included", eur(12))}
	assert.Equal(t, []Row{
		{Label: "Delivery", Value: "free"},
		sum("IVA 23%, included", eur(1530)),
		sum("IVA 6%, included", eur(12)),
	}, Together(first, upsell))
	assert.Equal(t, "€15.30", Together(first, upsell)[1].Value)
}

// A charge that only a later payment has replaces the words of the first.
func TestTogetherKeepsALaterCharge(t *testing.T) {
	assert.Equal(t, []Row{sum("Delivery", eur(390))}, Together([]Row{{Label: "Delivery", Value: "free"}}, []Row{sum("Delivery", eur(390))}))
	assert.Empty(t, Together())
}
