package shelf

import (
	"slices"
	"sort"
	"strings"
	"time"

	"chrysagon/core/goods"

	"github.com/shopspring/decimal"
)

// Field is what a condition looks at.
type Field string

// The fields.
const (
	Price         Field = "price"          // promotional price, minor units
	ListPrice     Field = "list_price"     // minor units
	Saving        Field = "saving"         // list price less promotional price, minor units
	SavingPercent Field = "saving_percent" // whole percent, rounded down
	Category      Field = "category"
	Tag           Field = "tag"
	Condition     Field = "condition"
	Attribute     Field = "attribute" // any typed attribute, by name
	DaysInStock   Field = "days_in_stock"
	Stock         Field = "stock"
	Sales         Field = "sales"       // units sold in the last Days days
	DaysListed    Field = "days_listed" // since it was added
	Added         Field = "added"       // since a date
	Name          Field = "name"        // for order only
)

// field says how one field is read. number gives what is bounded and ordered;
// among compares with one value of a list; text orders by words.
type field struct {
	number func(Entry, Sight, Rule) (decimal.Decimal, bool)
	among  func(Entry, Rule, goods.Value) bool
	text   func(Entry) string
	label  string
	money  bool
}

var fields = map[Field]field{
	Price:     {label: "price", money: true, number: minor(func(e Entry) int64 { return e.now() })},
	ListPrice: {label: "list price", money: true, number: minor(func(e Entry) int64 { return e.Price.Minor })},
	Saving:    {label: "saving", money: true, number: minor(func(e Entry) int64 { return e.Price.Minor - e.now() })},
	SavingPercent: {label: "saving in percent", number: minor(func(e Entry) int64 {
		if e.Price.Minor <= 0 || e.now() >= e.Price.Minor {
			return 0
		}
		return (e.Price.Minor - e.now()) * 100 / e.Price.Minor
	})},
	Stock: {label: "pieces in stock", number: minor(func(e Entry) int64 { return int64(e.Stock) })},
	Sales: {label: "sold", number: func(e Entry, _ Sight, r Rule) (decimal.Decimal, bool) {
		return decimal.NewFromInt(e.Sold[r.Days]), true
	}},
	DaysInStock: {label: "days in stock", number: days(func(e Entry) time.Time { return e.Received })},
	DaysListed:  {label: "days since added", number: days(func(e Entry) time.Time { return e.Added })},
	Added: {label: "added", number: func(e Entry, _ Sight, _ Rule) (decimal.Decimal, bool) {
		return decimal.NewFromInt(e.Added.Unix()), !e.Added.IsZero()
	}},
	Category:  {label: "category", text: func(e Entry) string { return e.Category }, among: same(func(e Entry) []string { return []string{e.Category} })},
	Tag:       {label: "tag", among: same(func(e Entry) []string { return e.Tags })},
	Condition: {label: "condition", text: func(e Entry) string { return string(e.State()) }, among: same(func(e Entry) []string { return []string{string(e.State())} })},
	Name:      {label: "name", text: func(e Entry) string { return e.Name }},
	Attribute: {
		label: "attribute",
		number: func(e Entry, _ Sight, r Rule) (decimal.Decimal, bool) {
			v, ok := e.Attributes[r.Name]
			return v.Number, ok && v.Type == goods.Number
		},
		among: func(e Entry, r Rule, want goods.Value) bool {
			v, ok := e.Attributes[r.Name]
			return ok && v.Equal(want)
		},
	},
}

// FieldNames lists the fields that a condition can look at, sorted.
func FieldNames() []string {
	var names []string
	for f := range fields {
		if f != Name {
			names = append(names, string(f))
		}
	}
	sort.Strings(names)
	return names
}

// IsMoney tells whether the field's bounds are amounts in minor units.
func (f Field) IsMoney() bool { return fields[f].money }

// Known tells whether there is such a field.
func (f Field) Known() bool { _, ok := fields[f]; return ok }

func minor(of func(Entry) int64) func(Entry, Sight, Rule) (decimal.Decimal, bool) {
	return func(e Entry, _ Sight, _ Rule) (decimal.Decimal, bool) { return decimal.NewFromInt(of(e)), true }
}

func days(of func(Entry) time.Time) func(Entry, Sight, Rule) (decimal.Decimal, bool) {
	return func(e Entry, at Sight, _ Rule) (decimal.Decimal, bool) {
		n, ok := goods.DaysSince(of(e), at.Moment, at.Zone)
		return decimal.NewFromInt(int64(n)), ok
	}
}

func same(of func(Entry) []string) func(Entry, Rule, goods.Value) bool {
	return func(e Entry, _ Rule, v goods.Value) bool {
		return v.Type == goods.Text && slices.ContainsFunc(of(e), func(s string) bool { return s != "" && strings.EqualFold(s, v.Text) })
	}
}
