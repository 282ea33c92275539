package house

import (
	"html/template"
	"net/url"
	"slices"

	"chrysagon/app/drafts"
	"chrysagon/app/publishing"
	"chrysagon/core/manuscript"
	"chrysagon/core/refusal"
	"chrysagon/core/style"
	"chrysagon/studio/choose"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// housePlace is where the look of all pages is chosen. The place is a function
// of what the form holds, so trying changes nothing until it is put on.
type housePlace struct {
	House    style.House
	Live     []publishing.OpenPage // which change with it
	Same     bool                  // as all pages look now
	Undo     bool
	Tokens   []choose.Swatch
	Shades   []style.Shade
	Readings []style.Reading
	Families []style.Family
	Pairs    []style.Pair
	Settings []houseSetting
	Query    template.URL // the house as a query, for the proofs
	Pages    []drafts.Draft
	Page     string // the page that is shown as proof
	Faults   int
	Title    string
	Said     string
	PairNow  string
	Made     []madeHouse
	Turns    []style.Turn
	Moved    []string // what a word moved
	Logo     choose.Chooser
	Like     choose.Chooser // of the picture from which one is made
	Gone     []string       // font files that the tried house lets go
	Room     bool           // one more colour of the store's own fits
}

// madeHouse is a house to begin from, with the query that tries it.
type madeHouse struct {
	style.Made
	Query template.URL
	Now   bool
}

func madeHouses(now style.House, gone []string) []madeHouse {
	var out []madeHouse
	for _, m := range style.Houses {
		m.House = storesOwn(m.House, now)
		out = append(out, madeHouse{m, template.URL(houseQuery(m.House, gone)), m.House.Equal(now)}) //nolint:gosec // url.Values wrote it
	}
	return out
}

// houseSetting is a setting with the value that holds.
type houseSetting struct {
	style.Setting
	Value, Says string
}

// askedHouse is what the form holds, over how the pages look now.
func askedHouse(c fiber.Ctx, now style.House) (style.House, error) {
	field := func(name string) string { return frame.Typed(c, name) }
	if field("heads") == "" {
		return now, nil
	}
	h := style.House{Palette: map[string]string{}, Heads: field("heads"), Body: field("body"), Logo: field("logo"), Brand: askedBrand(c), Types: askedTypes(c, now)}
	for _, s := range style.Settings {
		s.Put(&h, field(s.Name))
	}
	for _, p := range style.Pairs {
		if p.ID == field("pair") {
			h.Heads, h.Body = p.Heads, p.Body
		}
	}
	for _, t := range style.Tokens {
		if v := field("c-" + t.Name); v != "" && v != t.Default {
			h.Palette[t.Name] = v
		}
	}
	if err := h.Validate(); err != nil {
		return now, refusal.Refusal{Kind: refusal.ErrInvalid, Say: "The house style cannot be used: " + err.Error() + "."}
	}
	return h, nil
}

// houseBody is the place: with the house that the form tries, or with the one that has just
// been put on every page.
func (place *Place) houseBody(c fiber.Ctx, said string, put bool) (housePlace, error) {
	now, before, err := place.House.House(c)
	if err != nil {
		return housePlace{}, err
	}
	h, err := askedHouse(c, now)
	if err != nil {
		return housePlace{}, err
	}
	if put {
		h = now
	}
	h, moved := h.Turned(frame.Typed(c, "turn"))
	if h, err = place.like(c, h); err != nil {
		return housePlace{}, err
	}
	state, err := place.Publishing.State(c, frame.AtHand(c))
	if err != nil {
		return housePlace{}, err
	}
	p := housePlace{
		House: h, Shades: h.Shades(), Readings: h.Contrasts(), Families: h.All(), Pairs: style.Pairs, Pages: state.Drafts, Page: frame.Typed(c, "page"), Title: "House style", Said: said,
		Made: madeHouses(h, gone(h, now)), Gone: gone(h, now), Room: h.NextBrand() != "", Turns: style.Turns, Moved: moved,
		Same: h.Equal(now), Undo: !before.Equal(now),
	}
	for _, setting := range style.Settings {
		p.Settings = append(p.Settings, houseSetting{setting, setting.Of(h).Value, setting.Of(h).Label})
	}
	if p.Live, err = place.Publishing.EveryLivePage(c); err != nil {
		return p, err
	}
	p.Like = choose.Chooser{Type: manuscript.Picture, Label: "Picture", Shown: "choose one", House: "like"}
	if p.Logo, err = place.logoChooser(c, h.Logo); err != nil {
		return p, err
	}
	for _, t := range style.Tokens {
		p.Tokens = append(p.Tokens, choose.Swatch{Value: t.Name, Label: t.Label, Colour: h.Colour(t.Name)})
	}
	for _, r := range p.Readings {
		if !r.Holds() {
			p.Faults++
		}
	}
	for _, pair := range style.Pairs {
		if pair.Heads == h.HeadFamily().ID && pair.Body == h.BodyFamily().ID {
			p.PairNow = pair.ID
		}
	}
	if p.Page == "" && len(p.Pages) > 0 {
		p.Page = p.Pages[0].ID
	}
	p.Query = template.URL(houseQuery(h, p.Gone)) //nolint:gosec // url.Values wrote it
	return p, nil
}

// like is the house made from the picture that is asked for, or as it was.
func (place *Place) like(c fiber.Ctx, h style.House) (style.House, error) {
	id := frame.Typed(c, "like")
	if id == "" {
		return h, nil
	}
	pic, known, err := place.Pictures.PictureOf(c, id)
	if err != nil || !known {
		return h, err
	}
	made, ok := style.Like(pic.Pixels)
	if !ok {
		return h, refusal.Refusal{Kind: refusal.ErrInvalid, Say: "No colours are known of “" + pic.Name + "”. Upload it again, or choose another picture."}
	}
	return storesOwn(made, h), nil
}

func (place *Place) logoChooser(c fiber.Ctx, id string) (choose.Chooser, error) {
	out := choose.Chooser{Type: manuscript.Picture, Label: "Logo", Shown: "none: the store’s name stands there", House: "logo"}
	if id == "" {
		return out, nil
	}
	pic, known, err := place.Pictures.PictureOf(c, id)
	if err == nil && known {
		out.Shown, out.Thumb = pic.Name, pic.At(160)
	}
	return out, err
}

// storesOwn is a house with what is the store's whatever its style: its logo, its colours
// beside the seven, its font files.
func storesOwn(h, of style.House) style.House {
	h.Logo, h.Mark, h.Brand, h.Types = of.Logo, of.Mark, of.Brand, of.Types
	return h
}

// askedBrand are the colours of the store's own that the form holds: without one that is
// dropped, with one more where that is asked for.
func askedBrand(c fiber.Ctx) []style.Brand {
	var h style.House
	for _, id := range frame.Every(c, "brand") {
		if id != frame.Typed(c, "drop") {
			h.Brand = append(h.Brand, style.Brand{ID: id, Name: frame.Typed(c, id+"-name"), Colour: frame.Typed(c, id)})
		}
	}
	if id := h.NextBrand(); frame.Typed(c, "more") != "" && id != "" {
		h.Brand = append(h.Brand, style.Brand{ID: id, Name: "Colour " + id[len(id)-1:], Colour: "#7a5c9e"})
	}
	return h.Brand
}

// askedTypes are the font files without those that the form lets go; one that comes
// meanwhile is there.
func askedTypes(c fiber.Ctx, now style.House) []style.Type {
	gone := append(frame.Every(c, "gone"), frame.Typed(c, "drop"))
	return slices.DeleteFunc(slices.Clone(now.Types), func(t style.Type) bool { return slices.Contains(gone, t.ID) })
}

// gone are the font files that a tried house lets go.
func gone(h, now style.House) []string {
	var out []string
	for _, t := range now.Types {
		if !slices.Contains(h.Types, t) {
			out = append(out, t.ID)
		}
	}
	return out
}

// houseQuery writes a house as the query that askedHouse reads.
func houseQuery(h style.House, gone []string) string {
	q := url.Values{"heads": {h.HeadFamily().ID}, "body": {h.BodyFamily().ID}, "logo": {h.Logo}}
	for _, b := range h.Brand {
		q.Add("brand", b.ID)
		q.Set(b.ID, b.Colour)
		q.Set(b.ID+"-name", b.Name)
	}
	for _, id := range gone {
		q.Add("gone", id)
	}
	for _, t := range style.Tokens {
		q.Set("c-"+t.Name, h.Colour(t.Name).String())
	}
	for _, s := range style.Settings {
		q.Set(s.Name, s.Chosen(h))
	}
	return q.Encode()
}

func (place *Place) housePlace(c fiber.Ctx) error {
	body, err := place.houseBody(c, "", false)
	if err != nil {
		return err
	}
	if c.Get("HX-Request") != "" {
		return place.Fragment(c, "house-body", body)
	}
	return place.Show(c, "house", "Pages", map[string]any{"Title": "House style", "Body": body})
}

func (place *Place) setHouse(c fiber.Ctx) error {
	now, before, err := place.House.House(c)
	if err != nil {
		return err
	}
	h, said := before, "The house style before is back on every page."
	h.Types = now.Types // files that came since stay
	if frame.Typed(c, "undo") == "" {
		said = "Every page looks like this now."
		if h, err = askedHouse(c, now); err != nil {
			return err
		}
	}
	if err := place.House.SetStyle(c, h); err != nil {
		return err
	}
	body, err := place.houseBody(c, said, true)
	if err != nil {
		return err
	}
	return place.Fragment(c, "house-body", body)
}

// houseProof draws a page in a house that is being tried.
func (place *Place) houseProof(c fiber.Ctx) error {
	d, err := place.Proof.Asked(c)
	if err != nil {
		return err
	}
	h, err := askedHouse(c, d.Input.Facts.Store.House)
	if err != nil {
		return err
	}
	d.Input.Facts.Store.House = h
	if pic, known, err := place.Pictures.PictureOf(c, h.Logo); err == nil && known {
		d.Input.Facts.Pictures[h.Logo] = pic
	}
	return place.Proof.SendProof(c, d.Input)
}
