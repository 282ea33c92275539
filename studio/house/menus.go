package house

import (
	"slices"
	"strconv"
	"strings"

	"chrysagon/app/house"
	"chrysagon/app/publishing"
	"chrysagon/core/facts"
	"chrysagon/core/refusal"
	"chrysagon/core/target"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// menuForm is the header's and the footer's links as they are chosen.
type menuForm struct {
	Lists       []menuList
	Pages       []publishing.OpenPage
	Said, Fault string
}

// menuList is one of them.
type menuList struct {
	Name, Title, Says string
	Rows              []menuRow
}

// menuRow is one link: to a page, or to an address that is typed.
type menuRow struct{ Text, Page, Address string }

func rowOf(l facts.Link) menuRow {
	if to, err := target.Parse(l.Target); err == nil && to.Kind == target.Page {
		return menuRow{Text: l.Text, Page: to.Value}
	}
	return menuRow{Text: l.Text, Address: l.Target}
}

// link is what a row comes to; false for one in which nothing is written.
func (r menuRow) link() (facts.Link, bool) {
	to := r.Address
	if r.Page != "" {
		to = target.Target{Kind: target.Page, Value: r.Page}.String()
	}
	return facts.Link{Text: r.Text, Target: to}, r.Text != "" || to != ""
}

// menus is the form, with one row more to fill in.
func (place *Place) menus(c fiber.Ctx, menu, foot []facts.Link) (menuForm, error) {
	out := menuForm{Lists: []menuList{
		{Name: "menu", Title: "Menu, in the header", Says: "While none is chosen, it fills itself with the live pages that have a place in it."},
		{Name: "foot", Title: "Links in the footer", Says: "Beside privacy, terms and contact, which always stand there."},
	}}
	for i, list := range [][]facts.Link{menu, foot} {
		for _, l := range list {
			out.Lists[i].Rows = append(out.Lists[i].Rows, rowOf(l))
		}
		if len(list) < house.MostLinks {
			out.Lists[i].Rows = append(out.Lists[i].Rows, menuRow{})
		}
	}
	var err error
	out.Pages, err = place.Publishing.EveryLivePage(c)
	return out, err
}

// askedMenu are the links of a list as the form has them, moved as was pressed.
func askedMenu(c fiber.Ctx, name string) []facts.Link {
	texts, pages, addresses := frame.AllTyped(c, name+"_text"), frame.AllTyped(c, name+"_page"), frame.AllTyped(c, name+"_address")
	var out []facts.Link
	for i := range min(len(texts), len(pages), len(addresses), house.MostLinks) {
		if l, ok := (menuRow{strings.TrimSpace(texts[i]), pages[i], strings.TrimSpace(addresses[i])}).link(); ok {
			out = append(out, l)
		}
	}
	if up, err := strconv.Atoi(frame.Typed(c, name+"_up")); err == nil && up > 0 && up < len(out) {
		out[up-1], out[up] = out[up], out[up-1]
	}
	if drop, err := strconv.Atoi(frame.Typed(c, name+"_drop")); err == nil && drop >= 0 && drop < len(out) {
		out = slices.Delete(out, drop, drop+1)
	}
	return out
}

func (place *Place) saveMenus(c fiber.Ctx) error {
	menu, foot := askedMenu(c, "menu"), askedMenu(c, "foot")
	form, err := place.menus(c, menu, foot)
	if err != nil {
		return err
	}
	err = place.House.SetMenus(c, menu, foot)
	var refused refusal.Refusal
	switch {
	case frame.AsRefusal(err, &refused):
		form.Fault = refused.Say
	case err != nil:
		return err
	default:
		form.Said = "Kept. Every page has them now."
	}
	return place.Fragment(c, "store-menus", form)
}
