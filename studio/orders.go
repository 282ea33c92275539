package studio

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

	"github.com/gofiber/fiber/v3"
)

// ordersShown is how many orders a page of the list shows.
const ordersShown = 50

func askedOrders(c fiber.Ctx) orders.OrderQuery {
	get := func(name string) string { return typed(c, name) } // from the address or from a form
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
func (s *Studio) ordersPlace(c fiber.Ctx) error { return s.orderList(c, "") }

func (s *Studio) orderList(c fiber.Ctx, said string) error {
	q := askedOrders(c)
	rows, err := s.App.Orders.Orders(c, q)
	if err != nil {
		return err
	}
	counts, err := s.App.Orders.CountOrders(c, q)
	if err != nil {
		return err
	}
	var picks []orders.Pick
	if q.Standing == "" || q.Standing == "to_pack" { // where they are shown
		if picks, err = s.App.Orders.Picks(c, q); err != nil {
			return err
		}
	}
	shop, err := s.App.Store.Shop(c)
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
		"Count": counts[q.Standing].Orders, "Asked": q.Find != "" || q.Campaign != "" || q.From != "" || q.To != "", "Till": s.App.Origins.Till, "Shop": s.App.Origins.Shop,
		"Mails": s.App.Post != nil, "Mailed": ordermail.OrderMails, "OrderMail": shop.OrderMail, "CSRF": who(c).CSRF,
	}
	if values["Campaigns"], err = s.App.Calendar.Campaigns(c); err != nil {
		return err
	}
	if c.Get("HX-Request") != "" {
		return s.fragment(c, "orders-body", values)
	}
	return s.place(c, "orders", "Orders", values)
}

// moveOrders does one deed to all that are ticked.
func (s *Studio) moveOrders(c fiber.Ctx) error {
	ids := allTyped(c, "ids")
	deed := typed(c, "deed")
	var done orders.Handled
	var err error
	if order.Deed(deed) == order.Send {
		done, err = s.App.Orders.SendOrders(c, who(c).User.Name, ids, orders.Sending{Carrier: typed(c, "carrier"), Mail: typed(c, "mail") != ""})
	} else {
		done, err = s.App.Orders.MoveOrders(c, who(c).User.Name, ids, order.Deed(deed))
	}
	if err != nil {
		return err
	}
	return s.orderList(c, handledWords(done))
}

func handledWords(d orders.Handled) string {
	said := words.Count(d.Done, "order") + " changed."
	if len(d.Left) > 0 {
		said += " Left as it was: " + strings.Join(d.Left, "; ") + "."
	}
	return said
}

