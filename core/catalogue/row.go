package catalogue

import (
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"chrysagon/core/goods"
	"chrysagon/core/money"

	"github.com/shopspring/decimal"
)

// Row is one of the goods as a line of a table says it. Columns that the file
// does not have are not Set, and are left as they are.
type Row struct {
	Line        int                    `json:"-"`
	SKU         string                 `json:"sku"`
	Product     string                 `json:"product"`
	Name        string                 `json:"name"`
	Label       string                 `json:"variant"`
	Form        goods.Form             `json:"form"`
	Category    string                 `json:"category"`
	Tags        []string               `json:"tags"`
	Price       int64                  `json:"price"` // minor units
	Cost        *int64                 `json:"cost"`
	Stock       int                    `json:"stock"`
	Weight      int                    `json:"weight_grams"`
	Condition   goods.Condition        `json:"condition"`
	Received    string                 `json:"received"` // a date, or nothing
	TaxClass    string                 `json:"tax_class"`
	Perishable  bool                   `json:"perishable"`
	Description string                 `json:"description"`
	Attributes  map[string]goods.Value `json:"attributes"`
	Set         map[Column]bool        `json:"-"`
}

// reader turns fields into rows.
type reader struct {
	mapping  Mapping
	currency string
	digits   int
	decimal  byte
	types    map[Column]goods.Attribute
}

func newReader(s *Sheet, m Mapping, currency string) (*reader, error) {
	if len(m) != len(s.Header) {
		return nil, errors.New("the columns do not belong to this file; choose the file again")
	}
	if !slices.Contains(m, SKU) {
		return nil, errors.New("no column is the SKU, by which goods are known. Choose which column it is")
	}
	types := map[Column]goods.Attribute{}
	for _, a := range s.Attributes {
		types[Column(a.Name)] = a
	}
	digits, err := money.Digits(currency)
	if err != nil {
		return nil, err
	}
	return &reader{mapping: m, currency: currency, digits: digits, decimal: s.Decimal, types: types}, nil
}

func (r *reader) row(fields []string, line int) (Row, *Fault) {
	row := Row{Line: line, Set: make(map[Column]bool, len(r.mapping))}
	if len(fields) > len(r.mapping) {
		return row, &Fault{Line: line, Reason: fmt.Sprintf("has %d columns, the first line has %d. Put values with the separator in them in quotes", len(fields), len(r.mapping))}
	}
	for i, c := range r.mapping {
		if c == Ignore || i >= len(fields) {
			continue
		}
		value := unguard(strings.TrimSpace(fields[i]))
		if !utf8.ValidString(value) || c != Description && utf8.RuneCountInString(value) > 500 {
			return row, &Fault{Line: line, Column: string(c), Reason: "is longer than 500 characters"}
		}
		row.Set[c] = true
		if err := r.set(&row, c, strings.Clone(value)); err != nil {
			return row, &Fault{Line: line, Column: string(c), Value: value, Reason: err.Error()}
		}
	}
	if row.SKU == "" {
		return row, &Fault{Line: line, Column: string(SKU), Reason: "is empty; goods are known by it"}
	}
	return row, nil
}

func (r *reader) set(row *Row, c Column, v string) error {
	var err error
	switch c {
	case SKU:
		row.SKU = v
		if utf8.RuneCountInString(v) > 60 {
			return errors.New("is longer than 60 characters")
		}
	case Product:
		row.Product = v
	case Name:
		if row.Name = v; v == "" {
			return errors.New("is empty")
		}
	case Label:
		row.Label = v
	case Form:
		row.Form = goods.Form(strings.ToLower(v))
		if v != "" && !slices.Contains(goods.Forms, row.Form) {
			return errors.New("must be physical, digital or bookable")
		}
	case Category:
		row.Category = v
	case Tags:
		row.Tags = tags(v)
	case Price:
		row.Price, err = r.amount(v)
	case Cost:
		if v != "" {
			var cost int64
			cost, err = r.amount(v)
			row.Cost = &cost
		}
	case Stock:
		row.Stock, err = r.whole(v, 1_000_000_000)
	case Weight:
		row.Weight, err = r.whole(v, 100_000_000)
	case Condition:
		row.Condition = goods.Condition(strings.ToLower(v))
		if v != "" && !slices.Contains(goods.Conditions, row.Condition) {
			return errors.New("must be new, returned or ex-demo")
		}
	case Received:
		row.Received, err = date(v)
	case TaxClass:
		row.TaxClass = v
	case Perishable:
		row.Perishable, err = yes(v)
	case Description:
		row.Description, err = goods.Description(v)
	case Ignore:
	default:
		err = r.attribute(row, c, v)
	}
	return err
}

func tags(v string) []string {
	var out []string
	for t := range strings.FieldsFuncSeq(strings.ToLower(v), func(r rune) bool { return r == ',' || r == ';' || r == '|' }) {
		if t = strings.TrimSpace(t); t != "" && !slices.Contains(out, t) {
			out = append(out, t)
		}
	}
	return out
}

// amount reads an amount of money into minor units. More digits than the
// currency has are refused, not rounded.
func (r *reader) amount(v string) (int64, error) {
	n, err := r.number(v)
	if err != nil {
		return 0, err
	}
	minor := n.Shift(int32(r.digits))
	switch {
	case !minor.IsInteger():
		return 0, fmt.Errorf("has more digits after the point than %s", r.currency)
	case minor.IsNegative():
		return 0, errors.New("is below zero")
	case minor.GreaterThan(decimal.NewFromInt(money.Limit)):
		return 0, errors.New("is too large")
	}
	return minor.IntPart(), nil
}

