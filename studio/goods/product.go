package goods

import (
	"fmt"
	"strings"
	"time"

	"chrysagon/app/assortment"
	"chrysagon/core/deadline"
	"chrysagon/core/goods"
	"chrysagon/core/ledger"
	"chrysagon/core/money"
	"chrysagon/core/refusal"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// chart is a price ledger drawn as steps, with the days that the struck price
// looks at shaded.
type chart struct {
	SKU, Name      string
	Path, ListPath string
	ShadeX, ShadeW int
	Marks          []chartMark
	Low, High      string
	From, Until    string
	Struck         ledger.Struck
	StruckY        int
	Why            string
}

type chartMark struct {
	X, Y        int
	Label, When string
	End         bool // written to the left of its place
}

const (
	chartWidth  = 720
	chartHeight = 150
	chartTop    = 24
	chartDays   = 150
)

// ledgerChart draws the last 150 days.
func ledgerChart(v assortment.GoodsRow, entries []ledger.Entry, s ledger.Struck, now time.Time, zone string) chart {
	c := chart{SKU: v.SKU, Name: v.Name, Struck: s}
	from := now.AddDate(0, 0, -chartDays)
	low, high := int64(-1), int64(0)
	for i, e := range entries {
		if i+1 < len(entries) && !entries[i+1].Since.After(from) {
			continue
		}
		if low < 0 || e.Price < low {
			low = e.Price
		}
		high = max(high, e.Price, *e.List)
	}
	if low < 0 {
		return c
	}
	pad := max((high-low)/8, 1)
	low, high = max(0, low-pad), high+pad
	x := func(at time.Time) int {
		if at.Before(from) {
			return 0
		}
		return int(at.Sub(from).Hours() / now.Sub(from).Hours() * chartWidth)
	}
	y := func(p int64) int { return chartTop + int((high-p)*(chartHeight-chartTop)/(high-low)) }
	var path, list strings.Builder
	lastX := -100
	for i, e := range entries {
		until := now
		if i+1 < len(entries) {
			until = entries[i+1].Since
		}
		if !until.After(from) || e.Since.After(now) {
			continue
		}
		verb := "L"
		if path.Len() == 0 {
			verb = "M"
		}
		fmt.Fprintf(&path, "%s%d %dL%d %d", verb, x(e.Since), y(e.Price), x(until), y(e.Price))
		fmt.Fprintf(&list, "%s%d %dL%d %d", verb, x(e.Since), y(*e.List), x(until), y(*e.List))
		if at := x(e.Since); at-lastX > 64 {
			c.Marks = append(c.Marks, chartMark{X: at, Y: y(e.Price) - 8, End: at > chartWidth-70, Label: money.Of(e.Price, v.Price.Currency).String(), When: deadline.Short(e.Since, zone) + " " + e.Why})
			lastX = at
		}
	}
	c.Path, c.ListPath = path.String(), list.String()
	if !s.From.IsZero() && s.Until.After(from) {
		c.ShadeX = x(s.From)
		c.ShadeW = max(x(s.Until)-c.ShadeX, 1)
	}
	if s.Struck != nil {
		c.StruckY = y(s.Struck.Minor)
	}
	c.From, c.Until = deadline.Short(from, zone), "now"
	return c
}

func (place *Place) goodsPage(c fiber.Ctx) error {
	p, err := place.Goods.GoodsPage(c, strings.Clone(c.Params("id")))
	if err != nil {
		return err
	}
	attributes, err := place.Shelves.AttributeList(c)
	if err != nil {
		return err
	}
	var charts []chart
	for _, v := range p.Variants {
		charts = append(charts, ledgerChart(v, p.Ledgers[v.ID], p.Struck[v.ID], place.Store.Now(), p.Zone))
	}
	var ids []string
	for _, v := range p.Variants {
		ids = append(ids, v.ID)
	}
	pages, err := place.Publishing.PagesOf(c, ids)
	if err != nil {
		return err
	}
	columns := productColumns(attributes)
	return place.Show(c, "product", "Goods", map[string]any{"Title": p.Product.Name, "P": p, "Charts": charts, "Columns": columns, "Attributes": attributes, "Pages": pages, "Shop": place.Origins.Shop})
}

func (place *Place) addGoods(c fiber.Ctx) error {
	get := func(name string) string { return frame.Typed(c, name) }
	in := assortment.NewGoods{Product: get("product"), SKU: get("sku"), Name: get("name"), Label: get("label"), Price: get("price"), Stock: get("stock"), Form: get("form")}
	id, faults, err := place.Goods.AddGoods(c, in)
	if err != nil {
		return err
	}
	if len(faults) > 0 {
		return place.Send(c, fiber.StatusOK, "add-goods", map[string]any{"In": in, "Faults": faults})
	}
	return frame.LeadTo(c, "/goods/"+id)
}

func (place *Place) addAttribute(c fiber.Ctx) error {
	if err := place.Goods.AddAttribute(c, frame.Typed(c, "label"), frame.Typed(c, "type"), frame.Typed(c, "unit")); err != nil {
		return err
	}
	return frame.LoadAgain(c)
}

func (place *Place) leadPicture(c fiber.Ctx) error {
	if err := place.Pictures.LeadPicture(c, strings.Clone(c.Params("id")), frame.Typed(c, "picture")); err != nil {
		return err
	}
	return frame.LoadAgain(c)
}

func (place *Place) keepFile(c fiber.Ctx) error {
	header, err := c.FormFile("file")
	if err != nil {
		return refusal.Refusal{Kind: refusal.ErrInvalid, Say: "Choose a file first."}
	}
	raw, err := frame.ReadPart(header, 100<<20)
	if err != nil {
		return err
	}
	if err := place.Pictures.KeepFile(c, strings.Clone(c.Params("id")), header.Filename, raw); err != nil {
		return err
	}
	return frame.SeeOther(c, "/goods/"+strings.Clone(c.Params("id")))
}

// productColumns are all that is known of one variant, most of it changed in
// place.
func productColumns(attributes []goods.Attribute) []goodsColumn {
	columns := goodsColumns(attributes)
	for i := range columns {
		if columns[i].Name == "name" || columns[i].Name == "condition" {
			columns[i].Edit = true
		}
	}
	return append(columns, goodsColumn{Name: "variant", Label: "Sets it apart", Edit: true}, goodsColumn{Name: "received", Label: "Received on", Edit: true},
		goodsColumn{Name: "form", Label: "Sent, downloaded, booked", Edit: true}, goodsColumn{Name: "tax_class", Label: "Tax class", Edit: true}, goodsColumn{Name: "perishable", Label: "Perishable", Edit: true})
}
