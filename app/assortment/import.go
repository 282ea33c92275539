package assortment

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"chrysagon/core/catalogue"
	"chrysagon/core/goods"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"gorm.io/gorm"
)

// DryRun is what a file would do, before it does anything.
type DryRun struct {
	ID, Name, Encoding string
	Comma              string
	Decimal            string
	Matches            []catalogue.Match
	Added, Changed     int
	Left, Faulty       int
	Faults             []catalogue.Fault // the first of them
	Samples            []RowChange
	Refused            string // why the file cannot be read at all
	Done               bool   // it has been applied
	rows               []catalogue.Row
}

// RowChange is one of the goods that a file adds or changes.
type RowChange struct {
	Line    int
	SKU     string
	Name    string
	New     bool
	Changes []string // column: from → to
}

// faultsShown is how many faulty lines are listed.
const faultsShown = 200

// KeepImport keeps a file that was handed in and returns its ID.
func (g *Assortment) KeepImport(ctx context.Context, userID, name string, raw []byte) (string, error) {
	if _, err := catalogue.Open(raw); err != nil {
		return "", refusal.Of(refusal.ErrInvalid, "“%s” cannot be imported: %s.", name, err)
	}
	row := store.Import{ID: store.NewID(), At: g.Store.Now(), Name: name, Raw: raw}
	if userID != "" {
		row.UserID = &userID
	}
	if err := g.Store.On(ctx).Exec("DELETE FROM imports WHERE at < ?", g.Store.Now().Add(-24*time.Hour)).Error; err != nil {
		return "", err
	}
	return row.ID, g.Store.On(ctx).Create(&row).Error
}

// DryRun reads a file with these columns, or those it seems to have, and says
// what applying it would do.
func (g *Assortment) DryRun(ctx context.Context, id string, mapping catalogue.Mapping) (DryRun, error) {
	row, err := store.One[store.Import](g.Store.On(ctx).Where("id = ?", id), "This file is no longer here. Choose it again.")
	if err != nil {
		return DryRun{}, err
	}
	d := DryRun{ID: row.ID, Name: row.Name, Done: row.BatchID != nil}
	if d.Done {
		return d, nil
	}
	shop, err := g.Store.Shop(ctx)
	if err != nil {
		return d, err
	}
	attributes, err := g.Shelves.AttributeList(ctx)
	if err != nil {
		return d, err
	}
	sheet, err := catalogue.Open(row.Raw)
	if err != nil {
		d.Refused = refusal.Sentence(err)
		return d, nil
	}
	sheet.Attributes = attributes
	d.Encoding, d.Decimal = sheet.Encoding, string(sheet.Decimal)
	d.Comma = map[rune]string{',': "commas", ';': "semicolons", '\t': "tabs", '|': "bars"}[sheet.Comma]
	d.Matches = catalogue.Guess(sheet.Header, attributes)
	if len(mapping) == len(d.Matches) {
		for i := range d.Matches {
			d.Matches[i].Sure = d.Matches[i].Sure && d.Matches[i].Column == mapping[i]
			d.Matches[i].Column = mapping[i]
		}
	} else {
		mapping = nil
		for _, m := range d.Matches {
			mapping = append(mapping, m.Column)
		}
	}
	have, products, err := g.flat(ctx, shop.Currency)
	if err != nil {
		return d, err
	}
	err = d.read(sheet, mapping, shop.Currency, have, products)
	if err != nil {
		d.Refused = refusal.Sentence(err)
	}
	return d, nil
}

// read goes through the rows and compares each with what there is.
func (d *DryRun) read(sheet *catalogue.Sheet, mapping catalogue.Mapping, currency string, have map[string]catalogue.Row, products map[string]catalogue.Row) error {
	for i, c := range mapping {
		if c != catalogue.Ignore && slices.Contains(mapping[:i], c) {
			return fmt.Errorf("two columns are %s; choose one of them", c)
		}
	}
	lines := map[string]int{}
	first := map[string]catalogue.Row{}
	fault := func(f catalogue.Fault) {
		d.Faulty++
		if len(d.Faults) < faultsShown {
			d.Faults = append(d.Faults, f)
		}
	}
	err := sheet.Rows(mapping, currency, func(r catalogue.Row) {
		if before, twice := lines[r.SKU]; twice {
			fault(catalogue.Fault{Line: r.Line, Column: "sku", Value: r.SKU, Reason: fmt.Sprintf("stands in line %d already", before)})
			return
		}
		lines[r.SKU] = r.Line
		old, known := have[r.SKU]
		if reason := complete(&r, old, known, products); reason != "" {
			fault(catalogue.Fault{Line: r.Line, Value: r.SKU, Reason: reason})
			return
		}
		if other, ok := first[r.Product]; ok && (other.Name != r.Name || other.Form != r.Form || other.Category != r.Category) {
			fault(catalogue.Fault{Line: r.Line, Value: r.SKU, Reason: fmt.Sprintf("says something else of product “%s” than line %d: name, form and category belong to all of its variants", r.Product, other.Line)})
			return
		}
		if _, ok := first[r.Product]; !ok {
			first[r.Product] = r
		}
		var changes []string
		if known || len(d.Samples) < 20 { // of what is new only the samples are shown
			changes = differences(old, r, currency)
		}
		switch {
		case !known:
			d.Added++
		case len(changes) > 0:
			d.Changed++
		default:
			d.Left++
			return
		}
		d.rows = append(d.rows, r)
		if len(d.Samples) < 20 {
			d.Samples = append(d.Samples, RowChange{Line: r.Line, SKU: r.SKU, Name: r.Name, New: !known, Changes: changes})
		}
	}, fault)
	return err
}

