package main

import (
	"errors"
	"fmt"
	"reflect"
	"regexp"
	"time"
	"unicode/utf8"

	"chrysagon/core/deadline"
	"chrysagon/core/goods"
	"chrysagon/core/ledger"
	"chrysagon/core/offer"
	"chrysagon/core/shelf"
	"chrysagon/core/shipping"
	"chrysagon/internal/strict"

	"github.com/shopspring/decimal"
)

// enums are the types with few values, for the reader and the schemas alike. The
// empty value stands for a member that is left out.
var enums = map[reflect.Type][]string{
	reflect.TypeFor[offer.Kind]():        offer.KindNames(),
	reflect.TypeFor[offer.Via]():         texts(offer.Ways),
	reflect.TypeFor[goods.Form]():        texts(append([]goods.Form{""}, goods.Forms...)),
	reflect.TypeFor[goods.Condition]():   texts(append([]goods.Condition{""}, goods.Conditions...)),
	reflect.TypeFor[goods.Type]():        texts(goods.Types),
	reflect.TypeFor[shipping.By]():       texts([]shipping.By{shipping.Flat, shipping.Weight, shipping.Total}),
	reflect.TypeFor[shelf.Field]():       append([]string{"", string(shelf.Name)}, shelf.FieldNames()...),
	reflect.TypeFor[deadline.Kind]():     texts(append([]deadline.Kind{""}, deadline.Kinds...)),
	reflect.TypeFor[ledger.Regime]():     texts([]ledger.Regime{"", ledger.LowestOf30, ledger.Former}),
	reflect.TypeFor[ledger.Young]():      texts([]ledger.Young{"", ledger.YoungNone, ledger.YoungWhole}),
	reflect.TypeFor[ledger.Perishable](): texts([]ledger.Perishable{"", ledger.PerishableSame, ledger.PerishableNone, ledger.PerishableLast}),
}

func texts[T ~string](list []T) []string {
	out := make([]string, len(list))
	for i, v := range list {
		out[i] = string(v)
	}
	return out
}

// maxInput is how large an input may be, in bytes.
const maxInput = 256 << 20

// reader reads what the computations take.
var reader = strict.Reader{Most: maxInput, Enums: enums, Scalars: map[reflect.Type]strict.Scalar{
	reflect.TypeFor[decimal.Decimal](): asDecimal,
	reflect.TypeFor[goods.Value]():     asValue,
	reflect.TypeFor[time.Time]():       asMoment,
}}

var written = regexp.MustCompile(decimals)

// asDecimal takes a number, or one as text. It is bounded, as 1e999999999 would
// fill the memory when it is written out.
func asDecimal(n strict.Node) error {
	if (n.Kind == '"' && !written.MatchString(n.Text)) || (n.Kind == '0' && len(n.Text) > 40) || (n.Kind != '"' && n.Kind != '0') {
		return fmt.Errorf("%.40q; it must be a number, such as 12.5, or one as text", n.Text)
	}
	d, err := decimal.NewFromString(n.Text)
	if err != nil || d.Exponent() > 18 || d.Exponent() < -40 {
		return fmt.Errorf("%.40q; it must be a number within 18 digits before the point", n.Text)
	}
	return nil
}

func asValue(n strict.Node) error {
	switch n.Kind { //nolint:exhaustive // the last line is about all others
	case '"':
		if utf8.RuneCountInString(n.Text) > goods.MaxValue {
			return fmt.Errorf("it is longer than %d characters", goods.MaxValue)
		}
		return nil
	case '0':
		return asDecimal(n)
	case 't', 'f':
		return nil
	}
	return errors.New("a value is text, a number, true or false")
}

func asMoment(n strict.Node) error {
	const like = "it must be a moment (RFC 3339), such as 2026-11-27T23:59:00Z"
	if n.Kind != '"' {
		return errors.New(like)
	}
	if _, err := time.Parse(time.RFC3339, n.Text); err != nil {
		return fmt.Errorf("%.60q; %s", n.Text, like)
	}
	return nil
}
