package assortment

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/core/catalogue"
	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"github.com/shopspring/decimal"
	"gorm.io/gorm"
)

// PriceChange is how many list prices are changed at once.
type PriceChange struct {
	Percent decimal.Decimal // added; below zero: taken off
	Amount  int64           // minor units added, when Percent is zero
	To      *int64          // or this price for all
}

// apply is the new list price: rounded half away from zero, never below zero.
func (c PriceChange) apply(price money.Money) int64 {
	switch {
	case c.To != nil:
		return *c.To
	case !c.Percent.IsZero():
		return max(0, price.Percent(decimal.NewFromInt(100).Add(c.Percent)).Minor)
	}
	return max(0, price.Minor+c.Amount)
}

// MaxBulk is how many goods are changed at once.
const MaxBulk = 200_000

// PriceResult is what a change makes of one price.
type PriceResult struct {
	ID, SKU, Name string
	From, To      money.Money
	Under         bool // under cost
}

// Preview computes what a change of many prices would make of each.
func (g *Assortment) Preview(ctx context.Context, ids []string, c PriceChange) ([]PriceResult, error) {
	shop, err := g.Store.Shop(ctx)
	if err != nil {
		return nil, err
	}
	if len(ids) == 0 {
		return nil, refusal.Of(refusal.ErrInvalid, "Choose some goods first.")
	}
	if len(ids) > MaxBulk {
		return nil, refusal.Of(refusal.ErrInvalid, "At most %d goods can be changed at once.", MaxBulk)
	}
	var rows []factbook.GoodsRow
	if err := g.Store.On(ctx).Raw(factbook.GoodsRows+" WHERE v.id = ANY(?::text[]) ORDER BY p.name, v.id", store.TextArray(ids)).Scan(&rows).Error; err != nil {
		return nil, fmt.Errorf("read the goods: %w", err)
	}
	out := make([]PriceResult, len(rows))
	for i, r := range rows {
		p := r.Product(shop.Currency)
		to := c.apply(p.Price)
		if to > money.Limit {
			return nil, refusal.Of(refusal.ErrInvalid, "%s would cost more than can be computed with.", p.Name)
		}
		out[i] = PriceResult{ID: p.ID, SKU: p.SKU, Name: p.Name, From: p.Price, To: money.Of(to, shop.Currency), Under: p.Cost != nil && to < p.Cost.Minor}
	}
	return out, nil
}

// ChangePrices changes many list prices at once, as Preview showed them. It can
// be undone.
func (g *Assortment) ChangePrices(ctx context.Context, userID string, ids []string, c PriceChange) (store.Batch, error) {
	results, err := g.Preview(ctx, ids, c)
	if err != nil {
		return store.Batch{}, err
	}
	var changed, prices []string
	for _, r := range results {
		if r.From != r.To {
			changed, prices = append(changed, r.ID), append(prices, fmt.Sprint(r.To.Minor))
		}
	}
	what := fmt.Sprintf("%d prices changed", len(changed))
	return g.batch(ctx, userID, what, changed, func(tx *gorm.DB) error {
		return tx.Exec(`UPDATE variants v SET price_minor = n.price FROM unnest(?::text[], ?::bigint[]) AS n(id, price) WHERE v.id = n.id`,
			store.TextArray(changed), store.TextArray(prices)).Error
	})
}

// batchRow is one of the goods as it was, for undoing.
const beforeRows = `SELECT v.id, jsonb_build_object('variant', to_jsonb(v) - 'reserved' - 'now_minor', 'product', to_jsonb(p)) ` + store.GoodsFrom

// batch changes some goods in one transaction, keeps what they were, and prices
// them anew.
func (g *Assortment) batch(ctx context.Context, userID, what string, ids []string, change func(*gorm.DB) error) (store.Batch, error) {
	b := store.Batch{ID: store.NewID(), At: g.Store.Now(), What: what, Changed: len(ids)}
	if userID != "" {
		b.UserID = &userID
	}
	err := g.Prices.Repricing(ctx, func(tx *gorm.DB) (string, []string, error) {
		if err := tx.Create(&b).Error; err != nil {
			return "", nil, err
		}
		err := tx.Exec(`INSERT INTO batch_rows (batch_id, variant_id, before) SELECT ?, x.* FROM (`+beforeRows+` WHERE v.id = ANY(?::text[])) x`, b.ID, store.TextArray(ids)).Error
		if err != nil {
			return "", nil, fmt.Errorf("keep what the goods were: %w", err)
		}
		if err := store.SetMoment(tx, g.Store.Now(), what); err != nil {
			return "", nil, err
		}
		if err := change(tx); err != nil {
			return "", nil, err
		}
		return what, ids, afterStock(tx, b.ID)
	})
	if err != nil {
		return b, fmt.Errorf("change goods: %w", err)
	}
	return b, nil
}

