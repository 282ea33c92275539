package goods

import (
	"fmt"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"chrysagon/app/assortment"
	"chrysagon/app/shelves"
	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/shelf"
	"chrysagon/internal/wire"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
	"github.com/shopspring/decimal"
)

// goodsPerPage is how many rows the Goods table shows at once.
const goodsPerPage = 50

// goodsColumn is a column of the Goods table.
type goodsColumn struct {
	Name, Label string
	Sort        shelf.Order
	Sorts, Num  bool
	Edit        bool // changed in place
}

func goodsColumns(attributes []goods.Attribute) []goodsColumn {
	sorted := func(f shelf.Field) shelf.Order { return shelf.Order{By: f} }
	out := []goodsColumn{
		{Name: "name", Label: "Name", Sort: sorted(shelf.Name), Sorts: true}, {Name: "sku", Label: "SKU", Edit: true},
		{Name: "price", Label: "List price", Sort: sorted(shelf.ListPrice), Sorts: true, Num: true, Edit: true},
		{Name: "now", Label: "Asked now", Sort: sorted(shelf.Price), Sorts: true, Num: true},
		{Name: "stock", Label: "Stock", Sort: sorted(shelf.Stock), Sorts: true, Num: true, Edit: true},
		{Name: "days", Label: "Days in stock", Sort: sorted(shelf.DaysInStock), Sorts: true, Num: true},
		{Name: "category", Label: "Category", Sort: sorted(shelf.Category), Sorts: true, Edit: true},
		{Name: "condition", Label: "Condition", Sort: sorted(shelf.Condition), Sorts: true},
		{Name: "cost", Label: "Cost", Num: true, Edit: true}, {Name: "weight_grams", Label: "Weight, g", Num: true, Edit: true}, {Name: "tags", Label: "Tags", Edit: true},
	}
	for _, a := range attributes {
		label := a.Label
		if a.Unit != "" {
			label += ", " + a.Unit
		}
		c := goodsColumn{Name: a.Name, Label: label, Num: a.Type == goods.Number, Edit: true}
		if a.Type == goods.Number {
			c.Sort, c.Sorts = shelf.Order{By: shelf.Attribute, Name: a.Name}, true
		}
		out = append(out, c)
	}
	return out
}

var firstColumns = []string{"name", "sku", "price", "now", "stock", "days", "category", "condition"}

// cell is what stands in a column for one of the goods.
func cell(r assortment.GoodsRow, c goodsColumn) string {
	switch c.Name {
	case "name":
		return strings.TrimSuffix(r.Name, ", "+r.Label)
	case "sku":
		return r.SKU
	case "price":
		return r.Price.Plain()
	case "now":
		return r.Now.Plain()
	case "stock":
		if r.Form == goods.Digital {
			return "–"
		}
		return strconv.Itoa(r.Stock)
	case "days":
		if r.Days < 0 {
			return "–"
		}
		return strconv.Itoa(r.Days)
	case "category":
		return r.Category
	case "condition":
		return string(r.State())
	case "cost":
		if r.Cost == nil {
			return ""
		}
		return r.Cost.Plain()
	case "weight_grams":
		return frame.Whole(r.Weight)
	case "tags":
		return strings.Join(r.Tags, ", ")
	case "variant":
		return r.Label
	case "received":
		if r.Received.IsZero() {
			return ""
		}
		return r.Received.Format("2006-01-02")
	case "form":
		return string(r.Form)
	case "tax_class":
		return r.Class()
	case "perishable":
		return map[bool]string{true: "yes", false: "no"}[r.Perishable]
	}
	v, ok := r.Attributes[c.Name]
	if !ok {
		return ""
	}
	return v.String()
}

// listing is the state of the Goods table, kept in its address.
type listing struct {
	Find, Category, Condition, Sort string
	Down                            bool
	Page                            int
	Columns                         []string
	ShelfID                         string
}

func listingOf(c fiber.Ctx) listing {
	q := func(name string) string { return strings.TrimSpace(strings.Clone(c.Query(name))) }
	l := listing{Find: q("find"), Category: q("category"), Condition: q("condition"), Sort: q("sort"), Down: q("down") != "", ShelfID: q("shelf")}
	l.Page, _ = strconv.Atoi(q("page")) // no number is the first page
	l.Page = min(max(l.Page, 0), 100_000)
	l.Columns = frame.Copied(c.Request().URI().QueryArgs().PeekMulti("col"))
	if len(l.Columns) == 0 {
		l.Columns = firstColumns
	}
	return l
}

