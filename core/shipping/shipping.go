// Package shipping computes what sending an order costs: by weight, by total
// or flat, free from a threshold, by zone. Digital goods need none.
package shipping

import (
	"fmt"
	"slices"

	"chrysagon/core/country"
	"chrysagon/core/money"
)

// By says what a rate's steps look at.
type By string

// What steps can look at.
const (
	Flat   By = "flat"   // one price
	Weight By = "weight" // grams of all that is sent
	Total  By = "total"  // minor units of the goods that are sent, after item offers and before order offers
)

// Step is the price from a bound on, the bound included.
type Step struct {
	From  int64       `json:"from" jsonschema:"minimum=0"` // grams or minor units; 0 in the first
	Price money.Money `json:"price"`
}

// Zone is a group of countries with one way to price.
type Zone struct {
	ID        string       `json:"id"`
	Name      string       `json:"name,omitempty"`
	Countries []string     `json:"countries" jsonschema:"minItems=1"` // ISO 3166-1, two letters; "*" stands for everywhere else
	By        By           `json:"by"`
	Steps     []Step       `json:"steps" jsonschema:"minItems=1"`
	UpTo      int64        `json:"up_to,omitempty" jsonschema:"minimum=0"` // heaviest or dearest parcel that is sent, in the unit of By; 0: no limit
	FreeFrom  *money.Money `json:"free_from,omitempty"`                    // from this total of goods on, bound included, nothing is charged
}

// Table is where a store sends.
type Table struct {
	Zones []Zone `json:"zones"`
}

// Parcel is what is sent.
type Parcel struct {
	Country string
	Weight  int64 // grams
	Total   int64 // minor units of the goods, after item offers and before order offers
	Goods   bool  // anything in it travels
}

// Cost is what sending costs and why.
type Cost struct {
	Zone  string      `json:"zone,omitempty"`
	Price money.Money `json:"price"`
	Why   string      `json:"why"`
	Short money.Money `json:"short_of_free,omitzero"` // how much more makes it free
}

// Validate refuses a table that is not clear, with place and reason.
func (t Table) Validate(currency string) error {
	taken := map[string]string{}
	for i, z := range t.Zones {
		place := fmt.Sprintf("zones[%d]", i)
		if z.ID == "" || len(z.Countries) == 0 {
			return fmt.Errorf("%s: needs an id and at least one country", place)
		}
		for j, c := range z.Countries {
			if err := country.CheckTable(c); err != nil {
				return fmt.Errorf("%s.countries[%d]: %w", place, j, err)
			}
			if taken[c] != "" {
				return fmt.Errorf("%s.countries: %s stands in zone %s already", place, c, taken[c])
			}
			taken[c] = z.ID
		}
		if z.By != Flat && z.By != Weight && z.By != Total {
			return fmt.Errorf("%s.by: %q; it must be flat, weight or total", place, z.By)
		}
		if len(z.Steps) == 0 || z.Steps[0].From != 0 || (z.By == Flat && len(z.Steps) > 1) {
			return fmt.Errorf("%s.steps: the first must be from 0, and flat has only that one", place)
		}
		for j, s := range z.Steps {
			if j > 0 && s.From <= z.Steps[j-1].From {
				return fmt.Errorf("%s.steps[%d].from: %d does not rise", place, j, s.From)
			}
			if err := amount(fmt.Sprintf("%s.steps[%d].price", place, j), s.Price, currency); err != nil {
				return err
			}
		}
		if z.FreeFrom != nil {
			if err := amount(place+".free_from", *z.FreeFrom, currency); err != nil {
				return err
			}
		}
	}
	return nil
}

func amount(place string, m money.Money, currency string) error {
	if m.Currency != currency {
		return fmt.Errorf("%s: %s in a table of %s: %w", place, m.Currency, currency, money.ErrMixed)
	}
	if m.Minor < 0 || m.Minor > money.Limit {
		return fmt.Errorf("%s: must be from 0 to %d minor units", place, money.Limit)
	}
	return nil
}

// Zone finds the zone of a country. ok is false where the store does not send.
func (t Table) Zone(country string) (Zone, bool) {
	var rest *Zone
	for i, z := range t.Zones {
		if slices.Contains(z.Countries, country) {
			return z, true
		}
		if slices.Contains(z.Countries, "*") {
			rest = &t.Zones[i]
		}
	}
	if rest != nil {
		return *rest, true
	}
	return Zone{}, false
}

// Price is what sending a parcel costs. A store without zones sends free of
// charge everywhere.
func (t Table) Price(p Parcel, currency string) (Cost, error) {
	none := money.Of(0, currency)
	if !p.Goods {
		return Cost{Price: none, Why: "nothing to send"}, nil
	}
	if len(t.Zones) == 0 {
		return Cost{Price: none, Why: "included"}, nil
	}
	z, ok := t.Zone(p.Country)
	if !ok {
		return Cost{}, fmt.Errorf("country: the store does not send to %q", p.Country)
	}
	if z.FreeFrom != nil && p.Total >= z.FreeFrom.Minor {
		return Cost{Zone: z.ID, Price: none, Why: "free from " + z.FreeFrom.String()}, nil
	}
	measure := map[By]int64{Weight: p.Weight, Total: p.Total}[z.By]
	if z.UpTo > 0 && measure > z.UpTo {
		return Cost{}, fmt.Errorf("cart: the parcel is beyond what the store sends to %q", p.Country)
	}
	cost := Cost{Zone: z.ID, Why: string(z.By)}
	for _, s := range z.Steps {
		if measure >= s.From {
			cost.Price = s.Price
		}
	}
	switch z.By {
	case Weight:
		cost.Why = fmt.Sprintf("%d g", p.Weight)
	case Total:
		cost.Why = "by total"
	case Flat:
		cost.Why = "one price"
	}
	if z.FreeFrom != nil {
		cost.Short = money.Of(z.FreeFrom.Minor-p.Total, currency)
	}
	return cost, nil
}

// Watches tells whether the price can depend on the total of the goods.
func (z Zone) Watches() bool { return z.FreeFrom != nil || (z.By == Total && len(z.Steps) > 1) }

// Least is the lowest price the zone knows.
func (z Zone) Least() int64 {
	if z.FreeFrom != nil {
		return 0
	}
	least := z.Steps[0].Price.Minor
	for _, s := range z.Steps {
		least = min(least, s.Price.Minor)
	}
	return least
}
