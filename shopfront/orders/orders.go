// Package orders is the buyer's own order: where it stands, the card that is still asked for, downloads.
package orders

import (
	"errors"
	"fmt"
	"mime"
	"strings"

	"chrysagon/app/factbook"
	"chrysagon/app/selling"
	"chrysagon/core/deadline"
	"chrysagon/core/order"
	"chrysagon/core/refusal"
	"chrysagon/shopfront/frame"
	"chrysagon/store"

	"github.com/gofiber/fiber/v3"
)

// Orders shows them.
type Orders struct {
	*frame.Frame
	Selling *selling.Counter
	Facts   *factbook.Reader
}

// Part is what the shopfront joins.
func (orders *Orders) Part(out fiber.Router, limits frame.Limits) {
	out.Get("/orders/:token", limits.Links, orders.order)
	out.Get("/orders/:token/card", orders.card)
	out.Post("/orders/:token/otherwise", limits.Forms, orders.SameSite, orders.otherwise)
	out.Get("/orders/:token/file/:variant/:sign", limits.Links, orders.download)
}

// order is the page on which a buyer waits for an order, or from which they
// are led on.
func (orders *Orders) order(c fiber.Ctx) error {
	o, err := orders.Selling.OrderByToken(c, c.Params("token"), orders.Visitor(c))
	if errors.Is(err, refusal.ErrNotFound) {
		if o, err = orders.Selling.OrderByLink(c, strings.Clone(c.Params("token"))); err == nil {
			return orders.bought(c, o)
		}
	}
	if err != nil {
		return err
	}
	standing, err := orders.Selling.Standing(c, o, c.Query("returned") != "")
	switch {
	case err != nil:
		return err
	case standing.Waiting:
		c.Set("Refresh", "2")
		return orders.Say(c, fiber.StatusOK, "Your payment is on its way", "We are asking the till what became of it. This page looks again by itself every two seconds. You are charged at most once.", "")
	case standing.Done, standing.Awaited:
		return orders.bought(c, o)
	case standing.Go != "":
		return frame.SeeOther(c, standing.Go)
	}
	return orders.Say(c, fiber.StatusOK, "Not paid", standing.Notice, standing.Back)
}

// bought shows an order to whoever has the link of its mail, in any browser: what
// was bought, what can be taken, and to which town it goes. The card and the full
// address are not shown, and nothing can be accepted here.
func (orders *Orders) bought(c fiber.Ctx, o store.Order) error {
	f, err := orders.Facts.OrderFacts(c, o)
	if err != nil {
		return err
	}
	shop, err := orders.Store.Shop(c)
	if err != nil {
		return err
	}
	values := map[string]any{
		"Title": fmt.Sprintf("Order %d", f.Number), "Shop": shop, "Order": f, "Paid": deadline.Written(f.PaidAt, shop.Zone), "Town": factbook.Town(o),
	}
	if f.Awaits != nil {
		values["Title"], values["Mailed"] = "Your order waits for your payment", !orders.Facts.StoreFacts(shop).Unmailed
		if o.Visitor == orders.Visitor(c) {
			values["Otherwise"] = order.Path(o.Token) + "/otherwise"
		}
	}
	err = orders.Plain(c, fiber.StatusOK, values)
	c.Set("X-Robots-Tag", "noindex")
	c.Set("Referrer-Policy", "no-referrer")
	return err
}

// card brings a buyer back from the till's own card page.
func (orders *Orders) card(c fiber.Ctx) error {
	o, err := orders.Selling.OrderByToken(c, c.Params("token"), orders.Visitor(c))
	if err != nil {
		return err
	}
	if token := c.Query("token"); token != "" {
		if err := orders.Selling.PayWithCard(c, o, strings.Clone(token)); err != nil {
			return err
		}
	}
	return frame.SeeOther(c, order.Path(o.Token))
}

// otherwise gives up an order that waits for its buyer's payment, and leads back to the
// checkout.
func (orders *Orders) otherwise(c fiber.Ctx) error {
	o, err := orders.Selling.OrderByToken(c, strings.Clone(c.Params("token")), orders.Visitor(c))
	if err != nil {
		return err
	}
	back, err := orders.Selling.PayOtherwise(c, o)
	if err != nil {
		return err
	}
	return frame.SeeOther(c, back)
}

// download hands a digital product to whoever has the link of its order.
func (orders *Orders) download(c fiber.Ctx) error {
	o, err := orders.Selling.OrderByLink(c, strings.Clone(c.Params("token")))
	if err != nil {
		return err
	}
	// Whoever goes on with a part, or only asks, has taken nothing more.
	counted := c.Method() == fiber.MethodGet && (c.Get("Range") == "" || strings.HasPrefix(c.Get("Range"), "bytes=0-"))
	f, err := orders.Selling.Download(c, o, strings.Clone(c.Params("variant")), strings.Clone(c.Params("sign")), counted)
	if err != nil {
		return err
	}
	c.Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": f.Name}))
	c.Set("Content-Type", "application/octet-stream")
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Cache-Control", "no-store")
	return c.Send(f.Bytes)
}