// With is the address of the table with something changed.
func (l listing) With(pairs ...any) string {
	v := url.Values{}
	set := func(name, value string) {
		if value != "" {
			v.Set(name, value)
		}
	}
	set("find", l.Find)
	set("category", l.Category)
	set("condition", l.Condition)
	set("sort", l.Sort)
	set("shelf", l.ShelfID)
	if l.Down {
		v.Set("down", "1")
	}
	if !slices.Equal(l.Columns, firstColumns) {
		v["col"] = l.Columns
	}
	for i := 0; i+1 < len(pairs); i += 2 {
		name, value := fmt.Sprint(pairs[i]), fmt.Sprint(pairs[i+1])
		v.Del(name)
		set(name, value)
	}
	return "/goods?" + v.Encode()
}

func (l listing) query(columns []goodsColumn, shelves shelves.NamedShelves) assortment.GoodsQuery {
	chosen, _ := shelves.Find(l.ShelfID) // none is no filter
	of := chosen.Shelf
	q := assortment.GoodsQuery{Find: l.Find, Shelf: of, After: l.Page * goodsPerPage, Number: goodsPerPage, Archived: l.Condition == "archived"}
	var all []shelf.Rule
	if of.Rule.Field != "" || of.Rule.All != nil || of.Rule.Any != nil || of.Rule.None != nil {
		all = append(all, of.Rule)
	}
	if l.Category != "" {
		all = append(all, shelf.Rule{Field: shelf.Category, Is: []goods.Value{goods.TextOf(l.Category)}})
	}
	if l.Condition != "" && !q.Archived {
		all = append(all, shelf.Rule{Field: shelf.Condition, Is: []goods.Value{goods.TextOf(l.Condition)}})
	}
	if all != nil {
		q.Shelf.Rule = shelf.Rule{All: all}
	}
	for _, c := range columns {
		if c.Name == l.Sort && c.Sorts {
			c.Sort.Down = l.Down
			q.Shelf.Order = []shelf.Order{c.Sort}
		}
	}
	if len(q.Shelf.Order) == 0 {
		q.Shelf.Order = []shelf.Order{{By: shelf.Name}}
	}
	return q
}

func (place *Place) goodsPlace(c fiber.Ctx) error {
	values, err := place.goodsValues(c)
	if err != nil {
		return err
	}
	if c.Get("HX-Request") != "" {
		return place.Send(c, fiber.StatusOK, "goods-table", values)
	}
	return place.Show(c, "goods", "Goods", values)
}

func (place *Place) goodsValues(c fiber.Ctx) (map[string]any, error) {
	l := listingOf(c)
	attributes, err := place.Shelves.AttributeList(c)
	if err != nil {
		return nil, err
	}
	columns := goodsColumns(attributes)
	shelves, err := place.Shelves.Shelves(c)
	if err != nil {
		return nil, err
	}
	list, err := place.Goods.Goods(c, l.query(columns, shelves))
	if err != nil {
		return nil, err
	}
	categories, err := place.Goods.Categories(c)
	if err != nil {
		return nil, err
	}
	batches, err := place.Goods.Batches(c)
	if err != nil {
		return nil, err
	}
	shop, err := place.Store.Shop(c)
	if err != nil {
		return nil, err
	}
	var shown []goodsColumn
	for _, col := range columns {
		if slices.Contains(l.Columns, col.Name) {
			shown = append(shown, col)
		}
	}
	return map[string]any{
		"Title": "Goods", "List": list, "L": l, "Columns": shown, "All": columns, "Categories": categories, "Batches": batches, "Zone": shop.Zone,
		"Shelves": shelves, "From": l.Page*goodsPerPage + 1, "Last": l.Page*goodsPerPage + len(list.Rows), "More": len(list.Rows) == goodsPerPage, "CSRF": frame.Who(c).CSRF,
	}, nil
}