func (s *Studio) orderPlace(c fiber.Ctx) error {
	w, err := s.App.Orders.WholeOrder(c, strings.Clone(c.Params("id")))
	if err != nil {
		return err
	}
	shop, err := s.App.Store.Shop(c)
	if err != nil {
		return err
	}
	title := "An order that is being paid for"
	if w.Number != nil {
		title = "Order " + whole(int(*w.Number))
	}
	values := map[string]any{"Title": title, "W": w, "Zone": shop.Zone, "Mails": s.App.Post != nil, "Deeds": deeds(order.Handling(w.Standing))}
	return s.place(c, "order", "Orders", values)
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

func (s *Studio) sendOrder(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	done, err := s.App.Orders.SendOrders(c, who(c).User.Name, []string{id}, orders.Sending{Carrier: typed(c, "carrier"), Number: typed(c, "number"), Mail: typed(c, "mail") != ""})
	return s.afterDeed(c, id, done, err)
}

func (s *Studio) moveOrder(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	done, err := s.App.Orders.MoveOrders(c, who(c).User.Name, []string{id}, order.Deed(typed(c, "deed")))
	return s.afterDeed(c, id, done, err)
}

func (s *Studio) afterDeed(c fiber.Ctx, id string, done orders.Handled, err error) error {
	if err == nil && done.Done == 0 {
		err = refusal.Refusal{Kind: refusal.ErrConflict, Say: handledWords(done)}
	}
	if err != nil {
		return err
	}
	return leadTo(c, "/orders/"+id)
}

func (s *Studio) noteOrder(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	if err := s.App.Orders.NoteOrder(c, who(c).User.Name, id, typed(c, "text")); err != nil {
		return err
	}
	return leadTo(c, "/orders/"+id)
}

func askedRefund(c fiber.Ctx) orders.RefundAsk {
	ask := orders.RefundAsk{
		OrderID: strings.Clone(c.Params("id")), Way: typed(c, "way"), Amount: typed(c, "amount"), Units: map[string]int{},
		Restock: typed(c, "restock") != "", Reason: typed(c, "reason"), Mail: typed(c, "mail") != "",
	}
	lines, units := allTyped(c, "line"), allTyped(c, "units")
	for i := range min(len(lines), len(units)) {
		if n, err := strconv.Atoi(strings.TrimSpace(units[i])); err == nil && n != 0 {
			ask.Units[strings.Clone(lines[i])] = n
		}
	}
	return ask
}

// refundForm shows what a refund would give back, as the form stands.
func (s *Studio) refundForm(c fiber.Ctx) error {
	ask := askedRefund(c)
	if ask.Way == "" {
		ask.Way, ask.Restock, ask.Mail = "whole", true, true
	}
	plan, err := s.App.Orders.PlanRefund(c, ask)
	var refusal refusal.Refusal
	if err != nil && !asRefusal(err, &refusal) {
		return err
	}
	return s.fragment(c, "refund-form", map[string]any{"Ask": ask, "Plan": plan, "Fault": refusal.Say, "Mails": s.App.Post != nil, "ID": ask.OrderID})
}

func (s *Studio) refundOrder(c fiber.Ctx) error {
	ask := askedRefund(c)
	if _, err := s.App.Orders.Refund(c, who(c).User.Name, ask); err != nil {
		return err
	}
	return leadTo(c, "/orders/"+ask.OrderID)
}

// packingPlace is the list that is printed to pack by: what to fetch, then each
// order with its address.
func (s *Studio) packingPlace(c fiber.Ctx) error {
	q := askedOrders(c)
	q.Number, q.Before = 0, ""
	q.IDs = copied(c.Request().URI().QueryArgs().PeekMulti("ids"))
	picks, err := s.App.Orders.Picks(c, q)
	if err != nil {
		return err
	}
	q.Standing = "to_pack"
	rows, err := s.App.Orders.Orders(c, q)
	if err != nil {
		return err
	}
	slices.Reverse(rows) // who has waited longest is packed first
	list, err := s.App.Orders.Packing(c, rows)
	if err != nil {
		return err
	}
	shop, err := s.App.Store.Shop(c)
	if err != nil {
		return err
	}
	return s.place(c, "packing", "Orders", map[string]any{"Title": "Packing list", "Picks": picks, "List": list, "Zone": shop.Zone, "Name": shop.Name})
}

func (s *Studio) exportOrders(c fiber.Ctx) error {
	q := askedOrders(c)
	q.Number, q.Before = 0, ""
	var out bytes.Buffer
	if err := s.App.Orders.ExportOrders(c, q, &out); err != nil {
		return err
	}
	return sendFile(c, "orders.csv", "text/csv; charset=utf-8", out.Bytes())
}

// buyersPlace lists everybody who ordered.
func (s *Studio) buyersPlace(c fiber.Ctx) error {
	find := strings.Clone(c.Query("q"))
	rows, count, err := s.App.People.Buyers(c, find, 200)
	if err != nil {
		return err
	}
	shop, err := s.App.Store.Shop(c)
	if err != nil {
		return err
	}
	again, sum := 0, money.Of(0, shop.Currency)
	for _, r := range rows {
		sum.Minor += r.Minor
		if r.Orders > 1 {
			again++
		}
	}
	values := map[string]any{"Title": "Buyers", "Rows": rows, "Count": count, "Again": again, "Sum": sum, "Find": find, "Zone": shop.Zone}
	if c.Get("HX-Request") != "" {
		return s.fragment(c, "buyers-body", values)
	}
	return s.place(c, "buyers", "Orders", values)
}

// saveOrderMail says how the owner hears of orders.
func (s *Studio) saveOrderMail(c fiber.Ctx) error {
	if err := s.App.OrderMail.SetOrderMail(c, typed(c, "order_mail")); err != nil {
		return err
	}
	return s.fragment(c, "order-mail", map[string]any{"Mailed": ordermail.OrderMails, "OrderMail": typed(c, "order_mail"), "Kept": true})
}
