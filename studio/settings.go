package studio

import (
	"cmp"
	"encoding/json"
	"strings"

	"chrysagon/app/house"
	"chrysagon/core/manuscript"
	"chrysagon/core/own"
	"chrysagon/core/refusal"
	"chrysagon/render"

	"github.com/gofiber/fiber/v3"
)

// storePlace is where the owner writes what all pages say of the store.
func (s *Studio) storePlace(c fiber.Ctx) error {
	words, code, err := s.App.House.Words(c)
	if err != nil {
		return err
	}
	return s.place(c, "store", "Pages", map[string]any{"Title": "The store", "Words": words, "Icon": s.iconChooser(c, words.Icon), "Own": ownForm("/store/own", code)})
}

func (s *Studio) saveStore(c fiber.Ctx) error {
	words := house.StoreWords{
		Name: typed(c, "name"), LegalName: typed(c, "legal_name"), LegalAddress: typed(c, "legal_address"), ContactEmail: typed(c, "contact_email"), Phone: typed(c, "phone"),
		Privacy: typed(c, "privacy"), Terms: typed(c, "terms"), Icon: typed(c, "icon"),
	}
	faults, err := s.App.House.SetWords(c, words)
	if err != nil {
		return err
	}
	return s.fragment(c, "store-words", map[string]any{"Words": words, "Icon": s.iconChooser(c, words.Icon), "Faults": faults, "Saved": len(faults) == 0})
}

// iconChooser chooses the picture in the tabs of the shop.
func (s *Studio) iconChooser(c fiber.Ctx, id string) chooser {
	out := chooser{Type: manuscript.Picture, Label: "Icon in tabs", Shown: "the sign that ships", Into: "icon"}
	if pic, known, err := s.App.Pictures.PictureOf(c, id); id != "" && err == nil && known {
		out.Shown, out.Thumb = pic.Name, pic.At(160)
	}
	return out
}

// ownForm is the form in which own code is written: what there is, and one
// empty line more.
func ownForm(to string, code own.Code) map[string]any {
	was, err := json.Marshal(code)
	if err != nil {
		was = []byte("null")
	}
	return map[string]any{"To": to, "Was": string(was), "Code": append(append(own.Code{}, code...), own.Snippet{Kind: own.Styles}), "Kinds": own.Kinds, "Any": len(code) > 0}
}

// askedOwn is what that form holds; what is empty is left out.
func askedOwn(c fiber.Ctx) own.Code {
	names, kinds, texts := allTyped(c, "own_name"), allTyped(c, "own_kind"), allTyped(c, "own_text")
	var code own.Code
	for i, name := range names {
		if i < len(kinds) && i < len(texts) && strings.TrimSpace(name+texts[i]) != "" {
			code = append(code, own.Snippet{Name: strings.TrimSpace(name), Kind: own.Kind(kinds[i]), Text: strings.ReplaceAll(texts[i], "\r\n", "\n")})
		}
	}
	return code
}

func (s *Studio) saveStoreOwn(c fiber.Ctx) error {
	return s.saveOwn(c, "/store/own", "It runs on every page now.", func(was, mine own.Code) (own.Code, error) {
		return s.App.House.SetOwn(c, was, mine)
	})
}

// savePageOwn changes the code of one page; it goes out with the next edition.
func (s *Studio) savePageOwn(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	return s.saveOwn(c, "/pages/"+id+"/own", "Kept. It goes out when you publish.", func(was, mine own.Code) (own.Code, error) {
		d, err := s.App.Desk.Edit(c, who(c).User.ID, id, manuscript.Command{Op: manuscript.SetPage, Field: manuscript.OwnCode, Value: mine, Was: was, Guard: true}, false)
		return d.Tree.Own, err
	})
}

// saveOwn keeps what the form holds, with what it was made from, and shows what
// it has come to.
func (s *Studio) saveOwn(c fiber.Ctx, to, said string, keep func(was, mine own.Code) (own.Code, error)) error {
	mine := askedOwn(c)
	var was own.Code
	if err := json.Unmarshal([]byte(cmp.Or(typed(c, "own_was"), "null")), &was); err != nil {
		return fiber.ErrBadRequest
	}
	code, err := keep(was, mine)
	values := ownForm(to, code)
	if err != nil { // what was typed stays, and what it was made from
		values = ownForm(to, mine)
		values["Was"] = typed(c, "own_was")
	}
	return s.keptOwn(c, values, err, said)
}

// keptOwn answers with the form: what was refused stays in it.
func (s *Studio) keptOwn(c fiber.Ctx, values map[string]any, err error, said string) error {
	var refusal refusal.Refusal
	switch {
	case asRefusal(err, &refusal):
		values["Fault"] = refusal.Say
	case err != nil:
		return err
	default:
		values["Said"] = said
	}
	return s.fragment(c, "own-form", values)
}

// ranProof is a proof in which the owner's own code runs. Its policy gives it an
// origin of its own, so that nothing in it can reach the studio.
func (s *Studio) ranProof(c fiber.Ctx) error {
	d, err := s.asked(c)
	if err != nil {
		return err
	}
	d.input.RunOwn = true
	page, err := s.App.Render.Page(d.input)
	if err != nil {
		return err
	}
	scripts := strings.Join(append(page.Own.Hashes, page.Own.Origins...), " ")
	if scripts == "" {
		scripts = "'none'"
	}
	c.Set("Content-Security-Policy", "sandbox allow-scripts; default-src 'none'; style-src 'unsafe-inline'; script-src "+scripts+"; img-src "+s.App.Origins.Studio+" "+strings.Join(page.Own.Origins, " ")+"; font-src "+s.App.Origins.Studio+"; base-uri 'none'; form-action 'none'; frame-ancestors 'none'")
	return c.Type("html", "utf-8").Send(page.HTML)
}

// shownAs is what search engines and shared cards are told of a page, as they
// may show it.
type shownAs struct {
	PageID, Title, Description, Address, Store, Host string
	Keywords, Picture, Shown, Alt                    string
	Chooser                                          chooser
	Limit                                            int
}

func (s *Studio) sharing(d draw, limit int) shownAs {
	out := shownAs{
		PageID: d.ID, Title: d.Title, Description: d.Description, Address: d.Address, Store: d.input.Facts.Store.Name, Host: strings.TrimPrefix(s.App.Origins.Shop, "http://"),
		Keywords: d.Tree.Sharing.Keywords, Picture: d.Tree.Sharing.Picture, Limit: limit,
	}
	out.Chooser = chooserOf(d.context, d.ID, manuscript.Field{Type: manuscript.Picture, Label: "Picture of the shared card"}, d.Tree.Sharing.Picture)
	if out.Chooser.OfPage = manuscript.Shared; d.Tree.Sharing.Picture == "" {
		out.Chooser.Shown = "the first that will do"
	}
	if pic, ok := render.Shared(d.input); ok {
		out.Shown, out.Alt = pic.Shareable(), pic.Alt
	}
	return out
}