// number reads a number with the file's decimal mark. Marks of thousands must
// stand before groups of three.
func (r *reader) number(v string) (decimal.Decimal, error) {
	const say = "is not a number"
	text := strings.Map(func(c rune) rune {
		if c == '\u00a0' || c == '\u202f' || c == ' ' || c == '\'' || c == '’' {
			return -1
		}
		return c
	}, v)
	for _, cut := range []string{r.currency, "€", "$", "£", "¥"} {
		text = strings.TrimSuffix(strings.TrimPrefix(text, cut), cut)
	}
	thousands := byte(',')
	if r.decimal == ',' {
		thousands = '.'
	}
	head, tail, parted := strings.Cut(text, string(r.decimal))
	groups := strings.Split(head, string(thousands))
	for i, g := range groups {
		if i > 0 && (len(g) != 3 || len(groups[0]) > 3) {
			return decimal.Zero, errors.New(say + fmt.Sprintf("; this file writes decimals with %q", string(r.decimal)))
		}
	}
	plain := strings.Join(groups, "")
	if parted {
		plain += "." + tail
	}
	if plain == "" || len(plain) > 30 || strings.Trim(plain, "-.0123456789") != "" {
		return decimal.Zero, errors.New(say)
	}
	n, err := decimal.NewFromString(plain)
	if err != nil {
		return n, errors.New(say)
	}
	return n, nil
}

func (r *reader) whole(v string, most int64) (int, error) {
	if v == "" {
		return 0, nil
	}
	n, err := r.number(v)
	if err != nil {
		return 0, err
	}
	if !n.IsInteger() || n.IsNegative() || n.GreaterThan(decimal.NewFromInt(most)) {
		return 0, fmt.Errorf("must be a whole number from 0 to %d", most)
	}
	return int(n.IntPart()), nil
}

// date reads the forms of a date that cannot be mistaken for one another.
func date(v string) (string, error) {
	if v == "" {
		return "", nil
	}
	for _, layout := range []string{time.DateOnly, "2006/01/02", "02.01.2006", "2.1.2006", "2 January 2006", "2 Jan 2006", time.RFC3339} {
		if at, err := time.Parse(layout, v); err == nil && at.Year() > 1900 && at.Year() < 2200 {
			return at.Format(time.DateOnly), nil
		}
	}
	return "", errors.New("is not a date; write it like 2026-11-27")
}

func yes(v string) (bool, error) {
	switch strings.ToLower(v) {
	case "yes", "y", "true", "1", "x", "sim", "ja", "oui", "sí":
		return true, nil
	case "", "no", "n", "false", "0", "não", "nein", "non":
		return false, nil
	}
	return false, errors.New("must be yes or no")
}

func (r *reader) attribute(row *Row, c Column, v string) error {
	a, ok := r.types[c]
	if !ok {
		return errors.New("there is no attribute of this name")
	}
	if row.Attributes == nil {
		row.Attributes = map[string]goods.Value{}
	}
	if v == "" {
		return nil // not known of this one
	}
	switch a.Type {
	case goods.Number:
		n, err := r.number(strings.TrimSpace(strings.TrimSuffix(v, a.Unit)))
		if err != nil {
			return err
		}
		row.Attributes[a.Name] = goods.Value{Type: goods.Number, Number: n}
	case goods.YesNo:
		is, err := yes(v)
		if err != nil {
			return err
		}
		row.Attributes[a.Name] = goods.YesOf(is)
	case goods.Text:
		if utf8.RuneCountInString(v) > goods.MaxValue {
			return fmt.Errorf("is longer than %d characters", goods.MaxValue)
		}
		row.Attributes[a.Name] = goods.TextOf(v)
	}
	return nil
}

// Header is the first line of a table with these attributes.
func Header(attributes []goods.Attribute) []string {
	var out []string
	for _, c := range Columns {
		out = append(out, string(c))
	}
	for _, a := range attributes {
		out = append(out, a.Name)
	}
	return out
}

// Fields writes a row so that it comes back in unchanged.
func (row Row) Fields(currency string, attributes []goods.Attribute) []string {
	cost := ""
	if row.Cost != nil {
		cost = money.Of(*row.Cost, currency).Plain()
	}
	perishable := "no"
	if row.Perishable {
		perishable = "yes"
	}
	out := []string{
		row.SKU, row.Product, row.Name, row.Label, string(row.Form), row.Category, strings.Join(row.Tags, ", "), money.Of(row.Price, currency).Plain(), cost,
		strconv.Itoa(row.Stock), strconv.Itoa(row.Weight), string(row.Condition), row.Received, row.TaxClass, perishable, row.Description,
	}
	for _, a := range attributes {
		v, ok := row.Attributes[a.Name]
		text := ""
		if ok {
			text = v.String()
		}
		out = append(out, text)
	}
	return out
}

// Guard makes a field safe for spreadsheets, which take what begins with these
// signs for a formula; the reader takes the mark off again.
func Guard(field string) string {
	if field != "" && strings.IndexByte("=+@\t\r'", field[0]) >= 0 {
		return "'" + field
	}
	return field
}

// Guarded is a row of people's own words, each field made safe. No number stands in such a
// row, so a minus is one more sign that begins a formula.
func Guarded(fields []string) []string {
	for i, f := range fields {
		if strings.HasPrefix(f, "-") {
			fields[i] = "'" + f
		} else {
			fields[i] = Guard(f)
		}
	}
	return fields
}

func unguard(field string) string {
	if len(field) > 1 && field[0] == '\'' && Guard(field[1:]) == field {
		return field[1:]
	}
	return field
}
