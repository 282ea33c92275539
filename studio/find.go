package studio

import (
	"strings"

	"chrysagon/app/find"

	"github.com/gofiber/fiber/v3"
)

// doing is something that can be done, and where.
type doing struct{ Name, Words, Path, Do string }

// doings are the places and actions that Ctrl+K finds beside what the store
// holds; a new place is one more line.
var doings = []doing{
	{"Publish what is drafted", "publish go live", "/publish", "publish"},
	{"Undo the last change of this page", "undo take back", "/pages", "undo"},
	{"Sign out", "sign out leave", "/sign-in", "sign-out"},
	{"The logo", "logo header brand picture", "/house", ""},
	{"The currency, and where the store is", "currency country zone money", "/store", ""},
	{"Pages of the campaign", "pages drafts launch check", "/pages", ""},
	{"A new page", "new page template blank add make", "/pages/new", ""},
	{"A new shelf, or a page of goods by a rule", "new shelf rule clearance goods page", "/shelves?shelf=new", ""},
	{"Page from a package", "import package zip", "/pages/new", ""},
	{"House style: colours, type, buttons", "house style colours palette fonts type buttons corners shadows", "/house", ""},
	{"Pictures: upload, cut, replace, missing", "pictures photos upload crop cut focus replace unused missing alt", "/pictures", ""},
	{"The store: name, phone, address, terms", "store settings name phone email legal address privacy terms", "/store", ""},
	{"Your own code, on every page", "own code styles css scripts measuring tags analytics", "/store", ""},
	{"Season: the year, campaigns, deadlines", "season calendar year campaigns deadlines windows", "/season", ""},
	{"Goods: table, import, prices", "goods products table import csv prices stock", "/goods", ""},
	{"Offers, with a receipt to try them", "offers discounts codes receipt try", "/offers", ""},
	{"Shelves and groups of goods", "shelves groups goods rule", "/shelves", ""},
	{"Tax and shipping", "tax rates shipping delivery zones", "/rates", ""},
	{"Results: visitors, orders, revenue", "results visitors orders revenue staircase", "/results", ""},
	{"Orders: to pack, sent, refunds", "orders to pack send ship parcel tracking refund done waiting", "/orders", ""},
	{"Packing list, to print", "packing list print pick pack", "/orders/packing", ""},
	{"Orders, as CSV", "orders export csv", "/orders/orders.csv", ""},
	{"Buyers: who ordered, and for how much", "buyers customers who ordered", "/buyers", ""},
	{"Signing in: password, sessions", "password sessions sign in account browsers", "/account", ""},
	{"Leads, as CSV", "leads emails export csv", "/leads.csv", ""},
}

// find answers what Ctrl+K asks.
func (s *Studio) find(c fiber.Ctx) error {
	question := typed(c, "q")
	found, err := s.App.Find.Find(c, question)
	if err != nil {
		return err
	}
	asked := strings.Fields(strings.ToLower(question))
	var can []find.Spot
	for _, d := range doings {
		all := true
		for _, w := range asked {
			all = all && strings.Contains(strings.ToLower(d.Name)+" "+d.Words, w)
		}
		if all {
			can = append(can, find.Spot{Kind: map[bool]string{true: "do", false: "go to"}[d.Do != ""], Name: d.Name, Path: d.Path, Do: d.Do})
		}
	}
	return s.fragment(c, "found", map[string]any{"Found": append(found, can...), "Question": question})
}
