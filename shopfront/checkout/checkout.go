// Package checkout takes what the checkout and offers after paying send.
package checkout

import (
	"errors"
	"net/http"
	"strconv"
	"strings"

	"chrysagon/app/ports"
	"chrysagon/app/publishing"
	"chrysagon/app/selling"
	"chrysagon/core/mailing"
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
	frame.At(out, fiber.MethodGet, "/checkout", back)
	frame.At(out, fiber.MethodPost, "/checkout", limits.Forms, d.SameSite, d.pay)
	frame.At(out, fiber.MethodGet, "/checkout/next", back)
	frame.At(out, fiber.MethodPost, "/checkout/next", limits.Forms, d.SameSite, d.next)
	frame.At(out, fiber.MethodPost, "/checkout/fields", limits.Forms, d.SameSite, d.fields)
	frame.At(out, fiber.MethodPost, "/quote", limits.Sums, d.SameSite, d.quote)
	frame.At(out, fiber.MethodPost, "/accept", limits.Forms, d.SameSite, d.accept)
	frame.At(out, fiber.MethodPost, "/decline", limits.Forms, d.SameSite, d.decline)
}

// back leads whoever opens the address of a form to the page on which it stands.
func back(c fiber.Ctx) error { return frame.SeeOther(c, frame.Path(c)+"#checkout") }

// typed reads a checkout's form, with what the browser says of its zone.
func (d *Desk) typed(c fiber.Ctx) map[string]string {
	values := frame.TypedAsMeant(c)
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
	Bumps  *string           `json:"bumps,omitempty"`
	Where  string            `json:"where,omitempty"`  // the block of the address, for another country
	Costs  map[int]string    `json:"costs,omitempty"`  // of what can be chosen, by number
	Part   int               `json:"part,omitempty"`   // of the form that stands now
	Count  *int              `json:"count,omitempty"`  // pieces in the order
	Stands map[string]string `json:"stands,omitempty"` // what is chosen now, by field
	Meant  *string           `json:"meant,omitempty"`  // the address that was probably meant
}

// meant is the address that was probably meant by the one that was typed, or "".
func meant(values map[string]string) *string {
	address := mailing.Meant(strings.TrimSpace(values["email"]))
	return &address
}

func (d *Desk) news(o selling.PayOutcome, values map[string]string) (told, error) {
	n := told{Go: o.Go, Errors: o.Errors, Again: o.Again, Part: o.Part, Meant: meant(values)}
	if o.Go == "" && (o.Notice != "" || o.Errors != nil) {
		n.Notice = &o.Notice
	}
	s := o.Shown
	if s == nil {
		return n, nil
	}
	pieces := s.Pieces()
	n.Count, n.Stands = &pieces, s.Standing
	n.Seen, n.Code, n.Sent, n.Total = s.Seen, &s.CodeSay, &s.Sent, s.Totals.Total.String()
	var errs [3]error
	var bumps string
	n.Totals, errs[0] = d.Render.Checkout("totals", s.Totals)
	bumps, errs[1] = d.Render.Checkout("bumps", s)
	n.Bumps = &bumps
	if where, ok := s.Where(); ok && values["redraw"] != "" {
		n.Where, errs[2] = d.Render.Checkout("block", where)
	}
	for _, choice := range s.Choices {
		cost, err := d.Render.Checkout("price", choice)
		if err != nil {
			return n, err
		}
		if n.Costs == nil {
			n.Costs = map[int]string{}
		}
		n.Costs[choice.Number] = cost
	}
	return n, errors.Join(errs[:]...)
}

// quote prices the checkout anew at every change of it.
func (d *Desk) quote(c fiber.Ctx) error {
	live, err := d.Publishing.Live(c, frame.Address(c))
	if err != nil {
		return err
	}
	values := d.typed(c)
	d.Changed(c, values["code"])
	outcome, err := d.Selling.Quote(c, selling.PayInput{Live: live, Visitor: d.Visitor(c), Values: values})
	if err != nil {
		return err
	}
	n, err := d.news(outcome, values)
	if err != nil {
		return err
	}
	return c.JSON(n)
}

// fields checks what was typed, before the till is asked for a token.
func (d *Desk) fields(c fiber.Ctx) error {
	live, err := d.Publishing.Live(c, frame.Address(c))
	if err != nil {
		return err
	}
	values := d.typed(c)
	co, err := d.Selling.Checkout(c, selling.PayInput{Live: live, Visitor: d.Visitor(c), Values: values})
	if err != nil {
		return err
	}
	q, err := co.Price(d.Store.Now())
	if err != nil {
		return err
	}
	if len(q.Lines) == 0 && co.Gone == "" {
		return c.JSON(map[string]any{"errors": map[string]string{}, "notice": selling.NothingPut})
	}
	clean, faults := co.Faults(q, values)
	return c.JSON(map[string]any{"errors": faults, "part": co.PartOf(clean, faults), "meant": meant(values)})
}

// next goes to the next part of a checkout of several, or back, and keeps what was typed
// for whoever comes back: for the script as JSON, without script as a page of its own.
func (d *Desk) next(c fiber.Ctx) error {
	live, err := d.Publishing.Live(c, frame.Address(c))
	if err != nil {
		return err
	}
	values := d.typed(c)
	turned, err := d.Selling.Turn(c, selling.PayInput{Live: live, Visitor: d.Visitor(c), Values: values}, values["back"] != "")
	if err != nil {
		return err
	}
	if turned.Kept {
		d.Going(c, live.Page.Address, selling.UnfinishedFor)
	}
	if frame.WantsJSON(c) {
		n := told{Errors: turned.Errors, Part: turned.Part, Meant: meant(values)}
		if turned.Notice != "" {
			n.Notice = &turned.Notice
		}
		return c.JSON(n)
	}
	if turned.Kept && len(turned.Errors) == 0 && turned.Notice == "" {
		return frame.SeeOther(c, "/"+live.Page.Address+"?part="+strconv.Itoa(turned.Part)+"#checkout")
	}
	values["part"] = strconv.Itoa(turned.Part)
	status := http.StatusOK
	if len(turned.Errors) > 0 {
		status = http.StatusUnprocessableEntity
	}
	return d.Pages.Private(c, status, live, nil, pieces.Form{Values: values, Errors: turned.Errors, Notice: turned.Notice})
}

// pay takes an order, for the script as JSON and without script as a page.
func (d *Desk) pay(c fiber.Ctx) error {
	live, err := d.Publishing.Live(c, frame.Address(c))
	if err != nil {
		return err
	}
	values := d.typed(c)
	if values["requote"] != "" { // without script: show what the code comes to
		return d.Pages.Private(c, http.StatusOK, live, nil, pieces.Form{Values: values})
	}
	outcome, err := d.Selling.Pay(c, selling.PayInput{Live: live, Visitor: d.Visitor(c), Values: values, Letter: d.Letter(c)})
	if err != nil {
		return err
	}
	if frame.WantsJSON(c) {
		n, err := d.news(outcome, values)
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
	if outcome.Part > 0 {
		values["part"] = strconv.Itoa(outcome.Part)
	}
	return d.Pages.Private(c, http.StatusUnprocessableEntity, live, nil, pieces.Form{
		Values: values, Errors: outcome.Errors, Notice: notice, Again: outcome.Again,
	})
}
