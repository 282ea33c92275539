package checkout

import (
	"net/http"

	"chrysagon/pieces"
	"chrysagon/shopfront/frame"

	"github.com/gofiber/fiber/v3"
)

func (d *Desk) accept(c fiber.Ctx) error {
	live, err := d.Publishing.Live(c, frame.Address(c))
	if err != nil {
		return err
	}
	values := frame.Typed(c)
	o, err := d.Selling.OrderByToken(c, values["order"], d.Visitor(c))
	if err != nil {
		return err
	}
	next, notice, err := d.Selling.Accept(c, live, o, values["seen"])
	if err != nil {
		return err
	}
	if next != "" {
		return frame.SeeOther(c, next)
	}
	return d.Pages.Private(c, http.StatusConflict, live, &o, pieces.Form{Notice: notice})
}

func (d *Desk) decline(c fiber.Ctx) error {
	live, err := d.Publishing.Live(c, frame.Address(c))
	if err != nil {
		return err
	}
	o, err := d.Selling.OrderByToken(c, frame.Typed(c)["order"], d.Visitor(c))
	if err != nil {
		return err
	}
	next, err := d.Selling.Decline(c, live, o)
	if err != nil {
		return err
	}
	return frame.SeeOther(c, next)
}
