package rates

import (
	"cmp"
	"strconv"
	"strings"

	"chrysagon/app/house"
	"chrysagon/core/address"
	"chrysagon/core/ledger"
	"chrysagon/core/money"
	"chrysagon/core/refusal"
	"chrysagon/core/shipping"
	"chrysagon/core/tax"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// parcelTried is a parcel that is priced to every place the tables name.
type parcelTried struct {
	Weight, Total string
	Rows          []parcelRow
	Fault         string
}

type parcelRow struct{ To, Ships, Why, Tax string }

// tryParcel prices a parcel to every country that the tables name.
func tryParcel(r house.Rates, weight, total string) parcelTried {
	t := parcelTried{Weight: cmp.Or(weight, "620"), Total: cmp.Or(total, money.Of(5100, r.Shop.Currency).Plain())}
	grams, err := strconv.ParseInt(strings.TrimSpace(t.Weight), 10, 64)
	sum, failed := money.Parse(t.Total, r.Shop.Currency)
	if err != nil || failed != nil || grams < 0 {
		t.Fault = "Write the weight in whole grams and the goods as an amount."
		return t
	}
	var countries []string
	seen := map[string]bool{}
	add := func(c string) {
		if c != "*" && !seen[c] {
			seen[c] = true
			countries = append(countries, c)
		}
	}
	add(r.Shop.Country)
	for _, z := range r.Shipping.Zones {
		for _, c := range z.Countries {
			add(c)
		}
	}
	for _, rate := range r.Tax.Rates {
		add(rate.Country)
	}
	for _, c := range append(countries, "US") {
		row := parcelRow{To: address.NameOf(c)}
		cost, err := r.Shipping.Price(shipping.Parcel{Country: c, Weight: grams, Total: sum.Minor, Goods: true}, r.Shop.Currency)
		if err != nil {
			row.Ships, row.Why = "–", "not sent there"
		} else {
			row.Ships, row.Why = cost.Price.String(), cost.Why
		}
		if rate, ok := r.Tax.Find(tax.Place{Country: c}, "standard"); ok {
			row.Tax = r.Tax.Of(sum, rate).String() + " " + rate.Name + " " + rate.Percent.String() + "%"
		} else {
			row.Tax = "none"
		}
		t.Rows = append(t.Rows, row)
	}
	return t
}

func (p *Place) ratesPlace(c fiber.Ctx) error {
	values, err := p.ratesValues(c)
	if err != nil {
		return err
	}
	return p.Show(c, "rates", "Goods", values)
}

func (p *Place) ratesValues(c fiber.Ctx) (map[string]any, error) {
	r, err := p.House.Rates(c)
	if err != nil {
		return nil, err
	}
	return map[string]any{"Title": "Tax and delivery", "R": r, "Parcel": tryParcel(r, c.FormValue("weight"), c.FormValue("total")), "CSRF": frame.Who(c).CSRF}, nil
}

func (p *Place) parcel(c fiber.Ctx) error {
	values, err := p.ratesValues(c)
	if err != nil {
		return err
	}
	return p.Send(c, fiber.StatusOK, "parcel", values)
}

// saveRates takes a table as CSV: typed, or as a file.
func (p *Place) saveRates(c fiber.Ctx) error {
	text := strings.Clone(c.FormValue("table"))
	if header, err := c.FormFile("file"); err == nil {
		raw, err := frame.ReadPart(header, 1<<20)
		if err != nil {
			return err
		}
		text = string(raw)
	}
	save := map[string]func(fiber.Ctx, string) error{
		"tax":      func(c fiber.Ctx, t string) error { return p.House.SaveTax(c, t) },
		"shipping": func(c fiber.Ctx, t string) error { return p.House.SaveShipping(c, t) },
	}[c.Params("table")]
	if save == nil {
		return fiber.ErrNotFound
	}
	values := map[string]any{}
	var refusal refusal.Refusal
	switch err := save(c, text); {
	case frame.AsRefusal(err, &refusal):
		values["Fault"] = map[string]string{strings.Clone(c.Params("table")): refusal.Say}
	case err != nil:
		return err
	default:
		values["Said"] = "Kept. Every checkout follows."
	}
	more, err := p.ratesValues(c)
	if err != nil {
		return err
	}
	for k, v := range more {
		values[k] = v
	}
	if values["Fault"] != nil {
		values["Typed"] = map[string]string{strings.Clone(c.Params("table")): text}
	}
	return p.Send(c, fiber.StatusOK, "rates-body", values)
}

func (p *Place) exportRates(c fiber.Ctx) error {
	r, err := p.House.Rates(c)
	if err != nil {
		return err
	}
	text := r.TaxCSV
	if c.Params("table") == "shipping.csv" {
		text = r.ShipCSV
	}
	return frame.SendFile(c, strings.Clone(c.Params("table")), "text/csv; charset=utf-8", []byte(text))
}

func (p *Place) saveRules(c fiber.Ctx) error {
	get := func(name string) string { return frame.Typed(c, name) }
	days, _ := strconv.Atoi(get("days")) // no number is the store's default
	recent, _ := strconv.Atoi(get("recent_days"))
	setting := ledger.Setting{Regime: ledger.Regime(get("regime")), Young: ledger.Young(get("young")), Perishable: ledger.Perishable(get("perishable")), Days: days, RecentDays: recent}
	if err := p.House.SaveRules(c, get("included") != "", get("floor"), setting); err != nil {
		return err
	}
	values, err := p.ratesValues(c)
	if err != nil {
		return err
	}
	values["Said"] = "Kept. Every page follows."
	return p.Send(c, fiber.StatusOK, "rates-body", values)
}
