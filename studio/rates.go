package studio

import (
	"cmp"
	"strconv"
	"strings"

	"chrysagon/app/house"
	"chrysagon/core/checkout"
	"chrysagon/core/ledger"
	"chrysagon/core/money"
	"chrysagon/core/refusal"
	"chrysagon/core/shipping"
	"chrysagon/core/tax"

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
		row := parcelRow{To: checkout.CountryName(c)}
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

func (s *Studio) ratesPlace(c fiber.Ctx) error {
	values, err := s.ratesValues(c)
	if err != nil {
		return err
	}
	return s.place(c, "rates", "Goods", values)
}

func (s *Studio) ratesValues(c fiber.Ctx) (map[string]any, error) {
	r, err := s.App.House.Rates(c)
	if err != nil {
		return nil, err
	}
	return map[string]any{"Title": "Tax and delivery", "R": r, "Parcel": tryParcel(r, c.FormValue("weight"), c.FormValue("total")), "CSRF": who(c).CSRF}, nil
}

func (s *Studio) parcel(c fiber.Ctx) error {
	values, err := s.ratesValues(c)
	if err != nil {
		return err
	}
	return s.render(c, fiber.StatusOK, "parcel", values)
}

// saveRates takes a table as CSV: typed, or as a file.
func (s *Studio) saveRates(c fiber.Ctx) error {
	text := strings.Clone(c.FormValue("table"))
	if header, err := c.FormFile("file"); err == nil {
		raw, err := readPart(header, 1<<20)
		if err != nil {
			return err
		}
		text = string(raw)
	}
	save := map[string]func(fiber.Ctx, string) error{
		"tax":      func(c fiber.Ctx, t string) error { return s.App.House.SaveTax(c, t) },
		"shipping": func(c fiber.Ctx, t string) error { return s.App.House.SaveShipping(c, t) },
	}[c.Params("table")]
	if save == nil {
		return fiber.ErrNotFound
	}
	values := map[string]any{}
	var refusal refusal.Refusal
	switch err := save(c, text); {
	case asRefusal(err, &refusal):
		values["Fault"] = map[string]string{strings.Clone(c.Params("table")): refusal.Say}
	case err != nil:
		return err
	default:
		values["Said"] = "Kept. Every checkout follows."
	}
	more, err := s.ratesValues(c)
	if err != nil {
		return err
	}
	for k, v := range more {
		values[k] = v
	}
	if values["Fault"] != nil {
		values["Typed"] = map[string]string{strings.Clone(c.Params("table")): text}
	}
	return s.render(c, fiber.StatusOK, "rates-body", values)
}

func (s *Studio) exportRates(c fiber.Ctx) error {
	r, err := s.App.House.Rates(c)
	if err != nil {
		return err
	}
	text := r.TaxCSV
	if c.Params("table") == "shipping.csv" {
		text = r.ShipCSV
	}
	return sendFile(c, strings.Clone(c.Params("table")), "text/csv; charset=utf-8", []byte(text))
}

func (s *Studio) saveRules(c fiber.Ctx) error {
	get := func(name string) string { return typed(c, name) }
	days, _ := strconv.Atoi(get("days")) // no number is the store's default
	recent, _ := strconv.Atoi(get("recent_days"))
	setting := ledger.Setting{Regime: ledger.Regime(get("regime")), Young: ledger.Young(get("young")), Perishable: ledger.Perishable(get("perishable")), Days: days, RecentDays: recent}
	if err := s.App.House.SaveRules(c, get("included") != "", get("floor"), setting); err != nil {
		return err
	}
	values, err := s.ratesValues(c)
	if err != nil {
		return err
	}
	values["Said"] = "Kept. Every page follows."
	return s.render(c, fiber.StatusOK, "rates-body", values)
}
