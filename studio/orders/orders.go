package orders

import (
	"bytes"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"chrysagon/app/ordermail"
	"chrysagon/app/orders"
	"chrysagon/core/deadline"
	"chrysagon/core/money"
	"chrysagon/core/order"
	"chrysagon/core/refusal"
	"chrysagon/core/words"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// ordersShown is how many orders a page of the list shows.
const ordersShown = 50

func askedOrders(c fiber.Ctx) orders.OrderQuery {
	get := func(name string) string { return frame.Typed(c, name) } // from the address or from a form
	return orders.OrderQuery{Find: get("q"), Standing: get("standing"), Campaign: get("campaign"), From: deadline.Entered(get("from")), To: deadline.Entered(get("to")), Before: get("before"), Number: ordersShown}
}

// linkOf writes a query as an address's.
func linkOf(q orders.OrderQuery, standing string) string {
	v := url.Values{}
	for name, value := range map[string]string{"q": q.Find, "standing": standing, "campaign": q.Campaign, "from": q.From, "to": q.To} {
		if value != "" {
			v.Set(name, value)
		}
	}
	if len(v) == 0 {
		return ""
	}
	return "?" + v.Encode()
}

// tab is one standing in the list's head.
type tab struct {
	Name, Words, Link string
	Orders            int
	At                bool
}

// ordersPlace lists orders, with what is to be done about them.
func (p *Place) ordersPlace(c fiber.Ctx) error { return p.orderList(c, "") }

func (p *Place) orderList(c fiber.Ctx, said string) error {
	q := askedOrders(c)
	rows, err := p.Orders.Orders(c, q)
	if err != nil {
		return err
	}
	counts, err := p.Orders.CountOrders(c, q)
	if err != nil {
		return err
	}
	var picks []orders.Pick
	if q.Standing == "" || q.Standing == "to_pack" { // where they are shown
		if picks, err = p.Orders.Picks(c, q); err != nil {
			return err
		}
	}
	shop, err := p.Store.Shop(c)
	if err != nil {
		return err
	}
	begun, begunAll, err := p.Orders.Begun(c)
	if err != nil {
		return err
	}
	tabs := []tab{{"", "All", linkOf(q, ""), counts[""].Orders, q.Standing == ""}}
	for _, st := range orders.Standings {
		tabs = append(tabs, tab{st.Name, st.Words, linkOf(q, st.Name), counts[st.Name].Orders, q.Standing == st.Name})
	}
	more := ""
	if len(rows) == ordersShown {
		next := linkOf(q, q.Standing)
		more = "/orders" + next + map[bool]string{true: "&", false: "?"}[next != ""] + "before=" + url.QueryEscape(rows[len(rows)-1].ID)
	}
	values := map[string]any{
		"Title": "Orders", "Q": q, "Rows": rows, "Tabs": tabs, "Picks": picks, "More": more, "Said": said, "Zone": shop.Zone, "Link": linkOf(q, q.Standing),
		"PackLink": linkOf(q, ""), "Pack": counts["to_pack"].Orders, "PackSum": money.Of(counts["to_pack"].Minor, shop.Currency), "Sum": money.Of(counts[q.Standing].Minor, shop.Currency),
		"Count": counts[q.Standing].Orders, "Asked": q.Find != "" || q.Campaign != "" || q.From != "" || q.To != "", "Till": p.Origins.Till, "Shop": p.Origins.Shop,
		"Begun": begun, "BegunAll": begunAll, "Mails": p.Ports.Post != nil, "Mailed": ordermail.OrderMails, "OrderMail": shop.OrderMail, "CSRF": frame.Who(c).CSRF,
		"Ways": p.ways(shop), "Downloads": map[string]any{"Most": shop.DownloadMost, "Days": shop.DownloadDays},
	}
	values["Campaigns"] = frame.Campaigns(c)
	if c.Get("HX-Request") != "" {
		return p.Fragment(c, "orders-body", values)
	}
	return p.Show(c, "orders", "Orders", values)
}

// moveOrders does one deed to all that are ticked.
func (p *Place) moveOrders(c fiber.Ctx) error {
	ids := frame.AllTyped(c, "ids")
	deed := frame.Typed(c, "deed")
	var done orders.Handled
	var err error
	if order.Deed(deed) == order.Send {
		done, err = p.Orders.SendOrders(c, frame.Who(c).User.Name, ids, orders.Sending{Carrier: frame.Typed(c, "carrier"), Mail: frame.Typed(c, "mail") != ""})
	} else {
		done, err = p.Orders.MoveOrders(c, frame.Who(c).User.Name, ids, order.Deed(deed))
	}
	if err != nil {
		return err
	}
	return p.orderList(c, handledWords(done))
}

func handledWords(d orders.Handled) string {
	said := words.Count(d.Done, "order") + " changed."
	if len(d.Left) > 0 {
		said += " Left as it was: " + strings.Join(d.Left, "; ") + "."
	}
	return said
}

func (p *Place) orderPlace(c fiber.Ctx) error {
	w, err := p.Orders.WholeOrder(c, strings.Clone(c.Params("id")))
	if err != nil {
		return err
	}
	shop, err := p.Store.Shop(c)
	if err != nil {
		return err
	}
	title := unpaid(w.Standing)
	if w.Number != nil {
		title = "Order " + frame.Whole(int(*w.Number))
	}
	values := map[string]any{"Unpaid": unpaid(w.Standing), "Title": title, "W": w, "Zone": shop.Zone, "Mails": p.Ports.Post != nil, "Deeds": deeds(order.Handling(w.Standing))}
	return p.Show(c, "order", "Orders", values)
}

// unpaid is what an order is called that has no number yet.
func unpaid(standing string) string {
	if standing == "awaited" {
		return "An order to confirm"
	}
	return "An order that is being paid for"
}

// deed is something that can be done with an order as it stands.
type deed struct{ Deed, Words string }

func deeds(h order.Handling) []deed {
	var out []deed
	for _, d := range []deed{{string(order.Finish), "It is done"}, {string(order.Reopen), "Pack it after all"}} {
		if _, err := order.Handle(h, order.Deed(d.Deed)); err == nil {
			out = append(out, d)
		}
	}
	return out
}

func (p *Place) sendOrder(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	done, err := p.Orders.SendOrders(c, frame.Who(c).User.Name, []string{id}, orders.Sending{Carrier: frame.Typed(c, "carrier"), Number: frame.Typed(c, "number"), Mail: frame.Typed(c, "mail") != ""})
	return p.afterDeed(c, id, done, err)
}

func (p *Place) moveOrder(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	done, err := p.Orders.MoveOrders(c, frame.Who(c).User.Name, []string{id}, order.Deed(frame.Typed(c, "deed")))
	return p.afterDeed(c, id, done, err)
}

func (p *Place) afterDeed(c fiber.Ctx, id string, done orders.Handled, err error) error {
	if err == nil && done.Done == 0 {
		err = refusal.Refusal{Kind: refusal.ErrConflict, Say: handledWords(done)}
	}
	if err != nil {
		return err
	}
	return frame.LeadTo(c, "/orders/"+id)
}

func (p *Place) noteOrder(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	if err := p.Orders.NoteOrder(c, frame.Who(c).User.Name, id, frame.Typed(c, "text")); err != nil {
		return err
	}
	return frame.LeadTo(c, "/orders/"+id)
}

func askedRefund(c fiber.Ctx) orders.RefundAsk {
	ask := orders.RefundAsk{
		OrderID: strings.Clone(c.Params("id")), Way: frame.Typed(c, "way"), Amount: frame.Typed(c, "amount"), Units: map[string]int{},
		Restock: frame.Typed(c, "restock") != "", Reason: frame.Typed(c, "reason"), Mail: frame.Typed(c, "mail") != "",
	}
	lines, units := frame.AllTyped(c, "line"), frame.AllTyped(c, "units")
	for i := range min(len(lines), len(units)) {
		if n, err := strconv.Atoi(strings.TrimSpace(units[i])); err == nil && n != 0 {
			ask.Units[strings.Clone(lines[i])] = n
		}
	}
	return ask
}

// refundForm shows what a refund would give back, as the form stands.
func (p *Place) refundForm(c fiber.Ctx) error {
	ask := askedRefund(c)
	if ask.Way == "" {
		ask.Way, ask.Restock, ask.Mail = "whole", true, true
	}
	plan, err := p.Orders.PlanRefund(c, ask)
	var refusal refusal.Refusal
	if err != nil && !frame.AsRefusal(err, &refusal) {
		return err
	}
	return p.Fragment(c, "refund-form", map[string]any{"Ask": ask, "Plan": plan, "Fault": refusal.Say, "Mails": p.Ports.Post != nil, "ID": ask.OrderID})
}

func (p *Place) refundOrder(c fiber.Ctx) error {
	ask := askedRefund(c)
	if _, err := p.Orders.Refund(c, frame.Who(c).User.Name, ask); err != nil {
		return err
	}
	return frame.LeadTo(c, "/orders/"+ask.OrderID)
}

// packingPlace is the list that is printed to pack by: what to fetch, then each
// order with its address.
func (p *Place) packingPlace(c fiber.Ctx) error {
	q := askedOrders(c)
	q.Number, q.Before = 0, ""
	q.IDs = frame.Copied(c.Request().URI().QueryArgs().PeekMulti("ids"))
	picks, err := p.Orders.Picks(c, q)
	if err != nil {
		return err
	}
	q.Standing = "to_pack"
	rows, err := p.Orders.Orders(c, q)
	if err != nil {
		return err
	}
	slices.Reverse(rows) // who has waited longest is packed first
	list, err := p.Orders.Packing(c, rows)
	if err != nil {
		return err
	}
	shop, err := p.Store.Shop(c)
	if err != nil {
		return err
	}
	return p.Show(c, "packing", "Orders", map[string]any{"Title": "Packing list", "Picks": picks, "List": list, "Zone": shop.Zone, "Name": shop.Name})
}

func (p *Place) exportOrders(c fiber.Ctx) error {
	q := askedOrders(c)
	q.Number, q.Before = 0, ""
	var out bytes.Buffer
	if err := p.Orders.ExportOrders(c, q, &out); err != nil {
		return err
	}
	return frame.SendFile(c, "orders.csv", "text/csv; charset=utf-8", out.Bytes())
}

// saveOrderMail says how the owner hears of orders.
func (p *Place) saveOrderMail(c fiber.Ctx) error {
	if err := p.OrderMail.SetOrderMail(c, frame.Typed(c, "order_mail")); err != nil {
		return err
	}
	return p.Fragment(c, "order-mail", map[string]any{"Mailed": ordermail.OrderMails, "OrderMail": frame.Typed(c, "order_mail"), "Kept": true})
}

// forgetBegun forgets an unfinished checkout.
func (p *Place) forgetBegun(c fiber.Ctx) error {
	if err := p.Orders.ForgetBegun(c, frame.Typed(c, "email")); err != nil {
		return err
	}
	begun, all, err := p.Orders.Begun(c)
	if err != nil {
		return err
	}
	shop, err := p.Store.Shop(c)
	if err != nil {
		return err
	}
	return p.Fragment(c, "begun", map[string]any{"Begun": begun, "BegunAll": all, "Zone": shop.Zone})
}
