package desk

import (
	"html/template"
	"slices"

	"chrysagon/app/offers"
	"chrysagon/core/manuscript"
	"chrysagon/core/purpose"
	"chrysagon/core/refusal"
	"chrysagon/core/shelf"
	"chrysagon/pieces"
	"chrysagon/studio/choose"
	"chrysagon/studio/figure"
	"chrysagon/studio/sharing"

	"github.com/gofiber/fiber/v3"
)

// slip is the small panel with the settings of a piece, made from what its
// kind declares.
func (place *Place) slip(c fiber.Ctx) error {
	draft, err := place.Drafts.Draft(c, c.Params("id"))
	if err != nil {
		return err
	}
	p, ok := draft.Tree.Piece(c.Params("piece"))
	if !ok {
		return refusal.Refusal{Kind: refusal.ErrNotFound, Say: "This piece is no longer on the page. Load the page again."}
	}
	d, err := place.Proof.Draw(c, draft, place.Store.Now())
	if err != nil {
		return err
	}
	kind, _ := place.Render.Registry.Kind(p.Kind)
	known, err := place.Offers.Choices(c, wanted(kind.Fields, p))
	if err != nil {
		return err
	}
	values := map[string]any{"Piece": p, "PageID": draft.ID, "Shelf": known, "Title": kind.Title}
	var fields []slipField
	for _, f := range kind.Fields {
		if f.Written() || f.Type == manuscript.List || f.Drawn {
			continue
		}
		field := slipField{Field: f, Value: pieces.Or(p.Fields.Text(f.Name), f.Default)}
		if choose.ChosenBySearch(f.Type) {
			by := choose.ChooserOf(d.Context, draft.ID, f, p.Fields.Text(f.Name))
			by.Set = f.Name
			field.Chooser = &by
		} else {
			field.Choices = choices(f, known, draft.Purpose)
			if f.Type == manuscript.Choice {
				field.Figures = bySight(d.Context, p.Kind, f)
			}
		}
		if f.Type == manuscript.Deadline {
			values["DeadlineField"] = f.Name
			if at := sharing.Shared(p.Fields.Text(f.Name), known, place.Store.Now()); at != nil {
				values["Deadline"] = at
			}
		}
		if f.Type == manuscript.Shelf {
			values["ShelfField"] = f.Name
		}
		if f.Type == manuscript.Mailing {
			values["MailingField"] = f.Name
		}
		fields = append(fields, field)
	}
	values["Fields"] = fields
	if kind.Sketch != nil {
		values["Sketch"] = kind.Sketch(d.Context, p)
	}
	if values["Look"], err = place.lookSlip(c, d, p.ID); err != nil {
		return err
	}
	if product := p.Fields.Text("product"); product != "" {
		values["Offers"] = sharing.OffersOn(product, known, place.Store.Now())
		values["Product"], values["ProductName"] = product, known.Names()[product]
	}
	return place.Send(c, fiber.StatusOK, "slip", values)
}

// wanted is what the fields of a piece choose from, and what is told beside them.
func wanted(fields []manuscript.Field, p manuscript.Piece) offers.Wanted {
	has := func(t manuscript.FieldType) bool {
		return slices.ContainsFunc(fields, func(f manuscript.Field) bool { return f.Type == t })
	}
	product := p.Fields.Text("product")
	var named []string
	if product != "" {
		named = []string{product}
	}
	return offers.Wanted{
		Named: named, Offers: product != "" || has(manuscript.Deadline),
		Deadlines: product != "" || has(manuscript.Deadline), Shelves: has(manuscript.Shelf), Videos: has(manuscript.Video), Attributes: has(manuscript.Attribute), Mailings: has(manuscript.Mailing),
	}
}

type slipField struct {
	manuscript.Field
	Value   string
	Choices []manuscript.Option
	Chooser *choose.Chooser
	Figures []figured // its choices as little pictures of what they do; nil: they are words
}

// figured is a choice by sight.
type figured struct {
	manuscript.Option
	Figure template.HTML
	Path   string // of a drawing, instead
}

// bySight are the choices of a field as little pictures; nil where not all of them have one.
func bySight(c *pieces.Context, kind string, f manuscript.Field) []figured {
	var out []figured
	for _, o := range f.Options {
		one := figured{Option: o, Figure: figure.Of(kind+"."+f.Name, o.Value)}
		if one.Figure == "" && c.Ornament != nil {
			one.Path = c.Ornament(o.Value)
		}
		if one.Figure == "" && one.Path == "" {
			return nil
		}
		out = append(out, one)
	}
	return out
}

// choices are what a field's list holds on a page of a purpose, where all of it can be shown.
func choices(f manuscript.Field, known offers.Choices, of string) []manuscript.Option {
	list := []manuscript.Option{{Value: "", Label: "nothing yet"}}
	switch f.Type {
	case manuscript.Choice, manuscript.Slots:
		return f.Options
	case manuscript.Deadline:
		for _, d := range known.Deadlines {
			list = append(list, manuscript.Option{Value: d.ID, Label: d.Name})
		}
	case manuscript.Shelf:
		if of == purpose.Product {
			list = append(list, manuscript.Option{Value: manuscript.Its, Label: "what stands beside it on its own shelves"})
		}
		for _, h := range known.Shelves {
			list = append(list, manuscript.Option{Value: h.ID, Label: h.Name})
		}
	case manuscript.Attribute:
		list = []manuscript.Option{{Value: "", Label: "nothing"}, {Value: shelf.ByCategory, Label: "their kind"}, {Value: shelf.ByCondition, Label: "their condition"}}
		for _, a := range known.Attributes {
			list = append(list, manuscript.Option{Value: a.Name, Label: a.Label})
		}
	case manuscript.Video:
		for _, v := range known.Videos {
			list = append(list, manuscript.Option{Value: v.ID, Label: v.Name})
		}
	case manuscript.Mailing:
		list[0].Label = "no list"
		for _, l := range known.Mailings {
			list = append(list, manuscript.Option{Value: l.ID, Label: l.Name})
		}
	case manuscript.Line, manuscript.Prose, manuscript.Rich, manuscript.List, manuscript.Group, manuscript.Sign, manuscript.File, manuscript.Picture, manuscript.Product, manuscript.Link:
	}
	return list
}
