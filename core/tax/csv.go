package tax

import (
	"fmt"
	"io"
	"strings"

	"chrysagon/core/table"

	"github.com/shopspring/decimal"
)

var header = []string{"country", "region", "class", "percent", "name"}

// WriteCSV writes the rates as a table (RFC 4180).
func (t Table) WriteCSV(to io.Writer) error {
	var rows [][]string
	for _, r := range t.Rates {
		rows = append(rows, []string{r.Country, r.Region, class(r.Class), r.Percent.String(), r.Name})
	}
	if err := table.Write(to, header, rows); err != nil {
		return fmt.Errorf("write the rates: %w", err)
	}
	return nil
}

// ReadCSV reads what WriteCSV writes. Errors name the line.
func ReadCSV(text string) ([]Rate, error) {
	var out []Rate
	err := table.Read(text, header, func(row []string) error {
		percent, err := decimal.NewFromString(strings.TrimSpace(row[3]))
		if err != nil {
			return fmt.Errorf("%q is not a percentage", row[3])
		}
		out = append(out, Rate{Country: strings.TrimSpace(row[0]), Region: strings.TrimSpace(row[1]), Class: class(strings.TrimSpace(row[2])), Percent: percent, Name: strings.TrimSpace(row[4])})
		return Table{Rates: out}.Validate()
	})
	if err != nil {
		return nil, err
	}
	return out, nil
}
