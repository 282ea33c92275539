package orders

import (
	"strings"

	"chrysagon/core/money"

	"github.com/gofiber/fiber/v3"
)

func (p *Place) exportLeads(c fiber.Ctx) error {
	c.Set("Content-Disposition", `attachment; filename="leads.csv"`)
	c.Type("csv", "utf-8")
	return p.People.ExportLeads(c, c.Response().BodyWriter())
}

// buyersPlace lists everybody who ordered.
func (p *Place) buyersPlace(c fiber.Ctx) error {
	find := strings.Clone(c.Query("q"))
	rows, count, err := p.People.Buyers(c, find, 200)
	if err != nil {
		return err
	}
	shop, err := p.Store.Shop(c)
	if err != nil {
		return err
	}
	again, sum := 0, money.Of(0, shop.Currency)
	for _, r := range rows {
		sum.Minor += r.Minor
		if r.Orders > 1 {
			again++
		}
	}
	values := map[string]any{"Title": "Buyers", "Rows": rows, "Count": count, "Again": again, "Sum": sum, "Find": find, "Zone": shop.Zone}
	if c.Get("HX-Request") != "" {
		return p.Fragment(c, "buyers-body", values)
	}
	return p.Show(c, "buyers", "Orders", values)
}
