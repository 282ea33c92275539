package shopfront

import (
	"errors"
	"fmt"
	"net/http"
	"strings"

	"chrysagon/app/factbook"
	"chrysagon/app/selling"
	"chrysagon/core/deadline"
	"chrysagon/core/order"
	"chrysagon/core/refusal"
	"chrysagon/gateway/tillclient"
	"chrysagon/internal/media"
	"chrysagon/pieces"
	"chrysagon/store"

	"github.com/gofiber/fiber/v3"
	webhooks "github.com/standard-webhooks/standard-webhooks/libraries/go"
)

// typed reads a form. The strings outlive the request.
func typed(c fiber.Ctx) map[string]string {
	values := map[string]string{}
	for name, value := range c.Request().PostArgs().All() {
		values[string(name)] = media.Readable(string(value))
	}
	return values
}

// typed reads a checkout's form, with what the browser says of its zone.
func (s *Front) typed(c fiber.Ctx) map[string]string {
	values := typed(c)
	values["zone"] = zoneOf(c)
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

func (s *Front) news(o selling.PayOutcome) (told, error) {
	n := told{Go: o.Go, Errors: o.Errors, Seen: o.Seen, Again: o.Again, Code: o.Code}
	if o.Go == "" && (o.Notice != "" || o.Errors != nil) {
		n.Notice = &o.Notice
	}
	if len(o.Quote.Lines) > 0 {
		totals, err := s.App.Render.Totals(o.Quote)
		if err != nil {
			return n, err
		}
		n.Sent = &o.Sent
		n.Totals, n.Total = totals, o.Quote.Total.String()
	}
	return n, nil
}

// quote prices the checkout anew at every change of it.
func (s *Front) quote(c fiber.Ctx) error {
	live, err := s.App.Publishing.Live(c, c.Params("address"))
	if err != nil {
		return err
	}
	outcome, err := s.App.Selling.Quote(c, selling.PayInput{Live: live, Visitor: s.visitor(c), Values: s.typed(c)})
	if err != nil {
		return err
	}
	n, err := s.news(outcome)
	if err != nil {
		return err
	}
	return c.JSON(n)
}

// fields checks what was typed, before the till is asked for a token.
func (s *Front) fields(c fiber.Ctx) error {
	live, err := s.App.Publishing.Live(c, c.Params("address"))
	if err != nil {
		return err
	}
	values := s.typed(c)
	co, err := s.App.Selling.Checkout(c, live, selling.BuyerOf(s.visitor(c), values))
	if err != nil {
		return err
	}
	q, err := co.Price(values["bump"] != "", s.App.Store.Now())
	if err != nil {
		return err
	}
	_, faults := co.Faults(q, values)
	return c.JSON(map[string]any{"errors": faults})
}

// pay takes an order, for the script as JSON and without script as a page.
func (s *Front) pay(c fiber.Ctx) error {
	live, err := s.App.Publishing.Live(c, c.Params("address"))
	if err != nil {
		return err
	}
	values := s.typed(c)
	if values["requote"] != "" { // without script: show what the code comes to
		return s.private(c, http.StatusOK, live, nil, pieces.Form{Values: values})
	}
	outcome, err := s.App.Selling.Pay(c, selling.PayInput{Live: live, Visitor: s.visitor(c), Values: values})
	if err != nil {
		return err
	}
	if wantsJSON(c) {
		n, err := s.news(outcome)
		if err != nil {
			return err
		}
		return c.JSON(n)
	}
	if outcome.Go != "" {
		return seeOther(c, outcome.Go)
	}
	notice := outcome.Notice
	if notice == "" {
		notice = "Something needs mending before you can order. Nothing was charged."
	}
	return s.private(c, http.StatusUnprocessableEntity, live, nil, pieces.Form{
		Values: values, Errors: outcome.Errors, Notice: notice, Again: outcome.Again,
	})
}

// order is the page on which a buyer waits for an order, or from which they
// are led on.
func (s *Front) order(c fiber.Ctx) error {
	o, err := s.App.Selling.OrderByToken(c, c.Params("token"), s.visitor(c))
	if errors.Is(err, refusal.ErrNotFound) {
		if o, err = s.App.Selling.OrderByLink(c, strings.Clone(c.Params("token"))); err == nil {
			return s.bought(c, o)
		}
	}
	if err != nil {
		return err
	}
	standing, err := s.App.Selling.Standing(c, o, c.Query("returned") != "")
	switch {
	case err != nil:
		return err
	case standing.Waiting:
		c.Set("Refresh", "2")
		return s.say(c, fiber.StatusOK, "Your payment is on its way", "We are asking the till what became of it. This page looks again by itself every two seconds. You are charged at most once.", "")
	case standing.Go != "":
		return seeOther(c, standing.Go)
	}
	return s.say(c, fiber.StatusOK, "Not paid", standing.Notice, standing.Back)
}

// bought shows an order to whoever has the link of its mail, in any browser: what
// was bought, what can be taken, and to which town it goes. The card and the full
// address are not shown, and nothing can be accepted here.
func (s *Front) bought(c fiber.Ctx, o store.Order) error {
	f, err := s.App.Facts.OrderFacts(c, o)
	if err != nil {
		return err
	}
	shop, err := s.App.Store.Shop(c)
	if err != nil {
		return err
	}
	err = s.plainPage(c, fiber.StatusOK, map[string]any{
		"Title": fmt.Sprintf("Order %d", f.Number), "Shop": shop, "Order": f, "Paid": deadline.Written(f.PaidAt, shop.Zone), "Town": factbook.Town(o),
	})
	c.Set("X-Robots-Tag", "noindex")
	c.Set("Referrer-Policy", "no-referrer")
	return err
}

// card brings a buyer back from the till's own card page.
func (s *Front) card(c fiber.Ctx) error {
	o, err := s.App.Selling.OrderByToken(c, c.Params("token"), s.visitor(c))
	if err != nil {
		return err
	}
	if token := c.Query("token"); token != "" {
		if err := s.App.Selling.PayWithCard(c, o, strings.Clone(token)); err != nil {
			return err
		}
	}
	return seeOther(c, order.Path(o.Token))
}

func (s *Front) accept(c fiber.Ctx) error {
	live, err := s.App.Publishing.Live(c, c.Params("address"))
	if err != nil {
		return err
	}
	values := typed(c)
	o, err := s.App.Selling.OrderByToken(c, values["order"], s.visitor(c))
	if err != nil {
		return err
	}
	next, notice, err := s.App.Selling.Accept(c, live, o, values["seen"])
	if err != nil {
		return err
	}
	if next != "" {
		return seeOther(c, next)
	}
	return s.private(c, http.StatusConflict, live, &o, pieces.Form{Notice: notice})
}

func (s *Front) decline(c fiber.Ctx) error {
	live, err := s.App.Publishing.Live(c, c.Params("address"))
	if err != nil {
		return err
	}
	o, err := s.App.Selling.OrderByToken(c, typed(c)["order"], s.visitor(c))
	if err != nil {
		return err
	}
	next, err := s.App.Selling.Decline(c, live, o)
	if err != nil {
		return err
	}
	return seeOther(c, next)
}

// hook takes the till's signed news of a charge.
func (s *Front) hook(c fiber.Ctx) error {
	verifier, err := webhooks.NewWebhook(s.App.WebhookSecret)
	if err != nil {
		return err
	}
	head := http.Header{}
	for _, name := range []string{webhooks.HeaderWebhookID, webhooks.HeaderWebhookTimestamp, webhooks.HeaderWebhookSignature} {
		head.Set(name, c.Get(name))
	}
	body := c.Body()
	if err := verifier.Verify(body, head); err != nil {
		return problem(c, fiber.StatusUnauthorized, "The signature does not belong to this message.")
	}
	answer, err := tillclient.ParseHook(body)
	if err != nil {
		return problem(c, fiber.StatusBadRequest, err.Error())
	}
	if err := s.App.Selling.Settle(c, answer); err != nil {
		s.App.Log.Warn("a webhook could not be acted on", "error", err)
		return problem(c, fiber.StatusConflict, "The news does not fit what is known; send it again later.")
	}
	return c.SendStatus(fiber.StatusNoContent)
}

// problem answers with a problem document (RFC 9457).
func problem(c fiber.Ctx, status int, detail string) error {
	return c.Status(status).JSON(map[string]any{"status": status, "title": "Refused", "detail": detail}, "application/problem+json")
}
