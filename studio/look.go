package studio

import (
	"encoding/json"
	"slices"
	"strings"

	"chrysagon/core/manuscript"
	"chrysagon/core/style"

	"github.com/gofiber/fiber/v3"
)

// lookSlip is the part of a slip in which a band, a piece or the page is dressed.
type lookSlip struct {
	PageID string
	ID     string // empty: the page
	Wide   bool   // what is set holds on wider screens only
	Groups []lookGroup
	Alike  int    // how many look like it, itself counted
	JSON   string // the whole look, to be copied
	Worn   bool   // it departs from the house
}

type lookGroup struct {
	Name   string
	Values []lookValue
}

type lookValue struct {
	style.Property
	Key     string // the property's name with its prefix
	Value   string
	Swatch  []swatch
	Choices []manuscript.Option
	Chooser *chooser
}

// swatch is one colour that can be chosen.
type swatch struct {
	Value, Label string
	Colour       style.Colour
	Now          bool
}

func (s *Studio) look(c fiber.Ctx) error {
	draft, err := s.App.Drafts.Draft(c, c.Params("id"))
	if err != nil {
		return err
	}
	id := c.Params("target")
	if id == "page" {
		id = ""
	}
	d, err := s.draw(c, draft, s.App.Store.Now())
	if err != nil {
		return err
	}
	slip, err := s.lookSlip(c, d, id)
	if err != nil {
		return err
	}
	return s.fragment(c, "look", slip)
}

func (s *Studio) lookSlip(c fiber.Ctx, draft draw, id string) (lookSlip, error) {
	on, undrawn := style.OnPage, []string(nil)
	if piece, ok := draft.Tree.Piece(id); ok {
		on, undrawn = style.OnPiece, s.App.Render.Registry.Schema()[piece.Kind].Undrawn
	} else if _, _, ok := draft.Tree.Band(id); ok {
		on = style.OnBand
	}
	look := draft.Tree.LookOf(id)
	raw, err := json.Marshal(look)
	slip := lookSlip{PageID: draft.ID, ID: id, Wide: c.Query("wide") != "", JSON: string(raw), Worn: len(look) > 0, Alike: len(s.App.Render.Registry.Schema().Alike(draft.Tree, id))}
	for _, p := range style.Properties {
		if p.On&on == 0 || slices.Contains(undrawn, p.Name) || (slip.Wide && p.Everywhere()) {
			continue
		}
		v := lookValue{Property: p, Key: p.Name}
		if slip.Wide {
			v.Key = style.Wide + p.Name
		}
		v.Value = look[v.Key]
		v.fill(draft)
		if n := len(slip.Groups); n == 0 || slip.Groups[n-1].Name != p.Group {
			slip.Groups = append(slip.Groups, lookGroup{Name: p.Group})
		}
		g := &slip.Groups[len(slip.Groups)-1]
		g.Values = append(g.Values, v)
	}
	return slip, err
}

// fill gives a value what it is chosen from.
func (v *lookValue) fill(d draw) {
	house := d.input.Facts.Store.House
	switch v.Kind {
	case style.IsColour:
		for _, t := range style.Tokens {
			v.Swatch = append(v.Swatch, swatch{t.Name, t.Label, house.Colour(t.Name), v.Value == t.Name})
		}
		if strings.HasPrefix(v.Value, "#") {
			v.Swatch = append(v.Swatch, swatch{v.Value, v.Value, house.Look(v.Value), true})
		}
	case style.IsPicture:
		by := chooserOf(d.context, d.ID, manuscript.Field{Type: manuscript.Picture, Label: v.Label}, v.Value)
		by.Look = v.Key
		v.Chooser = &by
	case style.IsChoice:
		for _, one := range v.Property.Choices {
			v.Choices = append(v.Choices, manuscript.Option{Value: one.Value, Label: one.Label})
		}
	case style.IsNumber:
	}
}

// fragment sends a part of a page.
func (s *Studio) fragment(c fiber.Ctx, name string, value any) error {
	html, err := s.html(name, value)
	if err != nil {
		return err
	}
	return c.Type("html", "utf-8").SendString(html)
}

// driftRow is a drift with the commands that settle it.
type driftRow struct {
	What    string
	Says    string
	Options []settlement
	First   string // where it can be seen
}

type settlement struct{ Says, Command string }

func (s *Studio) drifts(p manuscript.Page) ([]driftRow, error) {
	var out []driftRow
	for _, d := range style.Drifts(s.App.Render.Registry.Schema().Worn(p)) {
		prop, _ := style.PropertyOf(strings.TrimPrefix(d.Property, style.Wide))
		row := driftRow{What: d.Alike + ": " + strings.ToLower(prop.Group) + ", " + prop.Label, Says: d.Says, First: d.Values[len(d.Values)-1].IDs[0]}
		values := d.Values
		if d.Values[0].Value != "" && values[len(values)-1].Value != "" {
			values = append(values, style.DriftValue{})
		}
		for _, v := range values {
			raw, err := json.Marshal(manuscript.Put(map[string]string{d.Property: v.Value}, d.IDs...))
			if err != nil {
				return nil, err
			}
			row.Options = append(row.Options, settlement{"All " + prop.Say(v.Value), string(raw)})
		}
		out = append(out, row)
	}
	return out, nil
}
