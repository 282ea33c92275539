package studio

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"mime/multipart"
	"slices"
	"strings"

	"chrysagon/app/assortment"
	"chrysagon/app/factbook"
	"chrysagon/app/pictures"
	"chrysagon/core/catalogue"
	"chrysagon/core/refusal"

	"github.com/gofiber/fiber/v3"
)

func (s *Studio) exportGoods(c fiber.Ctx) error {
	var out bytes.Buffer
	if strings.HasSuffix(c.Path(), ".json") {
		if err := s.App.Goods.ExportJSON(c, &out); err != nil {
			return err
		}
		return sendFile(c, "goods.json", "application/json", out.Bytes())
	}
	if err := s.App.Goods.ExportCSV(c, &out); err != nil {
		return err
	}
	return sendFile(c, "goods.csv", "text/csv; charset=utf-8", out.Bytes())
}

// receiveGoods takes a file of goods and leads to its dry run.
func (s *Studio) receiveGoods(c fiber.Ctx) error {
	header, err := c.FormFile("file")
	if err != nil {
		return refusal.Refusal{Kind: refusal.ErrInvalid, Say: "Choose a CSV or JSON file first."}
	}
	raw, err := readPart(header, 200<<20)
	if err != nil {
		return err
	}
	if trimmed := bytes.TrimSpace(raw); len(trimmed) > 0 && trimmed[0] == '{' {
		attributes, err := s.App.Shelves.AttributeList(c)
		if err != nil {
			return err
		}
		if raw, err = assortment.FromJSON(raw, attributes); err != nil {
			return refusal.Refusal{Kind: refusal.ErrInvalid, Say: "“" + header.Filename + "” cannot be imported: " + err.Error() + "."}
		}
	}
	id, err := s.App.Goods.KeepImport(c, who(c).User.ID, header.Filename, raw)
	if err != nil {
		return err
	}
	if c.Get("HX-Request") != "" {
		return leadTo(c, "/goods/import/"+id)
	}
	return seeOther(c, "/goods/import/"+id)
}

func readPart(h *multipart.FileHeader, most int64) ([]byte, error) {
	if h.Size > most {
		return nil, refusal.Refusal{Kind: refusal.ErrInvalid, Say: fmt.Sprintf("“%s” is %d MB; at most %d MB fit.", h.Filename, h.Size>>20, most>>20)}
	}
	f, err := h.Open()
	if err != nil {
		return nil, err
	}
	defer func() { _ = f.Close() }()
	return io.ReadAll(io.LimitReader(f, most))
}

func mappingOf(c fiber.Ctx) catalogue.Mapping {
	var m catalogue.Mapping
	for _, v := range allTyped(c, "map") {
		m = append(m, catalogue.Column(v))
	}
	return m
}

func (s *Studio) dryRun(c fiber.Ctx) error {
	d, err := s.App.Goods.DryRun(c, strings.Clone(c.Params("id")), mappingOf(c))
	if err != nil {
		return err
	}
	attributes, err := s.App.Shelves.AttributeList(c)
	if err != nil {
		return err
	}
	columns := slices.Clone(catalogue.Columns)
	for _, a := range attributes {
		columns = append(columns, catalogue.Column(a.Name))
	}
	values := map[string]any{"Title": "Import", "D": d, "Columns": columns, "CSRF": who(c).CSRF}
	if c.Method() == fiber.MethodPost {
		return s.render(c, fiber.StatusOK, "dry-run", values)
	}
	return s.place(c, "import", "Goods", values)
}

// applyImport begins to apply a file; importProgress tells how far it is.
func (s *Studio) applyImport(c fiber.Ctx) error {
	id, user := strings.Clone(c.Params("id")), who(c).User.ID
	mapping := mappingOf(c)
	mine, err := s.App.Goods.BeginImport(c, id)
	if err != nil {
		return err
	}
	if mine {
		s.App.Background.Do(func() {
			if _, err := s.App.Goods.Import(s.App.Background.Life(), user, id, mapping); err != nil {
				say := "Something went wrong on our side. Nothing was changed."
				var refusal refusal.Refusal
				if asRefusal(err, &refusal) {
					say = refusal.Say
				} else {
					s.App.Log.Error("an import failed", "error", err)
				}
				if err := s.App.Goods.FailImport(context.WithoutCancel(s.App.Background.Life()), id, say); err != nil {
					s.App.Log.Error("a failed import was not noted", "error", err)
				}
			}
		})
	}
	return s.importProgress(c)
}

func (s *Studio) importProgress(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	p, err := s.App.Goods.ImportUnderway(c, id)
	if err != nil {
		return err
	}
	return s.render(c, fiber.StatusOK, "import-progress", map[string]any{"ID": id, "P": p})
}

// uploadPictures takes many pictures at once, and puts them on a product when
// one is named.
func (s *Studio) uploadPictures(c fiber.Ctx) error {
	form, err := c.MultipartForm()
	if err != nil {
		return refusal.Refusal{Kind: refusal.ErrInvalid, Say: "Choose pictures first."}
	}
	type answer struct {
		Name  string `json:"name"`
		ID    string `json:"id,omitempty"`
		Path  string `json:"path,omitempty"`
		Error string `json:"error,omitempty"`
	}
	var out []answer
	product := typed(c, "product")
	for _, h := range form.File["pictures"] {
		one := answer{Name: h.Filename}
		raw, err := readPart(h, pictures.MaxPictureBytes+1)
		if err == nil {
			pic, failed := s.App.Pictures.Upload(c, h.Filename, raw)
			err = failed
			if err == nil {
				one.ID, one.Path = pic.ID, factbook.PicturePath(pic)
				if product != "" {
					err = s.App.Pictures.ShowOn(c, product, pic.ID)
				}
			}
		}
		var refusal refusal.Refusal
		switch {
		case asRefusal(err, &refusal):
			one.Error = refusal.Say
		case err != nil:
			return err
		}
		out = append(out, one)
	}
	raw, err := json.Marshal(out)
	if err != nil {
		return err
	}
	c.Set("Content-Type", "application/json")
	return c.Send(raw)
}
