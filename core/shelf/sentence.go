package shelf

import (
	"fmt"
	"strings"
	"time"

	"chrysagon/core/goods"
	"chrysagon/core/money"

	"github.com/shopspring/decimal"
)

// Sentence says the shelf back as one plain sentence. Amounts are written in
// the currency; attributes are called by their labels.
func (s Shelf) Sentence(currency string, attributes map[string]goods.Attribute) string {
	w := writer{currency, attributes}
	var out strings.Builder
	switch rule := w.rule(s.Rule, false); {
	case s.ByHand:
		fmt.Fprintf(&out, "%s picked by hand", count(len(s.Pinned)))
	case rule == "":
		out.WriteString("All goods")
	default:
		out.WriteString("Goods " + rule)
	}
	if !s.ByHand && len(s.Pinned) > 0 {
		fmt.Fprintf(&out, ", with %s pinned first", count(len(s.Pinned)))
	}
	if len(s.LeftOut) > 0 {
		fmt.Fprintf(&out, ", without %s left out", count(len(s.LeftOut)))
	}
	for i, o := range s.Order {
		out.WriteString([]string{", ordered by ", ", then by "}[min(i, 1)] + w.order(o))
	}
	if s.Limit > 0 {
		fmt.Fprintf(&out, ", the first %d", s.Limit)
	}
	return out.String() + "."
}

type writer struct {
	currency   string
	attributes map[string]goods.Attribute
}

func (w writer) label(name string) string {
	if a, ok := w.attributes[name]; ok && a.Label != "" {
		return strings.ToLower(a.Label)
	}
	return name
}

func count(n int) string {
	if n == 1 {
		return "1 product"
	}
	return fmt.Sprintf("%d products", n)
}

// rule writes a rule as what follows “Goods”. Inner groups stand in brackets.
func (w writer) rule(r Rule, inner bool) string {
	if r.Field != "" {
		return w.condition(r)
	}
	group, word, lead := r.All, " and ", ""
	switch {
	case r.Any != nil:
		group, word = r.Any, " or "
	case r.None != nil:
		group, word, lead = r.None, " or ", "not "
	}
	var parts []string
	for _, c := range group {
		if text := w.rule(c, true); text != "" {
			parts = append(parts, text)
		}
	}
	switch {
	case len(parts) == 0 && r.None != nil:
		return ""
	case len(parts) == 0 && r.Any != nil:
		return "that can never be found"
	case len(parts) == 0:
		return ""
	}
	joined := strings.Join(parts, word)
	if (inner && len(parts) > 1) || (lead != "" && len(parts) > 1) {
		joined = "(" + joined + ")"
	}
	return lead + joined
}

func (w writer) condition(r Rule) string {
	label := fields[r.Field].label
	switch r.Field {
	case Attribute:
		label = "with " + w.label(r.Name)
	case Category:
		label = "in category"
	case Tag:
		label = "tagged"
	case Condition:
		label = "whose condition is"
	case Sales:
		return fmt.Sprintf("of which %s sold in the last %d days", w.bounds(r), r.Days)
	case DaysInStock:
		return w.bounds(r) + " days in stock" + over(r)
	case DaysListed:
		return w.bounds(r) + " days since added" + over(r)
	case Stock:
		return "with " + pieces(w.bounds(r)) + " in stock"
	case Price, ListPrice, Saving, SavingPercent:
		label = "with a " + label
		if r.Field != SavingPercent {
			label += " of"
		}
	case Added:
		if at, err := time.Parse(time.DateOnly, r.Since); err == nil {
			return "added since " + at.Format("2 January 2006")
		}
	case Name:
	}
	if r.Is != nil {
		var values []string
		for _, v := range r.Is {
			text := v.String()
			if unit := w.attributes[r.Name].Unit; r.Field == Attribute && unit != "" {
				text += " " + unit
			}
			values = append(values, text)
		}
		if len(values) == 0 {
			return label + " none that exists"
		}
		return label + " " + strings.Join(values, " or ")
	}
	return label + " " + w.bounds(r)
}

// over says a lower bound of days the other way too: people say “over 90 days”
// and mean either 90 or 91.
func over(r Rule) string {
	if r.AtLeast == nil || r.AtMost != nil || !r.AtLeast.IsInteger() || !r.AtLeast.IsPositive() {
		return ""
	}
	return fmt.Sprintf(" (more than %d)", r.AtLeast.IntPart()-1)
}

func (w writer) bounds(r Rule) string {
	value := func(d decimal.Decimal) string {
		if r.Field.IsMoney() {
			return money.Of(d.IntPart(), w.currency).String()
		}
		if unit := w.attributes[r.Name].Unit; r.Field == Attribute && unit != "" {
			return d.String() + " " + unit
		}
		return d.String()
	}
	switch {
	case r.AtLeast != nil && r.AtMost != nil:
		return "from " + value(*r.AtLeast) + " to " + value(*r.AtMost)
	case r.AtLeast != nil:
		return "at least " + value(*r.AtLeast)
	case r.AtMost != nil:
		return "at most " + value(*r.AtMost)
	}
	return "any"
}

func (w writer) order(o Order) string {
	label := fields[o.By].label
	if o.By == Attribute {
		label = w.label(o.Name)
	}
	if o.By == Sales {
		label = fmt.Sprintf("units sold in %d days", o.Days)
	}
	if o.Down {
		return label + ", greatest first"
	}
	return label
}

// pieces writes how many pieces, one or several: what bounds ends in says which.
func pieces(bounds string) string {
	if bounds == "1" || strings.HasSuffix(bounds, " 1") {
		return bounds + " piece"
	}
	return bounds + " pieces"
}
