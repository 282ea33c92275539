package studio

import (
	"cmp"
	"html/template"
	"net/url"

	"chrysagon/app/drafts"
	"chrysagon/app/publishing"
	"chrysagon/core/manuscript"
	"chrysagon/core/refusal"
	"chrysagon/core/style"

	"github.com/gofiber/fiber/v3"
)

// housePlace is where the look of all pages is chosen. The place is a function
// of what the form holds, so trying changes nothing until it is put on.
type housePlace struct {
	House    style.House
	Live     []publishing.LivePage // which change with it
	Same     bool                  // as all pages look now
	Undo     bool
	Tokens   []swatch
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
	Logo     chooser
}

type houseSetting struct {
	Name, Label, Value string
	Choices            []style.Choice
}

// askedHouse is what the form holds, over how the pages look now.
func askedHouse(c fiber.Ctx, now style.House) (style.House, error) {
	field := func(name string) string { return typed(c, name) }
	if field("heads") == "" {
		return now, nil
	}
	h := style.House{Palette: map[string]string{}, Heads: field("heads"), Body: field("body"), Scale: field("scale"), Corner: field("corner"), Shadow: field("shadow"), Button: field("button"), Hover: field("hover"), Logo: field("logo")}
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

func (s *Studio) houseBody(c fiber.Ctx, said string) (housePlace, error) {
	now, before, err := s.App.House.House(c)
	if err != nil {
		return housePlace{}, err
	}
	h, err := askedHouse(c, now)
	if err != nil {
		return housePlace{}, err
	}
	if said != "" {
		h = now
	}
	state, err := s.App.Publishing.State(c, atHand(c))
	if err != nil {
		return housePlace{}, err
	}
	p := housePlace{
		House: h, Shades: h.Shades(), Readings: h.Contrasts(), Families: style.Families, Pairs: style.Pairs, Pages: state.Drafts, Page: typed(c, "page"), Title: "House style", Said: said,
		Same: h.Equal(now), Undo: !before.Equal(now),
		Settings: []houseSetting{
			{"scale", "Headings grow", cmp.Or(h.Scale, "even"), style.Scales}, {"corner", "corners are", cmp.Or(h.Corner, "small"), style.Corners},
			{"shadow", "shadows", cmp.Or(h.Shadow, "none"), style.Shadows}, {"button", "buttons are", cmp.Or(h.Button, "solid"), style.Buttons}, {"hover", "and under the pointer they", cmp.Or(h.Hover, "lighten"), style.Hovers},
		},
	}
	if p.Live, err = s.App.Publishing.EveryLivePage(c); err != nil {
		return p, err
	}
	if p.Logo, err = s.logoChooser(c, h.Logo); err != nil {
		return p, err
	}
	for _, t := range style.Tokens {
		p.Tokens = append(p.Tokens, swatch{t.Name, t.Label, h.Colour(t.Name), false})
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
	p.Query = template.URL(houseQuery(h)) //nolint:gosec // url.Values wrote it
	return p, nil
}

func (s *Studio) logoChooser(c fiber.Ctx, id string) (chooser, error) {
	out := chooser{Type: manuscript.Picture, Label: "Logo", Shown: "none: the store’s name stands there", House: "logo"}
	if id == "" {
		return out, nil
	}
	pic, known, err := s.App.Pictures.PictureOf(c, id)
	if err == nil && known {
		out.Shown, out.Thumb = pic.Name, pic.At(160)
	}
	return out, err
}

// houseQuery writes a house as the query that askedHouse reads.
func houseQuery(h style.House) string {
	q := url.Values{"heads": {h.HeadFamily().ID}, "body": {h.BodyFamily().ID}, "scale": {h.Scale}, "corner": {h.Corner}, "shadow": {h.Shadow}, "button": {h.Button}, "hover": {h.Hover}, "logo": {h.Logo}}
	for _, t := range style.Tokens {
		q.Set("c-"+t.Name, h.Colour(t.Name).String())
	}
	return q.Encode()
}

func (s *Studio) housePlace(c fiber.Ctx) error {
	body, err := s.houseBody(c, "")
	if err != nil {
		return err
	}
	if c.Get("HX-Request") != "" {
		return s.fragment(c, "house-body", body)
	}
	return s.place(c, "house", "Pages", map[string]any{"Title": "House style", "Body": body})
}

func (s *Studio) setHouse(c fiber.Ctx) error {
	now, before, err := s.App.House.House(c)
	if err != nil {
		return err
	}
	h, said := before, "The house style before is back on every page."
	if typed(c, "undo") == "" {
		said = "Every page looks like this now."
		if h, err = askedHouse(c, now); err != nil {
			return err
		}
	}
	if err := s.App.House.SetStyle(c, h); err != nil {
		return err
	}
	body, err := s.houseBody(c, said)
	if err != nil {
		return err
	}
	return s.fragment(c, "house-body", body)
}

// houseProof draws a page in a house that is being tried.
func (s *Studio) houseProof(c fiber.Ctx) error {
	d, err := s.asked(c)
	if err != nil {
		return err
	}
	h, err := askedHouse(c, d.input.Facts.Store.House)
	if err != nil {
		return err
	}
	d.input.Facts.Store.House = h
	if pic, known, err := s.App.Pictures.PictureOf(c, h.Logo); err == nil && known {
		d.input.Facts.Pictures[h.Logo] = pic
	}
	return s.sendProof(c, d.input)
}
