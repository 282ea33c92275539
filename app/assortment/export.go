package assortment

import (
	"bytes"
	"context"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/core/catalogue"
	"chrysagon/core/goods"
	"chrysagon/core/money"
)

// ExportCSV writes all goods as CSV (RFC 4180), which comes back in unchanged.
func (g *Assortment) ExportCSV(ctx context.Context, to io.Writer) error {
	shop, err := g.Store.Shop(ctx)
	if err != nil {
		return err
	}
	attributes, err := g.Shelves.AttributeList(ctx)
	if err != nil {
		return err
	}
	w := csv.NewWriter(to)
	w.UseCRLF = true
	if err := w.Write(catalogue.Header(attributes)); err != nil {
		return err
	}
	err = g.eachRow(ctx, shop.Currency, func(r catalogue.Row) error {
		fields := r.Fields(shop.Currency, attributes)
		for i := range fields {
			fields[i] = catalogue.Guard(fields[i])
		}
		return w.Write(fields)
	})
	w.Flush()
	return errors.Join(err, w.Error())
}

// ExportJSON writes all goods as JSON: amounts with their currency.
func (g *Assortment) ExportJSON(ctx context.Context, to io.Writer) error {
	shop, err := g.Store.Shop(ctx)
	if err != nil {
		return err
	}
	if _, err := fmt.Fprintf(to, "{\"currency\": %q, \"goods\": [", shop.Currency); err != nil {
		return err
	}
	comma := "\n"
	err = g.eachRow(ctx, shop.Currency, func(r catalogue.Row) error {
		raw, err := json.Marshal(r)
		if err != nil {
			return err
		}
		_, err = io.WriteString(to, comma+string(raw))
		comma = ",\n"
		return err
	})
	_, last := io.WriteString(to, "\n]}\n")
	return errors.Join(err, last)
}

// FromJSON turns exported JSON back into a table, so that it comes in by the
// same way.
func FromJSON(raw []byte, attributes []goods.Attribute) ([]byte, error) {
	var in struct {
		Currency string          `json:"currency"`
		Goods    []catalogue.Row `json:"goods"`
	}
	if err := json.Unmarshal(raw, &in); err != nil {
		return nil, fmt.Errorf("this is not the JSON of goods: %w", err)
	}
	if _, err := money.Digits(in.Currency); err != nil {
		return nil, err
	}
	told, err := toldIn(raw)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	write := func(fields []string) error {
		var kept []string
		for i, field := range fields {
			if i >= len(catalogue.Columns) || told[string(catalogue.Columns[i])] {
				kept = append(kept, field)
			}
		}
		return w.Write(kept)
	}
	if err := write(catalogue.Header(attributes)); err != nil {
		return nil, err
	}
	for _, r := range in.Goods {
		fields := r.Fields(in.Currency, attributes)
		for i := range fields {
			fields[i] = catalogue.Guard(fields[i])
		}
		if err := write(fields); err != nil {
			return nil, err
		}
	}
	w.Flush()
	return out.Bytes(), w.Error()
}

// toldIn are the columns that some of the goods of exported JSON have: what none says is no
// column of the table, and is left as it is.
func toldIn(raw []byte) (map[string]bool, error) {
	var in struct {
		Goods []map[string]json.RawMessage `json:"goods"`
	}
	if err := json.Unmarshal(raw, &in); err != nil {
		return nil, fmt.Errorf("this is not the JSON of goods: %w", err)
	}
	told := map[string]bool{}
	for _, row := range in.Goods {
		for name := range row {
			told[name] = true
		}
	}
	return told, nil
}

func (g *Assortment) eachRow(ctx context.Context, currency string, each func(catalogue.Row) error) error {
	rows, err := g.Store.On(ctx).Raw(factbook.GoodsDescribed + " ORDER BY p.name, v.product_id, v.id").Rows()
	if err != nil {
		return fmt.Errorf("read the goods: %w", err)
	}
	defer func() { _ = rows.Close() }()
	for rows.Next() {
		var r factbook.GoodsRow
		if err := g.Store.DB.ScanRows(rows, &r); err != nil {
			return fmt.Errorf("read the goods: %w", err)
		}
		if err := each(tableRow(r, currency)); err != nil {
			return err
		}
	}
	return rows.Err()
}

func tableRow(r factbook.GoodsRow, currency string) catalogue.Row {
	p := r.Product(currency)
	row := catalogue.Row{
		SKU: r.SKU, Product: r.ProductID, Name: r.Name, Label: r.Label, Form: p.Form, Category: p.Category, Tags: p.Tags, Price: r.PriceMinor, Cost: r.CostMinor,
		Stock: r.Available, Weight: r.WeightGrams, Condition: p.Condition, TaxClass: r.TaxClass, Perishable: r.Perishable, Attributes: p.Attributes, Description: r.Description,
	}
	if r.ReceivedAt != nil {
		row.Received = r.ReceivedAt.UTC().Format(time.DateOnly)
	}
	return row
}
