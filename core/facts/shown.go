package facts

import (
	"fmt"

	"chrysagon/core/money"
	"chrysagon/core/offer"
)

// Shown is a quote as a buyer may be shown it: with those former prices struck
// out, and only that saving named, that the price ledger proves.
type Shown struct {
	offer.Quote
	Lines   []ShownLine
	Saved   money.Money // against the former prices that are struck
	Percent int         // of those, rounded down
}

// ShownLine is a line with the former price of one unit, where one is proved.
type ShownLine struct {
	offer.Line
	Struck *money.Money
	Why    string // why it may be struck, or why none is
}

// Show marks a quote with what the ledgers prove. Ledgers of the goods must
// have been read.
func (f Facts) Show(q offer.Quote) Shown {
	s := Shown{Quote: q, Saved: money.Of(0, q.Total.Currency)}
	former := money.Of(0, q.Total.Currency)
	for _, l := range q.Lines {
		sl := ShownLine{Line: l}
		if l.Gift {
			s.Lines = append(s.Lines, sl)
			continue
		}
		unit := l.Price
		if struck := f.Struck(l.ProductID, unit, q.Moment); len(l.Trail) > 0 || struck.Struck != nil {
			sl.Struck, sl.Why = struck.Struck, struck.Reason
		}
		was := l.Total.Minor
		if sl.Struck != nil {
			was = sl.Struck.Minor * int64(l.Quantity)
		}
		former.Minor += was
		s.Lines = append(s.Lines, sl)
	}
	s.Saved.Minor = former.Minor - q.Subtotal.Minor
	s.Percent = money.SavingPercent(former, q.Subtotal)
	return s
}

// Row is one line of what an order comes to, below its goods.
type Row struct {
	Label string
	Value string
}

// Sums lists what stands between the goods and the total: what is taken off
// the order, shipping, tax.
func Sums(q offer.Quote) []Row {
	var rows []Row
	for _, r := range q.Reductions {
		rows = append(rows, Row{r.Name, "−" + r.Off.String()})
	}
	ship := Row{"Delivery", q.Shipping.Total.String()}
	switch {
	case q.Shipping.Why == "included" || q.Shipping.Why == "":
		ship.Value = "included"
	case q.Shipping.Why == "nothing to send":
		ship.Value = ""
	case q.Shipping.Total.Minor == 0 && q.Shipping.Zone != "":
		ship.Value = "free"
	case q.Shipping.Zone == "":
		ship.Value = "once the country is chosen"
	}
	if ship.Value != "" {
		rows = append(rows, ship)
	}
	if q.TaxIncluded && len(q.Taxes) == 0 {
		return append(rows, Row{"Tax", "included"})
	}
	for _, t := range q.Taxes {
		name := t.Name
		if name == "" {
			name = "Tax"
		}
		label := fmt.Sprintf("%s %s%%", name, t.Percent)
		if q.TaxIncluded {
			label += ", included"
		}
		rows = append(rows, Row{label, t.Tax.String()})
	}
	return rows
}

// Nudge says how much more makes shipping free, or "".
func Nudge(q offer.Quote) string {
	if q.Shipping.Short.Minor > 0 && q.Shipping.Total.Minor > 0 {
		return fmt.Sprintf("%s more and delivery is free.", q.Shipping.Short)
	}
	return ""
}
