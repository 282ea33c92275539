package desk

import (
	"strings"

	"chrysagon/core/manuscript"
	"chrysagon/render"
	"chrysagon/studio/choose"
	"chrysagon/studio/proof"
)

// shownAs is what search engines and shared cards are told of a page, as they
// may show it.
type shownAs struct {
	PageID, Title, Description, Address, Store, Host string
	Keywords, Picture, Shown, Alt                    string
	Chooser                                          choose.Chooser
	Limit                                            int
}

func (place *Place) sharing(d proof.Draw, limit int) shownAs {
	out := shownAs{
		PageID: d.ID, Title: d.Title, Description: d.Description, Address: d.Address, Store: d.Input.Facts.Store.Name, Host: strings.TrimPrefix(place.Origins.Shop, "http://"),
		Keywords: d.Tree.Sharing.Keywords, Picture: d.Tree.Sharing.Picture, Limit: limit,
	}
	out.Chooser = choose.ChooserOf(d.Context, d.ID, manuscript.Field{Type: manuscript.Picture, Label: "Picture of the shared card"}, d.Tree.Sharing.Picture)
	if out.Chooser.OfPage = manuscript.Shared; d.Tree.Sharing.Picture == "" {
		out.Chooser.Shown = "the first that will do"
	}
	if pic, ok := render.Shared(d.Input); ok {
		out.Shown, out.Alt = pic.Shareable(), pic.Alt
	}
	return out
}
