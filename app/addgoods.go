package app

import (
	"context"
	"strings"

	"chrysagon/core/catalogue"
	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/store"

	"gorm.io/gorm"
)

// NewGoods is a product, or one more variant of one, as it is typed.
type NewGoods struct{ Product, SKU, Name, Label, Price, Stock, Form string }

// AddGoods adds a product with its first variant, or a variant to a product.
// Faults are by field.
func (a *App) AddGoods(ctx context.Context, in NewGoods) (string, map[string]string, error) {
	shop, err := a.Shop(ctx)
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
	err = a.Store.In(ctx, func(tx *gorm.DB) error {
		if err := setMoment(tx, a.Now(), "added"); err != nil {
			return err
		}
		if product == "" {
			product = NewID()
			row := store.Product{ID: product, Name: in.Name, Form: orPhysical(goods.Form(in.Form)), TaxClass: goods.StandardClass, AddedAt: a.Now()}
			if err := tx.Create(&row).Error; err != nil {
				return err
			}
		}
		now := a.Now()
		v := store.Variant{ID: NewID(), ProductID: product, SKU: in.SKU, Label: in.Label, PriceMinor: price.Minor, NowMinor: price.Minor, Stock: stock.Stock, Condition: string(goods.New), ReceivedAt: &now, Attributes: store.JSON("{}")}
		if err := tx.Create(&v).Error; err != nil {
			return err
		}
		return a.afterChange(tx, "added", []string{v.ID})
	})
	if isDuplicate(err) {
		return "", map[string]string{"sku": "Another of the goods has this SKU."}, nil
	}
	if err == nil {
		a.factsChanged()
	}
	return product, nil, err
}

// AddAttribute declares a property that goods can have.
func (a *App) AddAttribute(ctx context.Context, label, kind, unit string) error {
	label = strings.TrimSpace(label)
	name := strings.Trim(strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z', r >= '0' && r <= '9':
			return r
		}
		return '_'
	}, strings.ToLower(label)), "_0123456789")
	if name == "" || len(name) > 40 || len([]rune(unit)) > 12 {
		return refuse(ErrInvalid, "Give the attribute a name with letters in it, of at most 40 characters, and a short unit.")
	}
	if kind != string(goods.Number) && kind != string(goods.Text) && kind != string(goods.YesNo) {
		return refuse(ErrInvalid, "An attribute is a number, a text, or yes or no.")
	}
	err := a.db(ctx).Create(&store.Attribute{Name: name, Label: label, Type: kind, Unit: strings.TrimSpace(unit)}).Error
	if isDuplicate(err) {
		return refuse(ErrConflict, "There is an attribute of this name already.")
	}
	return err
}

// KeepFile keeps what a buyer of a digital product downloads.
func (a *App) KeepFile(ctx context.Context, productID, name string, raw []byte) error {
	if len(raw) == 0 || len(raw) > 100<<20 {
		return refuse(ErrInvalid, "A file to download has from 1 byte to 100 MB.")
	}
	if _, err := one[store.Product](a.db(ctx).Where("id = ? AND form = 'digital'", productID), "Only a digital product has a file."); err != nil {
		return err
	}
	return a.db(ctx).Save(&store.File{ProductID: productID, Name: pictureName(name) + extension(name), Bytes: raw}).Error
}

func extension(name string) string {
	i := strings.LastIndexByte(name, '.')
	if i < 0 || len(name)-i > 8 {
		return ""
	}
	return name[i:]
}
