package audience

import (
	"strings"

	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// people lists who they are, found by a word and a list.
func (p *Place) people(c fiber.Ctx) error {
	find, list := strings.Clone(c.Query("q")), strings.Clone(c.Query("list"))
	rows, count, err := p.Audience.People(c, find, list)
	if err != nil {
		return err
	}
	lists, err := p.Audience.Lists(c)
	if err != nil {
		return err
	}
	shop, err := p.Store.Shop(c)
	if err != nil {
		return err
	}
	values := map[string]any{"Title": "People", "Rows": rows, "Count": count, "Find": find, "List": list, "Lists": lists, "Store": shop}
	if c.Get("HX-Request") != "" {
		return p.Fragment(c, "people-rows", values)
	}
	return p.Show(c, "people", "Audience", values)
}

// person shows all that is known of one.
func (p *Place) person(c fiber.Ctx) error {
	known, err := p.Audience.Known(c, strings.Clone(c.Params("id")))
	if err != nil {
		return err
	}
	shop, err := p.Store.Shop(c)
	if err != nil {
		return err
	}
	return p.Show(c, "person", "Audience", map[string]any{"Title": known.Contact.Email, "P": known, "Store": shop})
}

func (p *Place) exportOne(c fiber.Ctx) error {
	c.Set("Content-Disposition", `attachment; filename="person.json"`)
	c.Type("json", "utf-8")
	return p.Audience.ExportOne(c, strings.Clone(c.Params("id")), c.Response().BodyWriter())
}

func (p *Place) export(c fiber.Ctx) error {
	c.Set("Content-Disposition", `attachment; filename="people.csv"`)
	c.Type("csv", "utf-8")
	return p.Audience.Export(c, c.Response().BodyWriter())
}

func (p *Place) erase(c fiber.Ctx) error {
	if err := p.Audience.Erase(c, strings.Clone(c.Params("id"))); err != nil {
		return err
	}
	return frame.SeeOther(c, "/audience?said=erased")
}
