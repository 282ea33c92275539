// Package checkout takes what the checkout and offers after paying send.
package checkout

import (
	"net/http"
	"net/url"

	"chrysagon/app/ports"
	"chrysagon/app/publishing"
	"chrysagon/app/selling"
	"chrysagon/pieces"
	"chrysagon/shopfront/frame"
	"chrysagon/shopfront/pages"

	"github.com/gofiber/fiber/v3"
)

// Desk is where one pays.
type Desk struct {
	*frame.Frame
	Publishing *publishing.Publisher
	Selling    *selling.Counter
	Ports      *ports.Ports
	Pages      *pages.Pages
}

// Part is what the shopfront joins.
func (d *Desk) Part(out fiber.Router, limits frame.Limits) {
	out.Post("/hooks/till", d.hook)
	out.Get("/:address/checkout", func(c fiber.Ctx) error { return frame.SeeOther(c, "/"+url.PathEscape(c.Params("address"))+"#checkout") })
	out.Post("/:address/checkout", limits.Forms, d.SameSite, d.pay)
	out.Post("/:address/checkout/fields", limits.Forms, d.SameSite, d.fields)
	out.Post("/:address/quote", limits.Forms, d.SameSite, d.quote)
	out.Post("/:address/accept", limits.Forms, d.SameSite, d.accept)
	out.Post("/:address/decline", limits.Forms, d.SameSite, d.decline)
}

// typed reads a checkout's form, with what the browser says of its zone.
func (d *Desk) typed(c fiber.Ctx) map[string]string {
	values := frame.Typed(c)
	values["zone"] = frame.ZoneOf(c)
	return values
}

// told is what the checkout's script is told.
type told struct {
	Go     string            `json:"go,omitempty"`
	Errors map[string]string `json:"errors,omitempty"`
	Notice *string           `json:"notice,omitempty"`
	Totals string            `json:"totals,omitempty"`
	Total  string            `json:"total,omitempty"`
	Seen   string            `json:"seen,omitempty"`
	Again  string            `json:"again,omitempty"`
	Code   *string           `json:"code,omitempty"`
	Sent   *bool             `json:"sent,omitempty"` // an address is asked
}

func (d *Desk) news(o selling.PayOutcome) (told, error) {
	n := told{Go: o.Go, Errors: o.Errors, Seen: o.Seen, Again: o.Again, Code: o.Code}
	if o.Go == "" && (o.Notice != "" || o.Errors != nil) {
		n.Notice = &o.Notice
	}
	if len(o.Quote.Lines) > 0 {
		totals, err := d.Render.Totals(o.Quote)
		if err != nil {
			return n, err
		}
		n.Sent = &o.Sent
		n.Totals, n.Total = totals, o.Quote.Total.String()
	}
	return n, nil
}

// quote prices the checkout anew at every change of it.
func (d *Desk) quote(c fiber.Ctx) error {
	live, err := d.Publishing.Live(c, c.Params("address"))
	if err != nil {
		return err
	}
	outcome, err := d.Selling.Quote(c, selling.PayInput{Live: live, Visitor: d.Visitor(c), Values: d.typed(c)})
	if err != nil {
		return err
	}
	n, err := d.news(outcome)
	if err != nil {
		return err
	}
	return c.JSON(n)
}

// fields checks what was typed, before the till is asked for a token.
func (d *Desk) fields(c fiber.Ctx) error {
	live, err := d.Publishing.Live(c, c.Params("address"))
	if err != nil {
		return err
	}
	values := d.typed(c)
	co, err := d.Selling.Checkout(c, live, selling.BuyerOf(d.Visitor(c), values))
	if err != nil {
		return err
	}
	q, err := co.Price(values["bump"] != "", d.Store.Now())
	if err != nil {
		return err
	}
	_, faults := co.Faults(q, values)
	return c.JSON(map[string]any{"errors": faults})
}

// pay takes an order, for the script as JSON and without script as a page.
func (d *Desk) pay(c fiber.Ctx) error {
	live, err := d.Publishing.Live(c, c.Params("address"))
	if err != nil {
		return err
	}
	values := d.typed(c)
	if values["requote"] != "" { // without script: show what the code comes to
		return d.Pages.Private(c, http.StatusOK, live, nil, pieces.Form{Values: values})
	}
	outcome, err := d.Selling.Pay(c, selling.PayInput{Live: live, Visitor: d.Visitor(c), Values: values})
	if err != nil {
		return err
	}
	if frame.WantsJSON(c) {
		n, err := d.news(outcome)
		if err != nil {
			return err
		}
		return c.JSON(n)
	}
	if outcome.Go != "" {
		return frame.SeeOther(c, outcome.Go)
	}
	notice := outcome.Notice
	if notice == "" {
		notice = "Something needs mending before you can order. Nothing was charged."
	}
	return d.Pages.Private(c, http.StatusUnprocessableEntity, live, nil, pieces.Form{
		Values: values, Errors: outcome.Errors, Notice: notice, Again: outcome.Again,
	})
}
