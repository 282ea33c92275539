package house

import (
	"chrysagon/app/house"
	"chrysagon/core/manuscript"
	"chrysagon/core/own"
	"chrysagon/studio/choose"
	"chrysagon/studio/frame"
	"chrysagon/studio/snippets"

	"github.com/gofiber/fiber/v3"
)

// storePlace is where the owner writes what all pages say of the store.
func (place *Place) storePlace(c fiber.Ctx) error {
	words, code, err := place.House.Imprint(c)
	if err != nil {
		return err
	}
	menu, foot, err := place.House.Menus(c)
	if err != nil {
		return err
	}
	menus, err := place.menus(c, menu, foot)
	if err != nil {
		return err
	}
	return place.Show(c, "store", "Pages", map[string]any{"Title": "The store", "Menus": menus, "Words": words, "Icon": place.iconChooser(c, words.Icon), "Own": snippets.OwnForm("/store/own", code)})
}

func (place *Place) saveStore(c fiber.Ctx) error {
	words := house.Imprint{
		Name: frame.Typed(c, "name"), LegalName: frame.Typed(c, "legal_name"), LegalAddress: frame.Typed(c, "legal_address"), ContactEmail: frame.Typed(c, "contact_email"), Phone: frame.Typed(c, "phone"),
		Privacy: frame.Typed(c, "privacy"), Terms: frame.Typed(c, "terms"), Icon: frame.Typed(c, "icon"),
	}
	faults, err := place.House.SetImprint(c, words)
	if err != nil {
		return err
	}
	return place.Fragment(c, "store-words", map[string]any{"Words": words, "Icon": place.iconChooser(c, words.Icon), "Faults": faults, "Saved": len(faults) == 0})
}

// iconChooser chooses the picture in the tabs of the shop.
func (place *Place) iconChooser(c fiber.Ctx, id string) choose.Chooser {
	out := choose.Chooser{Type: manuscript.Picture, Label: "Icon in tabs", Shown: "the sign that ships", Into: "icon"}
	if pic, known, err := place.Pictures.PictureOf(c, id); id != "" && err == nil && known {
		out.Shown, out.Thumb = pic.Name, pic.At(160)
	}
	return out
}

func (place *Place) saveStoreOwn(c fiber.Ctx) error {
	return place.Snippets.SaveOwn(c, "/store/own", "It runs on every page now.", func(was, mine own.Code) (own.Code, error) {
		return place.House.SetOwn(c, was, mine)
	})
}
