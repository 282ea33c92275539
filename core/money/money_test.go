package money_test

import (
	"fmt"
	"testing"

	"chrysagon/core/money"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// Minor unit digits of ISO 4217, list one (from memory of the published table).
func TestDigitsFollowISO4217(t *testing.T) {
	for code, digits := range map[string]int{
		"JPY": 0, "KRW": 0, "CLP": 0, "EUR": 2, "USD": 2, "GBP": 2, "CHF": 2, "KWD": 3, "BHD": 3, "JOD": 3, "TND": 3,
	} {
		got, err := money.Digits(code)
		require.NoError(t, err, code)
		assert.Equal(t, digits, got, code)
	}
	for _, code := range []string{"", "EURO", "eur", "ZZZ"} {
		_, err := money.Digits(code)
		assert.Error(t, err, code)
	}
}

func TestPercentRoundsHalfAwayFromZero(t *testing.T) {
	for _, c := range []struct {
		minor   int64
		percent string
		want    int64
	}{{50, "1", 1}, {49, "1", 0}, {-50, "1", -1}, {6800, "75", 5100}, {3333, "33.3333", 1111}, {1, "50", 1}, {3, "50", 2}} {
		assert.Equal(t, c.want, money.Of(c.minor, "EUR").Percent(decimal.RequireFromString(c.percent)).Minor, "%s%% of %d", c.percent, c.minor)
	}
}

func TestSavingIsNeverOverstated(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		list := rapid.Int64Range(1, money.Limit/1000).Draw(t, "list")
		price := rapid.Int64Range(0, list).Draw(t, "price")
		percent := int64(money.SavingPercent(money.Of(list, "EUR"), money.Of(price, "EUR")))
		if percent*list > (list-price)*100 {
			t.Fatalf("%d%% claims more than %d of %d", percent, list-price, list)
		}
	})
	assert.Equal(t, 33, money.SavingPercent(money.Of(300, "EUR"), money.Of(200, "EUR")), "a third is 33, not 34")
	assert.Zero(t, money.SavingPercent(money.Of(100, "EUR"), money.Of(150, "EUR")))
}

func TestSplitAddsUpAndIsFair(t *testing.T) {
	parts, err := money.Of(100, "EUR").Split([]int64{1, 1, 1})
	require.NoError(t, err)
	assert.Equal(t, []int64{34, 33, 33}, minors(parts), "ties go to the earlier part")
	rapid.Check(t, func(t *rapid.T) {
		amount := rapid.Int64Range(-1_000_000, 1_000_000).Draw(t, "amount")
		weights := rapid.SliceOfN(rapid.Int64Range(0, 5000), 1, 12).Draw(t, "weights")
		parts, err := money.Of(amount, "EUR").Split(weights)
		require.NoError(t, err)
		var sum, total int64
		for _, w := range weights {
			total += w
		}
		for i, p := range parts {
			sum += p.Minor
			if total > 0 {
				exact := float64(amount) * float64(weights[i]) / float64(total)
				if d := float64(p.Minor) - exact; d > 1 || d < -1 {
					t.Fatalf("part %d is %d, exactly %f", i, p.Minor, exact)
				}
			}
		}
		if sum != amount {
			t.Fatalf("parts add up to %d, not %d", sum, amount)
		}
	})
	_, err = money.Of(1, "EUR").Split([]int64{1, -1})
	require.Error(t, err)
}

func minors(parts []money.Money) []int64 {
	out := make([]int64, len(parts))
	for i, p := range parts {
		out[i] = p.Minor
	}
	return out
}

func TestWrittenAmountsAreReadBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m := money.Of(rapid.Int64Range(0, money.Limit).Draw(t, "minor"), rapid.SampledFrom([]string{"EUR", "JPY", "KWD", "SEK"}).Draw(t, "currency"))
		back, err := money.Parse(m.Plain(), m.Currency)
		if err != nil || back != m {
			t.Fatalf("%v became %q became %v (%v)", m, m.Plain(), back, err)
		}
	})
}

func TestParseRefusesWhatIsNotAnAmount(t *testing.T) {
	for _, text := range []string{"", "abc", "-5", "+5", "1.2.3", "1,000.00", "5.001", "1e5", ".5", "99999999999999999999"} {
		_, err := money.Parse(text, "EUR")
		assert.Error(t, err, text)
	}
	m, err := money.Parse(" € 51,00 ", "EUR")
	require.NoError(t, err)
	assert.Equal(t, money.Of(5100, "EUR"), m)
}

func TestCurrenciesDoNotMix(t *testing.T) {
	_, err := money.Of(1, "EUR").Add(money.Of(1, "USD"))
	require.ErrorIs(t, err, money.ErrMixed)
}

func ExampleMoney_String() {
	fmt.Println(money.Of(123456, "EUR"), money.Of(5100, "JPY"), money.Of(51000, "KWD"), money.Of(-200, "EUR"))
	// Output: €1,234.56 ¥5,100 KWD 51.000 −€2.00
}
