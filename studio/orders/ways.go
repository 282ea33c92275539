package orders

import (
	"strconv"
	"strings"

	"chrysagon/app/orders"
	"chrysagon/core/order"
	"chrysagon/core/refusal"
	"chrysagon/store"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// ways are what the form of the ways to pay shows.
func (p *Place) ways(shop store.Shop) map[string]any {
	gateway := map[order.Way]bool{}
	if p.Ports.Payments != nil {
		for _, w := range p.Ports.Payments.Ways() {
			gateway[w] = true
		}
	}
	return map[string]any{
		"Card": gateway[order.ByCard], "Account": gateway[order.ByAccount], "TransferTo": shop.TransferTo, "TransferDays": shop.TransferDays,
		"CollectAt": shop.CollectAt, "CollectDays": shop.CollectDays, "Most": order.MostHeldDays,
	}
}

// saveWays keeps by what else than a card the store is paid.
func (p *Place) saveWays(c fiber.Ctx) error {
	days := func(name string) int { return whole(frame.Typed(c, name)) }
	w := orders.Ways{TransferTo: frame.Typed(c, "transfer_to"), TransferDays: days("transfer_days"), CollectAt: frame.Typed(c, "collect_at"), CollectDays: days("collect_days")}
	err := p.Orders.SetWays(c, w)
	var refused refusal.Refusal
	if err != nil && !frame.AsRefusal(err, &refused) {
		return err
	}
	shop, err := p.Store.Shop(c)
	if err != nil {
		return err
	}
	values := p.ways(shop)
	if refused.Say != "" {
		values["Fault"], values["TransferTo"], values["CollectAt"] = refused.Say, w.TransferTo, w.CollectAt
	}
	values["Kept"], values["Open"] = refused.Say == "", true
	return p.Fragment(c, "ways", values)
}

// moneyCame confirms an order that waits for its money.
func (p *Place) moneyCame(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	if err := p.Orders.Confirm(c, frame.Who(c).User.Name, id); err != nil {
		return err
	}
	return frame.LeadTo(c, "/orders/"+id)
}

// giveUp ends one.
func (p *Place) giveUp(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	if err := p.Orders.GiveUp(c, frame.Who(c).User.Name, id); err != nil {
		return err
	}
	return frame.LeadTo(c, "/orders")
}

// renew lets a buyer download something once more.
func (p *Place) renew(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	if err := p.Orders.Renew(c, frame.Who(c).User.Name, id, strings.Clone(c.Params("variant"))); err != nil {
		return err
	}
	return frame.LeadTo(c, "/orders/"+id)
}

// saveDownloads keeps how often and how long what is bought can be downloaded.
func (p *Place) saveDownloads(c fiber.Ctx) error {
	d := orders.Downloads{Most: whole(frame.Typed(c, "most")), Days: whole(frame.Typed(c, "days"))}
	err := p.Orders.SetDownloads(c, d)
	var refused refusal.Refusal
	if err != nil && !frame.AsRefusal(err, &refused) {
		return err
	}
	return p.Fragment(c, "downloads", map[string]any{"Most": d.Most, "Days": d.Days, "Fault": refused.Say, "Kept": refused.Say == ""})
}

// whole is a number that was typed; what is none is 0, which is refused in words.
func whole(text string) int {
	n, err := strconv.Atoi(strings.TrimSpace(text))
	if err != nil {
		return 0
	}
	return n
}