// afterStock notes the stock that a batch left, so that undoing it does not
// bring back what was sold meanwhile.
func afterStock(tx *gorm.DB, batchID string) error {
	return tx.Exec("UPDATE batch_rows r SET stock_after = v.stock FROM variants v WHERE r.batch_id = ? AND v.id = r.variant_id", batchID).Error
}

// UndoBatch takes a batch back: what it changed is as it was, what it added is gone.
// Goods sold meanwhile stay, and their stock with them.
func (g *Assortment) UndoBatch(ctx context.Context, batchID string) (string, error) {
	var kept int64
	err := g.Prices.Repricing(ctx, func(tx *gorm.DB) (string, []string, error) {
		var b store.Batch
		if err := tx.Raw("SELECT * FROM batches WHERE id = ? FOR UPDATE", batchID).Scan(&b).Error; err != nil {
			return "", nil, err
		}
		switch {
		case b.ID == "":
			return "", nil, refusal.Of(refusal.ErrNotFound, "There is nothing to undo.")
		case b.UndoneAt != nil:
			return "", nil, refusal.Of(refusal.ErrConflict, "This has been undone already.")
		}
		why := "undone: " + b.What
		if err := store.SetMoment(tx, g.Store.Now(), why); err != nil {
			return why, nil, err
		}
		for _, sql := range undoing {
			if err := tx.Exec(sql, batchID).Error; err != nil {
				return why, nil, fmt.Errorf("undo: %w", err)
			}
		}
		if err := tx.Raw("SELECT count(*) FROM batch_rows r JOIN variants v ON v.id = r.variant_id WHERE r.batch_id = ? AND r.before IS NULL", batchID).Scan(&kept).Error; err != nil {
			return why, nil, err
		}
		var ids []string
		if err := tx.Raw("SELECT r.variant_id FROM batch_rows r JOIN variants v ON v.id = r.variant_id WHERE r.batch_id = ?", batchID).Scan(&ids).Error; err != nil {
			return why, nil, err
		}
		return why, ids, tx.Exec("UPDATE batches SET undone_at = ? WHERE id = ?", g.Store.Now(), batchID).Error
	})
	if err != nil {
		return "", err
	}
	said := "Undone. The price ledger keeps both changes."
	if kept > 0 {
		said += fmt.Sprintf(" %d of the added goods stay: they have been ordered or are used in an offer.", kept)
	}
	return said, nil
}

// undoing puts back, by the difference in stock, so that what was sold
// meanwhile stays sold. What was added and neither ordered nor offered goes.
var undoing = []string{
	`UPDATE products p SET name = b.name, form = b.form, category = b.category, tags = b.tags, tax_class = b.tax_class, perishable = b.perishable, description = b.description
		FROM (SELECT DISTINCT ON (r.before -> 'product' ->> 'id') (jsonb_populate_record(NULL::products, r.before -> 'product')).* FROM batch_rows r WHERE r.batch_id = ? AND r.before IS NOT NULL) b
		WHERE p.id = b.id`,
	`UPDATE variants v SET sku = b.sku, product_id = b.product_id, price_minor = b.price_minor, stock = greatest(v.stock + b.stock - b.stock_after, v.reserved), label = b.label, cost_minor = b.cost_minor, weight_grams = b.weight_grams,
		condition = b.condition, received_at = b.received_at, attributes = b.attributes
		FROM (SELECT (jsonb_populate_record(NULL::variants, r.before -> 'variant')).*, r.stock_after FROM batch_rows r WHERE r.batch_id = ? AND r.before IS NOT NULL) b WHERE v.id = b.id`,
	`DELETE FROM variants v USING batch_rows r WHERE r.batch_id = ? AND r.before IS NULL AND v.id = r.variant_id
		AND NOT EXISTS (SELECT FROM order_lines l WHERE l.variant_id = v.id) AND NOT EXISTS (SELECT FROM offer_goods g WHERE g.variant_id = v.id)`,
	`DELETE FROM products p WHERE p.id IN (SELECT variant_id FROM batch_rows WHERE batch_id = ? AND before IS NULL) AND NOT EXISTS (SELECT FROM variants v WHERE v.product_id = p.id)`,
}

// Batches lists the newest changes of many goods.
func (g *Assortment) Batches(ctx context.Context) ([]store.Batch, error) {
	var list []store.Batch
	err := g.Store.On(ctx).Order("at DESC").Limit(8).Find(&list).Error
	return list, err
}

