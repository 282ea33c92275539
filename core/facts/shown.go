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
	Label  string
	Value  string
	Amount *money.Money // what the value says, where it is a sum of money
}

func sum(label string, amount money.Money) Row { return Row{label, amount.String(), &amount} }

// Sums lists what stands between the goods and the total: what is taken off
// the order, shipping, tax.
func Sums(q offer.Quote) []Row {
	var rows []Row
	for _, r := range q.Reductions {
		rows = append(rows, sum(r.Name, r.Off.Times(-1)))
	}
	switch {
	case q.Shipping.Why == "included" || q.Shipping.Why == "":
		rows = append(rows, Row{Label: "Delivery", Value: "included"})
	case q.Shipping.Why == collected:
		rows = append(rows, Row{Label: "Delivery", Value: "none, you collect it"})
	case q.Shipping.Why == "nothing to send":
	case q.Shipping.Zone == "":
		rows = append(rows, Row{Label: "Delivery", Value: "once the country is chosen"})
	case q.Shipping.Total.Minor == 0:
		rows = append(rows, Row{Label: "Delivery", Value: "free"})
	default:
		rows = append(rows, sum("Delivery", q.Shipping.Total))
	}
	if q.TaxIncluded && len(q.Taxes) == 0 {
		return append(rows, Row{Label: "Tax", Value: "included"})
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
		rows = append(rows, sum(label, t.Tax))
	}
	return rows
}

// Together joins the sums of an order's payments, the first payment first:
// amounts of one name are added up, and what a later payment has no charge
// for is not said twice.
func Together(payments ...[]Row) []Row {
	var all []Row
	at := map[string]int{}
	for i, rows := range payments {
		for _, r := range rows {
			k, known := at[r.Label]
			switch {
			case !known && (i == 0 || r.Amount != nil):
				at[r.Label] = len(all)
				all = append(all, r)
			case known && r.Amount != nil && all[k].Amount == nil:
				all[k] = r
			case known && r.Amount != nil:
				if both, err := all[k].Amount.Add(*r.Amount); err == nil {
					all[k] = sum(r.Label, both)
				}
			}
		}
	}
	return all
}

// Nudge says how much more makes shipping free, or "".
func Nudge(q offer.Quote) string {
	if q.Shipping.Short.Minor > 0 && q.Shipping.Total.Minor > 0 {
		return fmt.Sprintf("%s more and delivery is free.", q.Shipping.Short)
	}
	return ""
}
