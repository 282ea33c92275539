package shipping

import (
	"fmt"
	"io"
	"strconv"
	"strings"

	"chrysagon/core/money"
	"chrysagon/core/table"
)

var header = []string{"zone", "name", "countries", "by", "from", "price", "free_from", "up_to"}

// WriteCSV writes the zones as a table (RFC 4180), a line for each step.
// Weights are in grams, amounts as they are typed.
func (t Table) WriteCSV(to io.Writer) error {
	var rows [][]string
	for _, z := range t.Zones {
		for i, s := range z.Steps {
			row := []string{z.ID, "", "", "", z.measure(s.From, s.Price.Currency), s.Price.Plain(), "", ""}
			if i == 0 {
				row[1], row[2], row[3] = z.Name, strings.Join(z.Countries, " "), string(z.By)
				if z.FreeFrom != nil {
					row[6] = z.FreeFrom.Plain()
				}
				if z.UpTo > 0 {
					row[7] = z.measure(z.UpTo, s.Price.Currency)
				}
			}
			rows = append(rows, row)
		}
	}
	if err := table.Write(to, header, rows); err != nil {
		return fmt.Errorf("write the zones: %w", err)
	}
	return nil
}

// measure writes a bound in the unit of By.
func (z Zone) measure(n int64, currency string) string {
	if z.By == Total {
		return money.Of(n, currency).Plain()
	}
	return strconv.FormatInt(n, 10)
}

// ReadCSV reads what WriteCSV writes. Lines of one zone stand together; what
// the first of them says holds for the zone. Errors name the line.
func ReadCSV(text, currency string) (Table, error) {
	var t Table
	if err := table.Read(text, header, func(row []string) error { return t.line(row, currency) }); err != nil {
		return t, err
	}
	return t, t.Validate(currency)
}

func (t *Table) line(row []string, currency string) error {
	n := len(t.Zones)
	if n == 0 || t.Zones[n-1].ID != row[0] {
		z := Zone{ID: row[0], Name: row[1], Countries: strings.Fields(row[2]), By: By(row[3])}
		if row[6] != "" {
			free, err := money.Parse(row[6], currency)
			if err != nil {
				return fmt.Errorf("free_from: %w", err)
			}
			z.FreeFrom = &free
		}
		t.Zones = append(t.Zones, z)
		n++
		if row[7] != "" {
			most, err := t.Zones[n-1].bound(row[7], currency)
			if err != nil {
				return fmt.Errorf("up_to: %w", err)
			}
			t.Zones[n-1].UpTo = most
		}
	}
	z := &t.Zones[n-1]
	from, err := z.bound(row[4], currency)
	if err != nil {
		return fmt.Errorf("from: %w", err)
	}
	price, err := money.Parse(row[5], currency)
	if err != nil {
		return fmt.Errorf("price: %w", err)
	}
	z.Steps = append(z.Steps, Step{From: from, Price: price})
	return nil
}

func (z Zone) bound(text, currency string) (int64, error) {
	if z.By == Total {
		m, err := money.Parse(text, currency)
		return m.Minor, err
	}
	n, err := strconv.ParseInt(strings.TrimSpace(text), 10, 64)
	if err != nil || n < 0 {
		return 0, fmt.Errorf("%q is not a whole number of grams", text)
	}
	return n, nil
}
