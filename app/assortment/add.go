package assortment

import (
	"context"
	"slices"
	"strings"

	"chrysagon/core/catalogue"
	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"gorm.io/gorm"
)

// NewGoods is a product, or one more variant of one, as it is typed.
type NewGoods struct{ Product, SKU, Name, Label, Price, Stock, Form string }

// AddGoods adds a product with its first variant, or a variant to a product.
// Faults are by field.
func (g *Assortment) AddGoods(ctx context.Context, in NewGoods) (string, map[string]string, error) {
	shop, err := g.Store.Shop(ctx)
	if err != nil {
		return "", nil, err
	}
	faults := map[string]string{}
	price, err := money.Parse(in.Price, shop.Currency)
	if err != nil {
		faults["price"] = "Write a price, such as " + money.Of(2900, shop.Currency).Plain() + "."
	}
	stock, say := readOne(string(catalogue.Stock), in.Stock, shop.Currency, nil)
	if say != "" {
		faults["stock"] = say
	}
	in.SKU, in.Name = strings.TrimSpace(in.SKU), strings.TrimSpace(in.Name)
	if in.SKU == "" || len([]rune(in.SKU)) > 60 {
		faults["sku"] = "Write an SKU of at most 60 characters; goods are known by it."
	}
	if in.Product == "" && (in.Name == "" || len([]rune(in.Name)) > 200) {
		faults["name"] = "Write a name of at most 200 characters."
	}
	if len(faults) > 0 {
		return "", faults, nil
	}
	product := in.Product
	err = g.Store.In(ctx, func(tx *gorm.DB) error {
		if err := store.SetMoment(tx, g.Store.Now(), "added"); err != nil {
			return err
		}
		if product == "" {
			product = store.NewID()
			row := store.Product{ID: product, Name: in.Name, Form: orPhysical(goods.Form(in.Form)), TaxClass: goods.StandardClass, AddedAt: g.Store.Now()}
			if err := tx.Create(&row).Error; err != nil {
				return err
			}
		}
		now := g.Store.Now()
		v := store.Variant{ID: store.NewID(), ProductID: product, SKU: in.SKU, Label: in.Label, PriceMinor: price.Minor, NowMinor: price.Minor, Stock: stock.Stock, Condition: string(goods.New), ReceivedAt: &now, Attributes: store.JSON("{}")}
		if err := tx.Create(&v).Error; err != nil {
			return err
		}
		return g.Prices.AfterChange(tx, "added", []string{v.ID})
	})
	if store.IsDuplicate(err) {
		return "", map[string]string{"sku": "Another of the goods has this SKU."}, nil
	}
	if err == nil {
		g.News.FactsChanged()
	}
	return product, nil, err
}

// AddAttribute declares a property that goods can have.
func (g *Assortment) AddAttribute(ctx context.Context, label, kind, unit string) error {
	label = strings.TrimSpace(label)
	name := strings.Trim(strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z', r >= '0' && r <= '9':
			return r
		}
		return '_'
	}, strings.ToLower(label)), "_0123456789")
	if name == "" || len(name) > 40 || len([]rune(unit)) > 12 {
		return refusal.Of(refusal.ErrInvalid, "Give the attribute a name with letters in it, of at most 40 characters, and a short unit.")
	}
	if slices.Contains(catalogue.Columns, catalogue.Column(name)) {
		return refusal.Of(refusal.ErrInvalid, "Every product has “%s” already. Give the attribute another name.", label)
	}
	if kind != string(goods.Number) && kind != string(goods.Text) && kind != string(goods.YesNo) {
		return refusal.Of(refusal.ErrInvalid, "An attribute is a number, a text, or yes or no.")
	}
	err := g.Store.On(ctx).Create(&store.Attribute{Name: name, Label: label, Type: kind, Unit: strings.TrimSpace(unit)}).Error
	if store.IsDuplicate(err) {
		return refusal.Of(refusal.ErrConflict, "There is an attribute of this name already.")
	}
	return err
}
