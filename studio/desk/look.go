package desk

import (
	"encoding/json"
	"strings"

	"chrysagon/core/manuscript"
	"chrysagon/core/style"
	"chrysagon/render/scene"
	"chrysagon/studio/choose"
	"chrysagon/studio/proof"

	"github.com/gofiber/fiber/v3"
)

// lookSlip is the part of a slip in which a band, a piece or the page is dressed.
type lookSlip struct {
	PageID string
	ID     string      // empty: the page
	Wide   bool        // what is set holds on wider screens only
	First  lookGroup   // what is asked for most
	Groups []lookGroup // the rest
	More   bool        // the rest is in sight
	Alike  int         // how many look like it, itself counted
	JSON   string      // the whole look, to be copied
	Worn   bool        // it departs from the house
}

type lookGroup struct {
	Name   string
	Values []lookValue
}

type lookValue struct {
	style.Property
	Key     string // the property's name with its prefix
	Value   string
	Says    string // the value in words
	House   string // the choice of the house, where nothing else is chosen
	Types   []style.Family
	Swatch  []choose.Swatch
	Choices []manuscript.Option
	Chooser *choose.Chooser
	Scenes  []sceneChoice
}

// atFirst is how many values stand before the rest.
const atFirst = 5

// sceneChoice is a scene on which a band can stand, as it would be there.
type sceneChoice struct {
	Name, Title, Path string
	Now               bool
}

// scenesFor are the scenes that suit a band, in the house's colours.
func scenesFor(h style.House, tone manuscript.Tone, now string) []sceneChoice {
	var out []sceneChoice
	for _, s := range scene.All {
		if s.Suits(tone) {
			out = append(out, sceneChoice{s.Name, s.Title, s.Path(h, false), s.Name == now})
		}
	}
	return out
}

func (place *Place) look(c fiber.Ctx) error {
	draft, err := place.Drafts.Draft(c, c.Params("id"))
	if err != nil {
		return err
	}
	id := c.Params("target")
	if id == "page" {
		id = ""
	}
	d, err := place.Proof.Draw(c, draft, place.Store.Now())
	if err != nil {
		return err
	}
	slip, err := place.lookSlip(c, d, id)
	if err != nil {
		return err
	}
	return place.Fragment(c, "look", slip)
}

func (place *Place) lookSlip(c fiber.Ctx, draft proof.Draw, id string) (lookSlip, error) {
	on, kind := style.OnPage, manuscript.Kind{}
	if piece, ok := draft.Tree.Piece(id); ok {
		on, kind = style.OnPiece, place.Render.Registry.Schema()[piece.Kind]
	} else if _, _, ok := draft.Tree.Band(id); ok {
		on = style.OnBand
	}
	look := draft.Tree.LookOf(id)
	raw, err := json.Marshal(look)
	slip := lookSlip{PageID: draft.ID, ID: id, Wide: c.Query("wide") != "", More: c.Query("more") != "", JSON: string(raw), Worn: len(look) > 0, Alike: len(place.Render.Registry.Schema().Alike(draft.Tree, id))}
	for _, p := range style.Properties {
		if p.On&on == 0 || (on == style.OnPiece && !kind.Takes(p)) || (slip.Wide && p.Everywhere()) {
			continue
		}
		v := lookValue{Property: p, Key: p.Name}
		if slip.Wide {
			v.Key = style.Wide + p.Name
		}
		v.Value = look[v.Key]
		v.fill(draft)
		if band, _, is := draft.Tree.Band(id); is && p.Kind == style.IsScene {
			v.Scenes = scenesFor(draft.Input.Facts.Store.House, band.Tone, draft.Tree.LookOf(id).At(style.Wide, p.Name))
		}
		if v.Common && len(slip.First.Values) < atFirst {
			slip.First.Values = append(slip.First.Values, v)
			continue
		}
		slip.More = slip.More || v.Value != ""
		if n := len(slip.Groups); n == 0 || slip.Groups[n-1].Name != p.Group {
			slip.Groups = append(slip.Groups, lookGroup{Name: p.Group})
		}
		g := &slip.Groups[len(slip.Groups)-1]
		g.Values = append(g.Values, v)
	}
	return slip, err
}

// fill gives a value what it is chosen from.
func (v *lookValue) fill(d proof.Draw) {
	house := d.Input.Facts.Store.House
	switch v.Kind {
	case style.IsColour:
		for _, t := range style.Tokens {
			v.Swatch = append(v.Swatch, choose.Swatch{Value: t.Name, Label: t.Label, Colour: house.Colour(t.Name), Now: v.Value == t.Name})
		}
		for _, s := range house.Branded() {
			v.Swatch = append(v.Swatch, choose.Swatch{Value: s.Name, Label: s.Label, Colour: s.Colour, Now: v.Value == s.Name})
		}
		if strings.HasPrefix(v.Value, "#") {
			v.Swatch = append(v.Swatch, choose.Swatch{Value: v.Value, Label: v.Value, Colour: house.Look(v.Value), Now: true})
		}
	case style.IsPicture:
		by := choose.ChooserOf(d.Context, d.ID, manuscript.Field{Type: manuscript.Picture, Label: v.Label}, v.Value)
		by.Look = v.Key
		v.Chooser = &by
	case style.IsChoice:
		v.House = v.Property.Choices[0].Value
		for _, s := range style.Settings { // a setting of the house by the same name
			if s.Name == v.Name {
				v.House = s.Of(house).Value
			}
		}
		for _, one := range v.Property.Choices {
			v.Choices = append(v.Choices, manuscript.Option{Value: one.Value, Label: one.Label})
			if one.Value == v.Value {
				v.Says = one.Label
			}
		}
	case style.IsType:
		v.Types = house.All()
		if v.Value != "" {
			v.Says = house.Family(v.Value).Name
		}
	case style.IsNumber, style.IsScene:
	}
}

// driftRow is a drift with the commands that settle it.
type driftRow struct {
	What    string
	Says    string
	Options []settlement
	First   string // where it can be seen
}

type settlement struct{ Says, Command string }

func (place *Place) drifts(p manuscript.Page) ([]driftRow, error) {
	var out []driftRow
	for _, d := range style.Drifts(place.Render.Registry.Schema().Worn(p)) {
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