// editGoods changes one cell in place.
func (place *Place) editGoods(c fiber.Ctx) error {
	id, column, value := strings.Clone(c.Params("id")), frame.Typed(c, "column"), frame.Typed(c, "value")
	fault, err := place.Goods.EditGoods(c, frame.Who(c).User.ID, id, column, value)
	if err != nil {
		return err
	}
	if fault != "" {
		return wire.Problem(c, fiber.StatusUnprocessableEntity, fault)
	}
	return c.JSON(map[string]string{"said": "Kept. Every page that shows it follows."})
}

// chosen reads which goods a change of many is for: those ticked, or all that
// the table's search and filters find.
func (place *Place) chosen(c fiber.Ctx) ([]string, error) {
	if c.FormValue("every") == "" {
		return frame.AllTyped(c, "id"), nil
	}
	l := listing{Find: c.FormValue("find"), Category: c.FormValue("category"), Condition: c.FormValue("condition"), ShelfID: c.FormValue("shelf")}
	shelves, err := place.Shelves.Shelves(c)
	if err != nil {
		return nil, err
	}
	q := l.query(nil, shelves)
	q.Number = assortment.MaxBulk + 1
	return place.Goods.GoodsIDs(c, q)
}

// change reads a change of many prices: +10%, -5, =49.00.
func readChange(text, currency string) (assortment.PriceChange, string) {
	const say = "Write +10% or -10%, +5.00 or -5.00, or =49.00 for one price."
	text = strings.ReplaceAll(strings.ReplaceAll(strings.TrimSpace(text), " ", ""), "−", "-")
	var c assortment.PriceChange
	if text == "" {
		return c, say
	}
	sign, rest := text[0], text[1:]
	if p, ok := strings.CutSuffix(rest, "%"); ok && (sign == '+' || sign == '-') {
		n, err := decimal.NewFromString(strings.Replace(p, ",", ".", 1))
		if err != nil || !n.IsPositive() || n.GreaterThan(decimal.NewFromInt(1000)) || (sign == '-' && n.GreaterThan(decimal.NewFromInt(100))) || n.Exponent() < -4 {
			return c, say
		}
		if sign == '-' {
			n = n.Neg()
		}
		return assortment.PriceChange{Percent: n}, ""
	}
	m, err := money.Parse(rest, currency)
	if err != nil {
		return c, say
	}
	switch sign {
	case '+':
		c.Amount = m.Minor
	case '-':
		c.Amount = -m.Minor
	case '=':
		c.To = &m.Minor
	default:
		return c, say
	}
	return c, ""
}

func (place *Place) previewGoods(c fiber.Ctx) error { return place.bulk(c, false) }

func (place *Place) changeGoods(c fiber.Ctx) error { return place.bulk(c, true) }

func (place *Place) bulk(c fiber.Ctx, apply bool) error {
	shop, err := place.Store.Shop(c)
	if err != nil {
		return err
	}
	ids, err := place.chosen(c)
	if err != nil {
		return err
	}
	values := map[string]any{"Chosen": len(ids)}
	change, fault := readChange(c.FormValue("change"), shop.Currency)
	if fault != "" || len(ids) == 0 {
		if len(ids) == 0 {
			fault = "Tick the goods whose prices you want to change, or “all that are found”."
		}
		values["Fault"] = fault
		return place.Send(c, fiber.StatusOK, "bulk-preview", values)
	}
	if apply {
		b, err := place.Goods.ChangePrices(c, frame.Who(c).User.ID, ids, change)
		if err != nil {
			return err
		}
		c.Set("HX-Trigger", "goods-changed")
		values["Batch"] = b
		return place.Send(c, fiber.StatusOK, "bulk-preview", values)
	}
	results, err := place.Goods.Preview(c, ids, change)
	if err != nil {
		return err
	}
	under := 0
	for _, r := range results {
		if r.Under {
			under++
		}
	}
	values["Results"], values["Under"], values["More"] = results[:min(len(results), 500)], under, max(0, len(results)-500)
	return place.Send(c, fiber.StatusOK, "bulk-preview", values)
}

func (place *Place) undoGoods(c fiber.Ctx) error {
	said, err := place.Goods.UndoBatch(c, strings.Clone(c.Params("id")))
	if err != nil {
		return err
	}
	c.Set("HX-Trigger", "goods-changed")
	return c.JSON(map[string]string{"said": said})
}
