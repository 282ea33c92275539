package pages

import (
	"errors"
	"strings"

	"chrysagon/app/walks"
	"chrysagon/core/route"
	"chrysagon/shopfront/frame"

	"github.com/gofiber/fiber/v3"
)

// press takes a call to action that a page names, and leads on by the routes of
// whoever pressed it. Pressed again, it leads to the same place and counts once.
func (p *Pages) press(c fiber.Ctx) error {
	live, err := p.Publishing.Live(c, frame.Address(c))
	if err != nil {
		return err
	}
	outcome := route.Clicked(strings.Clone(c.Params("name")))
	back := "/" + live.Page.Address
	if !outcome.Known() || live.Step.Kind.AfterPayment() {
		return frame.SeeOther(c, back)
	}
	visitor := p.Viewer(c)
	at, err := p.Guide.Stand(c, live, visitor)
	if err != nil {
		return err
	}
	to, err := p.Guide.Lead(c, at, visitor, outcome, nil)
	if errors.Is(err, walks.ErrNowhere) {
		return frame.SeeOther(c, back) // no route leads on any more
	}
	if err != nil {
		return err
	}
	err = p.Guide.Took(c, walks.Print{At: p.Store.Now(), Visitor: visitor, Place: at, PageID: live.Page.ID, Outcome: outcome}, to)
	if err != nil {
		return err
	}
	c.Set("Cache-Control", "no-store")
	c.Set("X-Robots-Tag", "noindex")
	return frame.SeeOther(c, to.Path)
}

// open are the calls to action that leave a page open: the script says that they
// were pressed.
var open = map[string]bool{route.Call: true, route.Write: true, route.Map: true}

// pressed notes a call to action that leads nowhere by itself.
func (p *Pages) pressed(c fiber.Ctx) error {
	name := strings.Clone(c.Params("name"))
	if !open[name] {
		return c.SendStatus(fiber.StatusNotFound)
	}
	live, err := p.Publishing.Live(c, frame.Address(c))
	if err != nil {
		return err
	}
	visitor := p.Viewer(c)
	at, err := p.Guide.Stand(c, live, visitor)
	if err != nil {
		return err
	}
	err = walks.Leave(p.Store.On(c), walks.Print{At: p.Store.Now(), Visitor: visitor, Place: at, PageID: live.Page.ID, Outcome: route.Clicked(name)})
	if err != nil {
		return err
	}
	return c.SendStatus(fiber.StatusNoContent)
}
