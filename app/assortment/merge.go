package assortment

import (
	"context"
	"crypto/md5" //nolint:gosec // names rows, guards nothing
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"slices"

	"chrysagon/core/catalogue"
	"chrysagon/core/refusal"
	"chrysagon/store"

	pgx "github.com/jackc/pgx/v5"
	"gorm.io/gorm"
)

// merge turns the staged rows of an import into goods, as a batch that can be
// undone, and returns the IDs of those it touched.
func (g *Assortment) merge(ctx context.Context, tx *gorm.DB, id string, b store.Batch) ([]string, error) {
	var applied *string
	if err := tx.Raw("SELECT batch_id FROM imports WHERE id = ? FOR UPDATE", id).Scan(&applied).Error; err != nil {
		return nil, err
	}
	if applied != nil {
		return nil, refusal.Of(refusal.ErrConflict, "This file has been applied already.")
	}
	if err := store.SetMoment(tx, g.Store.Now(), b.What); err != nil {
		return nil, err
	}
	if err := tx.Create(&b).Error; err != nil {
		return nil, err
	}
	if err := g.at(ctx, id, "Writing the goods", b.Added+b.Changed); err != nil {
		return nil, err
	}
	// Our own ID has letters and digits only.
	if err := tx.Exec("CREATE TEMP VIEW incoming AS SELECT * FROM staged_goods WHERE import_id = '" + id + "'").Error; err != nil {
		return nil, err
	}
	for _, sql := range merging {
		if err := tx.Exec(sql.text, slices.Repeat([]any{b.ID}, sql.batch)...).Error; err != nil {
			return nil, fmt.Errorf("write the goods: %w", err)
		}
	}
	if err := tx.Exec("DROP VIEW incoming").Error; err != nil {
		return nil, err
	}
	if err := tx.Exec("DELETE FROM staged_goods WHERE import_id = ?", id).Error; err != nil {
		return nil, err
	}
	if err := tx.Exec("UPDATE imports SET batch_id = ?, raw = '' WHERE id = ?", b.ID, id).Error; err != nil {
		return nil, err
	}
	if err := g.at(ctx, id, "Computing the prices", b.Added+b.Changed); err != nil {
		return nil, err
	}
	var ids []string
	err := tx.Raw("SELECT variant_id FROM batch_rows WHERE batch_id = ?", b.ID).Scan(&ids).Error
	return ids, err
}

// analyze lets the planner know the goods that came in, and sorts their names
// into the index of words: names that wait beside it make every search read all.
func (g *Assortment) analyze(ctx context.Context) error {
	return errors.Join(
		g.Store.On(ctx).Exec("ANALYZE variants, products").Error,
		g.Store.On(ctx).Exec("SELECT gin_clean_pending_list('products_name_words')").Error,
	)
}

// progressEvery is after how many rows an import tells how far it is.
const progressEvery = 5000

// stage copies rows beside the goods. Nothing there counts until it is merged;
// what a crash leaves is swept away by the next import.
func (g *Assortment) stage(ctx context.Context, importID string, rows []catalogue.Row) error {
	if _, err := g.Store.Pool.Exec(ctx, "DELETE FROM staged_goods WHERE import_id = $1 OR import_id NOT IN (SELECT id FROM imports)", importID); err != nil {
		return fmt.Errorf("bring the rows in: %w", err)
	}
	columns := []string{"import_id", "sku", "id", "product_id", "name", "label", "form", "category", "tags", "price", "cost", "stock", "weight", "condition", "received", "tax_class", "perishable", "attributes", "description"}
	i := 0
	_, err := g.Store.Pool.CopyFrom(ctx, pgx.Identifier{"staged_goods"}, columns, pgx.CopyFromFunc(func() ([]any, error) {
		if i == len(rows) {
			return nil, nil
		}
		r := rows[i]
		i++
		if i%progressEvery == 0 {
			if err := g.progressed(ctx, importID, map[string]any{"done": i}); err != nil {
				return nil, err
			}
		}
		attributes, err := json.Marshal(r.Attributes)
		if err != nil {
			return nil, err
		}
		sum := md5.Sum([]byte("variant " + r.SKU)) //nolint:gosec // names a row, guards nothing
		return []any{importID, r.SKU, hex.EncodeToString(sum[:]), r.Product, r.Name, r.Label, string(r.Form), r.Category, nonNil(r.Tags), r.Price, r.Cost, r.Stock, r.Weight,
			string(r.Condition), dateOrNil(r.Received), r.TaxClass, r.Perishable, attributes, r.Description}, nil
	}))
	if err != nil {
		return fmt.Errorf("bring the rows in: %w", err)
	}
	_, err = g.Store.Pool.Exec(ctx, "ANALYZE staged_goods")
	return err
}

func nonNil(list []string) []string {
	if list == nil {
		return []string{}
	}
	return list
}

// merging turns what came in into goods: first what they were is kept, then
// products, then variants. Stock is what may be sold: what is reserved is added.
// Rows are written in the order of their IDs, so that every index on them grows
// at its end and not all over.
var merging = []struct {
	text  string
	batch int
}{
	{`UPDATE staged_goods g SET id = v.id FROM incoming i JOIN variants v ON v.sku = i.sku WHERE g.import_id = i.import_id AND g.sku = i.sku AND g.id <> v.id`, 0},
	{`INSERT INTO batch_rows (batch_id, variant_id, before, stock_after) SELECT ?, x.*, i.stock + y.reserved FROM (` + beforeRows + ` JOIN incoming j ON j.id = v.id) x
		JOIN incoming i ON i.id = x.id JOIN variants y ON y.id = x.id`, 1},
	{`INSERT INTO batch_rows (batch_id, variant_id, stock_after) SELECT ?, i.id, i.stock FROM incoming i WHERE NOT EXISTS (SELECT FROM variants v WHERE v.id = i.id) ORDER BY i.id`, 1},
	{`INSERT INTO products (id, name, form, category, tags, tax_class, perishable, description, added_at)
		SELECT DISTINCT ON (product_id) product_id, name, form, category, tags, tax_class, perishable, description, current_setting('chrysagon.moment')::timestamptz FROM incoming ORDER BY product_id, sku
		ON CONFLICT (id) DO UPDATE SET name = EXCLUDED.name, form = EXCLUDED.form, category = EXCLUDED.category, tags = EXCLUDED.tags, tax_class = EXCLUDED.tax_class, perishable = EXCLUDED.perishable, description = EXCLUDED.description
		WHERE (products.name, products.form, products.category, products.tags, products.tax_class, products.perishable, products.description)
			IS DISTINCT FROM (EXCLUDED.name, EXCLUDED.form, EXCLUDED.category, EXCLUDED.tags, EXCLUDED.tax_class, EXCLUDED.perishable, EXCLUDED.description)`, 0},
	{`INSERT INTO variants (id, product_id, sku, label, price_minor, now_minor, cost_minor, stock, weight_grams, condition, received_at, attributes)
		SELECT id, product_id, sku, label, price, price, cost, stock, weight, condition, received, attributes FROM incoming ORDER BY id
		ON CONFLICT (id) DO UPDATE SET product_id = EXCLUDED.product_id, label = EXCLUDED.label, price_minor = EXCLUDED.price_minor, cost_minor = EXCLUDED.cost_minor,
			stock = EXCLUDED.stock + variants.reserved, weight_grams = EXCLUDED.weight_grams, condition = EXCLUDED.condition, received_at = EXCLUDED.received_at, attributes = EXCLUDED.attributes`, 0},
}
