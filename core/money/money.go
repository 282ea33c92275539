// Package money holds amounts as whole minor units of an ISO 4217 currency.
//
// No floating point comes near an amount. Rates and percentages are decimals,
// and every rounding is half away from zero, done once, where a rule says so.
package money

import (
	"cmp"
	"errors"
	"fmt"
	"math/bits"
	"slices"
	"strconv"
	"strings"

	"github.com/shopspring/decimal"
	"golang.org/x/text/currency"
)

// ErrMixed says that amounts of two currencies met in one computation.
var ErrMixed = errors.New("amounts of two currencies cannot be computed together")

// ErrTooLarge says that an amount is beyond what the program computes with.
var ErrTooLarge = errors.New("the amount is too large")

// Limit is the largest amount, in minor units, that is accepted from outside.
// It leaves room to multiply by any allowed quantity without overflow.
const Limit = int64(1_000_000_000_000)

// Money is an amount in minor units (cents for EUR, yen for JPY, fils for KWD).
type Money struct {
	Minor    int64  `json:"minor"`
	Currency string `json:"currency"`
}

// Of makes an amount of minor units of a currency.
func Of(minor int64, code string) Money { return Money{Minor: minor, Currency: code} }

// Digits tells how many digits stand after the point in a currency:
// 0 for JPY, 2 for EUR, 3 for KWD (ISO 4217, through golang.org/x/text).
func Digits(code string) (int, error) {
	unit, err := currency.ParseISO(code)
	if err != nil || code != strings.ToUpper(code) {
		return 0, fmt.Errorf("%q is not an ISO 4217 currency code, such as EUR", code)
	}
	digits, _ := currency.Standard.Rounding(unit)
	return digits, nil
}

// Add returns m + o.
func (m Money) Add(o Money) (Money, error) {
	if m.Currency != o.Currency {
		return Money{}, fmt.Errorf("%s and %s: %w", m.Currency, o.Currency, ErrMixed)
	}
	return Money{m.Minor + o.Minor, m.Currency}, nil
}

// Sub returns m - o.
func (m Money) Sub(o Money) (Money, error) { return m.Add(Money{-o.Minor, o.Currency}) }

// Times returns m taken n times.
func (m Money) Times(n int) Money { return Money{m.Minor * int64(n), m.Currency} }

// Percent returns percent hundredths of m, rounded half away from zero.
func (m Money) Percent(percent decimal.Decimal) Money {
	part := decimal.NewFromInt(m.Minor).Mul(percent).Shift(-2).Round(0)
	return Money{part.IntPart(), m.Currency}
}

// Split divides m by weights so that the parts add up to m exactly: by largest
// remainder, ties going to the earlier part. Weights must not be negative;
// when all are zero the first part takes everything.
func (m Money) Split(weights []int64) ([]Money, error) {
	if len(weights) == 0 {
		return nil, errors.New("an amount cannot be split into no parts")
	}
	var total, carry uint64
	for i, w := range weights {
		if w < 0 {
			return nil, fmt.Errorf("weight %d is negative", i+1)
		}
		if total, carry = bits.Add64(total, uint64(w), 0); carry != 0 {
			return nil, errors.New("the weights add up to more than can be computed with")
		}
	}
	parts := make([]Money, len(weights))
	for i := range parts {
		parts[i].Currency = m.Currency
	}
	if total == 0 {
		parts[0].Minor = m.Minor
		return parts, nil
	}
	sign, amount := int64(1), uint64(m.Minor)
	if m.Minor < 0 {
		sign, amount = -1, -amount
	}
	// A share is at most the amount, so the quotient of the 128-bit product fits.
	left := amount
	rest := make([]uint64, len(weights))
	order := make([]int, len(weights))
	for i, w := range weights {
		hi, lo := bits.Mul64(amount, uint64(w))
		q, r := bits.Div64(hi, lo, total)
		parts[i].Minor, rest[i], order[i] = int64(q), r, i
		left -= q
	}
	if left > 0 {
		slices.SortFunc(order, func(a, b int) int { return cmp.Or(cmp.Compare(rest[b], rest[a]), a-b) })
	}
	for _, i := range order[:left] {
		parts[i].Minor++
	}
	for i := range parts {
		parts[i].Minor *= sign
	}
	return parts, nil
}

// SavingPercent tells how much cheaper price is than list, in whole percent
// rounded down, so that a saving is never overstated. It is 0 when there is none.
func SavingPercent(list, price Money) int {
	if list.Minor <= 0 || price.Minor >= list.Minor {
		return 0
	}
	saved := decimal.NewFromInt(list.Minor - price.Minor).Mul(decimal.NewFromInt(100))
	whole, _ := saved.QuoRem(decimal.NewFromInt(list.Minor), 0)
	return int(whole.IntPart())
}

var symbols = map[string]string{"EUR": "€", "USD": "$", "GBP": "£", "JPY": "¥"}

// String writes the amount as a visitor reads it: €51.00, ¥5,100, KWD 51.000.
func (m Money) String() string {
	digits, err := Digits(m.Currency)
	if err != nil {
		return fmt.Sprintf("%d minor units of %s", m.Minor, m.Currency)
	}
	sign, minor := "", m.Minor
	if minor < 0 {
		sign, minor = "−", -minor
	}
	whole := decimal.New(minor, int32(-digits)).StringFixed(int32(digits))
	head, tail, _ := strings.Cut(whole, ".")
	for i := len(head) - 3; i > 0; i -= 3 {
		head = head[:i] + "," + head[i:]
	}
	if tail != "" {
		head += "." + tail
	}
	if symbol, ok := symbols[m.Currency]; ok {
		return sign + symbol + head
	}
	return sign + m.Currency + " " + head
}

// Plain writes the amount as it is typed into a field: 51.00.
func (m Money) Plain() string {
	digits, _ := Digits(m.Currency)
	return decimal.New(m.Minor, int32(-digits)).StringFixed(int32(digits))
}

// Parse reads an amount as an owner types it: "51", "51.00", "51,00", "€ 51.00".
// More digits than the currency has, signs and anything else are refused.
func Parse(text, code string) (Money, error) {
	digits, err := Digits(code)
	if err != nil {
		return Money{}, err
	}
	clean := strings.TrimSpace(text)
	for _, cut := range []string{symbols[code], code} {
		clean = strings.TrimSpace(strings.TrimPrefix(clean, cut))
	}
	clean = strings.Replace(clean, ",", ".", 1)
	head, tail, _ := strings.Cut(clean, ".")
	if head == "" || strings.Trim(head+tail, "0123456789") != "" {
		return Money{}, fmt.Errorf("%q is not an amount; write it like %s", text, Of(5100, code).Plain())
	}
	if len(tail) > digits {
		return Money{}, fmt.Errorf("%s has %d digits after the point, %q has %d", code, digits, text, len(tail))
	}
	minor, err := strconv.ParseInt(head+tail+strings.Repeat("0", digits-len(tail)), 10, 64)
	if err != nil || minor > Limit {
		return Money{}, fmt.Errorf("%q: %w", text, ErrTooLarge)
	}
	return Of(minor, code), nil
}