// complete gives a row what its file does not say: from the goods that are
// there, or what new goods have. It returns why it cannot.
func complete(r *catalogue.Row, old catalogue.Row, known bool, products map[string]catalogue.Row) string {
	keep := func(c catalogue.Column, take func()) {
		if !r.Set[c] {
			take()
		}
	}
	if !known {
		if r.Product == "" {
			r.Product = r.SKU
		}
		if of, ok := products[r.Product]; ok { // another variant of a product that is there
			keep(catalogue.Name, func() { r.Name = of.Name })
			old = catalogue.Row{Form: of.Form, Category: of.Category, Tags: of.Tags, TaxClass: of.TaxClass, Perishable: of.Perishable}
		}
		if r.Name == "" {
			return "is new and has no name"
		}
		if !r.Set[catalogue.Price] {
			return "is new and has no price"
		}
	} else {
		if r.Product == "" {
			r.Product = old.Product
		}
		keep(catalogue.Name, func() { r.Name = old.Name })
		keep(catalogue.Price, func() { r.Price = old.Price })
		keep(catalogue.Stock, func() { r.Stock = old.Stock })
		keep(catalogue.Label, func() { r.Label = old.Label })
		keep(catalogue.Cost, func() { r.Cost = old.Cost })
		keep(catalogue.Weight, func() { r.Weight = old.Weight })
		keep(catalogue.Received, func() { r.Received = old.Received })
		keep(catalogue.Condition, func() { r.Condition = old.Condition })
	}
	keep(catalogue.Form, func() { r.Form = old.Form })
	keep(catalogue.Category, func() { r.Category = old.Category })
	keep(catalogue.Tags, func() { r.Tags = old.Tags })
	keep(catalogue.TaxClass, func() { r.TaxClass = old.TaxClass })
	keep(catalogue.Perishable, func() { r.Perishable = old.Perishable })
	keep(catalogue.Description, func() { r.Description = old.Description })
	r.Form, r.Condition, r.TaxClass = goods.Form(orPhysical(r.Form)), goods.Condition(orNew(r.Condition)), orStandard(r.TaxClass)
	attributes := map[string]goods.Value{}
	for name, v := range old.Attributes {
		if !r.Set[catalogue.Column(name)] {
			attributes[name] = v
		}
	}
	for name, v := range r.Attributes {
		attributes[name] = v
	}
	r.Attributes = attributes
	return ""
}

func differences(old, r catalogue.Row, currency string) []string {
	names := map[string]goods.Value{}
	for n, v := range old.Attributes {
		names[n] = v
	}
	for n, v := range r.Attributes {
		names[n] = v
	}
	var attributes []goods.Attribute
	for n := range names {
		attributes = append(attributes, goods.Attribute{Name: n})
	}
	slices.SortFunc(attributes, func(a, b goods.Attribute) int { return strings.Compare(a.Name, b.Name) })
	header, was, is := catalogue.Header(attributes), old.Fields(currency, attributes), r.Fields(currency, attributes)
	var out []string
	for i := range header {
		if was[i] != is[i] {
			out = append(out, fmt.Sprintf("%s: %s → %s", header[i], was[i], is[i]))
		}
	}
	return out
}

// flat reads all goods as rows of a table, by SKU, and one of each product.
func (g *Assortment) flat(ctx context.Context, currency string) (bySKU, products map[string]catalogue.Row, err error) {
	bySKU, products = map[string]catalogue.Row{}, map[string]catalogue.Row{}
	err = g.eachRow(ctx, currency, func(r catalogue.Row) error {
		bySKU[r.SKU], products[r.Product] = r, r
		return nil
	})
	return bySKU, products, err
}

// Import applies a file as a whole, or not at all, and returns its batch. The
// progress of one that was begun by [App.BeginImport] can be watched meanwhile.
func (g *Assortment) Import(ctx context.Context, userID, id string, mapping catalogue.Mapping) (string, error) {
	if err := g.at(ctx, id, "Reading the file", 0); err != nil {
		return "", err
	}
	d, err := g.DryRun(ctx, id, mapping)
	switch {
	case err != nil:
		return "", err
	case d.Done:
		return "", refusal.Of(refusal.ErrConflict, "This file has been applied already.")
	case d.Refused != "":
		return "", refusal.Of(refusal.ErrInvalid, "%s", d.Refused)
	case d.Faulty > 0:
		return "", refusal.Of(refusal.ErrInvalid, "%d lines are faulty, so nothing was changed. Mend them and choose the file again.", d.Faulty)
	case len(d.rows) == 0:
		return "", refusal.Of(refusal.ErrInvalid, "There is nothing in the file that is not here already.")
	}
	if err := g.at(ctx, id, "Bringing the rows in", len(d.rows)); err != nil {
		return "", err
	}
	if err := g.stage(ctx, d.ID, d.rows); err != nil {
		return "", err
	}
	b := store.Batch{ID: store.NewID(), At: g.Store.Now(), What: fmt.Sprintf("“%s” imported", d.Name), Added: d.Added, Changed: d.Changed}
	if userID != "" {
		b.UserID = &userID
	}
	err = g.Prices.Repricing(ctx, func(tx *gorm.DB) (string, []string, error) {
		ids, err := g.merge(ctx, tx, id, b)
		return b.What, ids, err
	})
	var state interface{ SQLState() string }
	if errors.As(err, &state) && state.SQLState() == "23514" {
		return "", refusal.Of(refusal.ErrConflict, "Some goods would have less stock than is promised to orders being paid for. Nothing was changed; try again in a moment.")
	}
	if err != nil {
		return "", err
	}
	return b.ID, g.analyze(ctx)
}
