package choose

import (
	"cmp"
	"fmt"
	"strings"
	"unicode"
	"unicode/utf8"

	"chrysagon/app/drafts"
	"chrysagon/core/facts"
	"chrysagon/core/manuscript"
	"chrysagon/core/style"
	"chrysagon/core/target"
	"chrysagon/pieces"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// Chooser is a field whose value is one of more than a list can show: it shows
// what is chosen, and opens a search among the rest.
type Chooser struct {
	PageID string
	Type   manuscript.FieldType
	Label  string
	Shown  string // what is chosen, in words
	Thumb  string // its picture's address, or
	Sign   string // an icon's name

	Set, Sub, Look, OfPage, House, Into string // the field: in a slip, a list's item, a look, of the page, of the house or of a plain form
}

// Hint says what can be searched for.
func (c Chooser) Hint() string {
	return map[manuscript.FieldType]string{
		manuscript.Picture: "A word of its name", manuscript.Product: "A word of its name, or its SKU",
		manuscript.Link: "A page, a product, a file, a band", manuscript.Sign: "One of thousands, by a word; or type ✓, №, …",
	}[c.Type]
}

// ChosenBySearch are the types of field that a chooser is for.
func ChosenBySearch(t manuscript.FieldType) bool {
	return t == manuscript.Picture || t == manuscript.Product || t == manuscript.Link || t == manuscript.Sign
}

// ChooserOf makes the chooser of a field with its value.
func ChooserOf(c *pieces.Context, pageID string, f manuscript.Field, value string) Chooser {
	out := Chooser{PageID: pageID, Type: f.Type, Label: f.Label, Shown: "nothing yet"}
	switch f.Type { //nolint:exhaustive // the types that chosenBySearch names
	case manuscript.Picture:
		if pic, ok := c.Facts.Pictures[value]; ok {
			out.Shown, out.Thumb = pic.Name, pic.At(160)
		} else if value != "" {
			out.Shown = "a picture that is gone"
		}
	case manuscript.Product:
		if product, ok := c.Facts.Products[value]; ok {
			out.Shown, out.Thumb = product.Name+", "+product.Price.String(), c.Facts.Pictures[product.PictureID].Path
		} else if value != "" {
			out.Shown = "goods that are gone"
		}
	case manuscript.Sign:
		value = cmp.Or(value, f.Default)
		if s, ok := manuscript.SignOf(value); ok {
			out.Shown = c.Named(value)
			if thumb := c.Thumb(value); s.Icon != "" && c.Icon(s.Icon) != "" {
				out.Sign = s.Icon
			} else if s.Picture != "" && strings.HasPrefix(thumb, "/") {
				out.Thumb = thumb
			}
		}
	case manuscript.Link:
		out.Shown = c.Leads(cmp.Or(value, f.Default))
	}
	return out
}

// candidate is something that can be chosen.
type candidate struct {
	Value, Label, More string
	Thumb, Sign        string
}

// choose lists what can be chosen, by a word; for a link, on the page that is
// named.
func (place *Place) choose(c fiber.Ctx) error {
	find := frame.Typed(c, "q")
	var list []candidate
	var err error
	rest := ""
	switch manuscript.FieldType(c.Params("type")) {
	case manuscript.Picture:
		list, rest, err = place.pictureCandidates(c, find)
	case manuscript.Product:
		list, rest, err = place.goodsCandidates(c, find)
	case manuscript.Link:
		var draft drafts.Draft
		if draft, err = place.Drafts.Draft(c, frame.Typed(c, "page")); err == nil {
			list, err = place.linkCandidates(c, draft, find)
		}
	case manuscript.Sign:
		list, rest, err = place.signCandidates(c, find)
	default:
		return fiber.ErrNotFound
	}
	if err != nil {
		return err
	}
	return place.Fragment(c, "candidates", map[string]any{"List": list, "Rest": rest, "Type": c.Params("type")})
}

// often are the signs that are chosen most; they stand there before a word is typed.
var often = []string{"check", "circle-check", "point", "star", "heart", "arrow-right", "chevron-right", "plus", "x", "number", "sparkles", "sun", "moon", "wind", "gift", "truck", "clock", "shield-check", "mail", "phone", "calendar", "shopping-cart", "download", "map-pin", "leaf", "flame", "bolt", "award", "quote", "eye"}

// signCandidates are icons by a word, what was typed where it can be a sign itself, and the
// store's own small pictures.
func (place *Place) signCandidates(c fiber.Ctx, find string) ([]candidate, string, error) {
	list := none(find, "none")
	if s, ok := manuscript.SignOf(find); ok && s.Picture == "" && short(find) && place.Render.Assets.Icon(s.Icon) == "" {
		list = append(list, candidate{Value: find, Label: find, More: "as it is typed"})
	}
	rest := ""
	if find == "" {
		for _, name := range often {
			list = append(list, candidate{Value: name, Label: name, Sign: name})
		}
	} else {
		found, all := place.Render.Assets.FindSigns(find, 60)
		for _, sign := range found {
			list = append(list, candidate{Value: sign.Name, Label: sign.Name, Sign: sign.Name})
		}
		rest = fmt.Sprintf("%d of %d", len(found), all)
	}
	pictures, _, err := place.Find.ChoosePictures(c, find)
	for _, p := range pictures[:min(len(pictures), 12)] {
		list = append(list, candidate{Value: manuscript.Signed{Picture: p.ID}.String(), Label: p.Name, Thumb: p.At(160)})
	}
	return list, rest, err
}

// short tells whether what was typed can be meant as a sign itself, rather than as the
// beginning of a word: a character or two, or some that are no letters.
func short(typed string) bool {
	n := utf8.RuneCountInString(typed)
	return n <= 2 || (n <= manuscript.MostTyped && !strings.ContainsFunc(typed, func(r rune) bool { return r < unicode.MaxASCII && unicode.IsLetter(r) }))
}

// none takes a choice back.
func none(find, label string) []candidate {
	if find != "" {
		return nil
	}
	return []candidate{{Label: label}}
}

func (place *Place) pictureCandidates(c fiber.Ctx, find string) ([]candidate, string, error) {
	pictures, all, err := place.Find.ChoosePictures(c, find)
	list := none(find, "nothing")
	for _, p := range pictures {
		list = append(list, candidate{Value: p.ID, Label: p.Name, Thumb: p.At(160)})
	}
	return list, fmt.Sprintf("%d of %d", len(pictures), all), err
}

func (place *Place) goodsCandidates(c fiber.Ctx, find string) ([]candidate, string, error) {
	found, err := place.Find.ChooseGoods(c, find)
	list := none(find, "nothing")
	for _, g := range found.Rows {
		list = append(list, candidate{Value: g.ID, Label: g.Name, More: g.Price.String() + ", " + g.SKU})
	}
	count := fmt.Sprint(found.Count)
	if !found.Exact {
		count = "more than " + fmt.Sprint(found.Count-1)
	}
	return list, fmt.Sprintf("%d of %s", len(found.Rows), count), err
}

// linkCandidates is where a link of a page can lead: within the page, to the
// store's pages, to a call or a mail, to files; and, by a word, to goods.
func (place *Place) linkCandidates(c fiber.Ctx, draft drafts.Draft, find string) ([]candidate, error) {
	shop, err := place.Store.Shop(c)
	if err != nil {
		return nil, err
	}
	list := none(find, "nowhere")
	add := func(value, label, more string) {
		if strings.Contains(strings.ToLower(label+" "+more), strings.ToLower(find)) {
			list = append(list, candidate{Value: value, Label: label, More: more})
		}
	}
	on := place.Render.Registry.Schema().Leading(draft.Tree)
	on.Facts = &facts.Facts{Store: facts.Store{Phone: shop.Phone, ContactEmail: shop.ContactEmail}}
	for _, one := range target.Offered(on) {
		add(one.Value, one.Label, "")
	}
	for _, b := range draft.Tree.Bands {
		add(to(target.Band, b.ID), b.Name, "a band of this page")
	}
	pages, err := place.Find.ChoosePages(c, draft.CampaignID, find)
	if err != nil {
		return nil, err
	}
	for _, p := range pages {
		if p.ID != draft.ID {
			list = append(list, candidate{Value: to(target.Page, p.ID), Label: p.Name, More: "page of " + p.Campaign})
		}
	}
	files, err := place.Find.ChooseFiles(c, find)
	if err != nil {
		return nil, err
	}
	for _, f := range files {
		list = append(list, candidate{Value: to(target.File, f.ID), Label: f.Name, More: "file"})
	}
	if find == "" {
		return list, nil
	}
	goods, _, err := place.goodsCandidates(c, find)
	for _, g := range goods {
		g.Value, g.More = to(target.Product, g.Value), "product, "+g.More
		list = append(list, g)
	}
	return list, err
}

// to is a target as a link stores it.
func to(kind target.Kind, value string) string {
	return target.Target{Kind: kind, Value: value}.String()
}

// Swatch is one colour that can be chosen.
type Swatch struct {
	Value, Label string
	Colour       style.Colour
	Now          bool
}