// EditGoods changes one column of one of the goods, as it was typed. A fault is
// a sentence.
func (g *Assortment) EditGoods(ctx context.Context, userID, id, column, typed string) (string, error) {
	shop, err := g.Store.Shop(ctx)
	if err != nil {
		return "", err
	}
	attributes, err := g.Shelves.AttributeList(ctx)
	if err != nil {
		return "", err
	}
	row, fault := readOne(column, typed, shop.Currency, attributes)
	if fault != "" {
		return fault, nil
	}
	_, err = g.batch(ctx, userID, column+" of one product changed", []string{id}, func(tx *gorm.DB) error {
		return writeColumn(tx, id, catalogue.Column(column), row)
	})
	var short interface{ SQLState() string }
	switch {
	case errors.As(err, &short) && short.SQLState() == "23514":
		return "More than that is promised to orders being paid for. Wait a moment, or write more.", nil
	case store.IsDuplicate(err):
		return "Another of the goods has this SKU.", nil
	}
	return "", err
}

func readOne(column, typed, currency string, attributes []goods.Attribute) (catalogue.Row, string) {
	raw := "sku;" + column + "\nx;\"" + strings.ReplaceAll(typed, `"`, `""`) + "\"\n"
	if column == "sku" {
		raw = "sku;name\n\"" + strings.ReplaceAll(typed, `"`, `""`) + "\";x\n"
	}
	sheet, err := catalogue.Open([]byte(raw))
	if err != nil {
		return catalogue.Row{}, refusal.Sentence(err)
	}
	sheet.Attributes = attributes
	var row catalogue.Row
	var say string
	m := catalogue.Mapping{catalogue.SKU, catalogue.Column(sheet.Header[1])}
	err = sheet.Rows(m, currency, func(r catalogue.Row) { row = r }, func(f catalogue.Fault) { say = strings.ToUpper(column[:1]) + column[1:] + " " + f.Reason + "." })
	if err != nil {
		return row, refusal.Sentence(err)
	}
	return row, say
}

// writeColumn writes one column of one of the goods.
func writeColumn(tx *gorm.DB, id string, c catalogue.Column, row catalogue.Row) error {
	variant := map[catalogue.Column]func() (string, any){
		catalogue.SKU: func() (string, any) { return "sku", row.SKU }, catalogue.Label: func() (string, any) { return "label", row.Label },
		catalogue.Price: func() (string, any) { return "price_minor", row.Price }, catalogue.Cost: func() (string, any) { return "cost_minor", row.Cost },
		// What may be sold is shown; what is reserved is added to it.
		catalogue.Stock:     func() (string, any) { return "stock", gorm.Expr("? + reserved", row.Stock) },
		catalogue.Weight:    func() (string, any) { return "weight_grams", row.Weight },
		catalogue.Condition: func() (string, any) { return "condition", orNew(row.Condition) }, catalogue.Received: func() (string, any) { return "received_at", dateOrNil(row.Received) },
	}
	product := map[catalogue.Column]func() (string, any){
		catalogue.Name: func() (string, any) { return "name", row.Name }, catalogue.Category: func() (string, any) { return "category", row.Category },
		catalogue.Tags: func() (string, any) { return "tags", store.StringList(row.Tags) }, catalogue.Form: func() (string, any) { return "form", orPhysical(row.Form) },
		catalogue.TaxClass:    func() (string, any) { return "tax_class", orStandard(row.TaxClass) },
		catalogue.Perishable:  func() (string, any) { return "perishable", row.Perishable },
		catalogue.Description: func() (string, any) { return "description", row.Description },
	}
	if of, ok := variant[c]; ok {
		name, value := of()
		return tx.Table("variants").Where("id = ?", id).Update(name, value).Error
	}
	if of, ok := product[c]; ok {
		name, value := of()
		return tx.Table("products").Where("id = (SELECT product_id FROM variants WHERE id = ?)", id).Update(name, value).Error
	}
	raw, err := json.Marshal(row.Attributes)
	if err != nil {
		return err
	}
	if len(row.Attributes) == 0 {
		return tx.Exec("UPDATE variants SET attributes = attributes - ? WHERE id = ?", string(c), id).Error
	}
	return tx.Exec("UPDATE variants SET attributes = attributes || ?::jsonb WHERE id = ?", string(raw), id).Error
}

func orNew(c goods.Condition) string {
	if c == "" {
		return string(goods.New)
	}
	return string(c)
}

func orPhysical(f goods.Form) string {
	if f == "" {
		return string(goods.Physical)
	}
	return string(f)
}

func orStandard(class string) string {
	if class == "" {
		return goods.StandardClass
	}
	return class
}

func dateOrNil(text string) *time.Time {
	at, err := time.Parse(time.DateOnly, text)
	if err != nil {
		return nil
	}
	at = at.Add(12 * time.Hour) // noon, so that the day is the same in every zone near
	return &at
}
