package goods

import (
	"bytes"
	"context"
	"slices"
	"strings"

	"chrysagon/app/assortment"
	"chrysagon/core/catalogue"
	"chrysagon/core/refusal"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

func (place *Place) exportGoods(c fiber.Ctx) error {
	var out bytes.Buffer
	if strings.HasSuffix(c.Path(), ".json") {
		if err := place.Goods.ExportJSON(c, &out); err != nil {
			return err
		}
		return frame.SendFile(c, "goods.json", "application/json", out.Bytes())
	}
	if err := place.Goods.ExportCSV(c, &out); err != nil {
		return err
	}
	return frame.SendFile(c, "goods.csv", "text/csv; charset=utf-8", out.Bytes())
}

// receiveGoods takes a file of goods and leads to its dry run.
func (place *Place) receiveGoods(c fiber.Ctx) error {
	header, err := c.FormFile("file")
	if err != nil {
		return refusal.Refusal{Kind: refusal.ErrInvalid, Say: "Choose a CSV or JSON file first."}
	}
	raw, err := frame.ReadPart(header, 200<<20)
	if err != nil {
		return err
	}
	if trimmed := bytes.TrimSpace(raw); len(trimmed) > 0 && trimmed[0] == '{' {
		attributes, err := place.Shelves.AttributeList(c)
		if err != nil {
			return err
		}
		if raw, err = assortment.FromJSON(raw, attributes); err != nil {
			return refusal.Refusal{Kind: refusal.ErrInvalid, Say: "“" + header.Filename + "” cannot be imported: " + err.Error() + "."}
		}
	}
	id, err := place.Goods.KeepImport(c, frame.Who(c).User.ID, header.Filename, raw)
	if err != nil {
		return err
	}
	if c.Get("HX-Request") != "" {
		return frame.LeadTo(c, "/goods/import/"+id)
	}
	return frame.SeeOther(c, "/goods/import/"+id)
}

func mappingOf(c fiber.Ctx) catalogue.Mapping {
	var m catalogue.Mapping
	for _, v := range frame.AllTyped(c, "map") {
		m = append(m, catalogue.Column(v))
	}
	return m
}

func (place *Place) dryRun(c fiber.Ctx) error {
	d, err := place.Goods.DryRun(c, strings.Clone(c.Params("id")), mappingOf(c))
	if err != nil {
		return err
	}
	attributes, err := place.Shelves.AttributeList(c)
	if err != nil {
		return err
	}
	columns := slices.Clone(catalogue.Columns)
	for _, a := range attributes {
		columns = append(columns, catalogue.Column(a.Name))
	}
	values := map[string]any{"Title": "Import", "D": d, "Columns": columns, "CSRF": frame.Who(c).CSRF}
	if c.Method() == fiber.MethodPost {
		return place.Send(c, fiber.StatusOK, "dry-run", values)
	}
	return place.Show(c, "import", "Goods", values)
}

// applyImport begins to apply a file; importProgress tells how far it is.
func (place *Place) applyImport(c fiber.Ctx) error {
	id, user := strings.Clone(c.Params("id")), frame.Who(c).User.ID
	mapping := mappingOf(c)
	mine, err := place.Goods.BeginImport(c, id)
	if err != nil {
		return err
	}
	if mine {
		place.Background.Do(func() {
			if _, err := place.Goods.Import(place.Background.Life(), user, id, mapping); err != nil {
				say := "Something went wrong on our side. Nothing was changed."
				var refusal refusal.Refusal
				if frame.AsRefusal(err, &refusal) {
					say = refusal.Say
				} else {
					place.Log.Error("an import failed", "error", err)
				}
				if err := place.Goods.FailImport(context.WithoutCancel(place.Background.Life()), id, say); err != nil {
					place.Log.Error("a failed import was not noted", "error", err)
				}
			}
		})
	}
	return place.importProgress(c)
}

func (place *Place) importProgress(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	p, err := place.Goods.ImportUnderway(c, id)
	if err != nil {
		return err
	}
	return place.Send(c, fiber.StatusOK, "import-progress", map[string]any{"ID": id, "P": p})
}
