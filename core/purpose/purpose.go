// Package purpose says what a page is for: which step of a funnel it can be,
// and which beats its reader should meet.
package purpose

import (
	"slices"

	"chrysagon/core/manuscript"
	"chrysagon/core/route"
)

// Purpose is one thing a page can be for.
type Purpose struct {
	Name  string            // as it is stored
	Title string            // as it is said
	What  string            // what it does, in a few words
	Step  route.Kind        // what it is in a funnel; "" nothing
	Joins bool              // a new page of it joins its campaign's funnel by itself
	Beats []manuscript.Beat // those its reader should meet
	Menu  bool              // the store's menus lead to it
	Foot  bool              // the store's footers do
	Mail  bool              // it is no page: it goes to people by mail
	Order string            // the kind of an order's own mail that it writes; empty: it is none
}

// Letter is the purpose of what goes to people by mail.
const Letter = "letter"

// Product is the purpose of the one page that stands for each of the goods.
const Product = "product"

var whole = []manuscript.Beat{manuscript.Attention, manuscript.Interest, manuscript.Desire, manuscript.Action}

// All lists the purposes in the order in which a buyer meets such pages.
var All = []Purpose{
	{Name: "opt_in", Title: "opt-in page", What: "asks for an email and gives something for it", Step: route.OptIn, Beats: []manuscript.Beat{manuscript.Attention, manuscript.Desire, manuscript.Action}},
	{Name: "bridge", Title: "bridge page", What: "warms a visitor up and leads on", Step: route.Bridge, Beats: []manuscript.Beat{manuscript.Attention, manuscript.Interest, manuscript.Action}},
	{Name: "sales", Title: "sales page", What: "sells on the page itself", Step: route.Sales, Joins: true, Beats: whole},
	{Name: Product, Title: "page of a product", What: "stands for every product that has no page written for it", Step: route.Sales, Joins: true, Beats: []manuscript.Beat{manuscript.Attention, manuscript.Action}},
	{Name: "shelf", Title: "goods page", What: "shows goods picked by a rule, each with its price", Step: route.List, Beats: []manuscript.Beat{manuscript.Attention, manuscript.Interest, manuscript.Action}, Menu: true},
	{Name: "appointment", Title: "appointment page", What: "lets a visitor call or come by", Step: route.Appointment, Beats: []manuscript.Beat{manuscript.Attention, manuscript.Interest, manuscript.Action}, Menu: true},
	{Name: "upsell", Title: "upsell", What: "offers one thing more after the payment", Step: route.UpsellAt, Joins: true, Beats: []manuscript.Beat{manuscript.Attention, manuscript.Action}},
	{Name: "downsell", Title: "downsell", What: "offers something smaller to those who said no", Step: route.DownsellAt, Joins: true, Beats: []manuscript.Beat{manuscript.Attention, manuscript.Action}},
	{Name: "thank_you", Title: "thank-you page", What: "shows what was bought and what comes next", Step: route.ThankYou, Joins: true},
	{Name: "coming_soon", Title: "coming-soon page", What: "says what is coming, and when", Beats: []manuscript.Beat{manuscript.Attention, manuscript.Action}},
	{Name: "about", Title: "about page", What: "says who sells here", Menu: true},
	{Name: "contact", Title: "contact page", What: "says how to reach the store", Menu: true},
	{Name: "legal", Title: "legal page", What: "privacy, terms or a disclaimer", Foot: true},
	{Name: Letter, Title: "letter", What: "goes to people on a list, by mail", Mail: true},
	{Name: "mail_confirmation", Title: "order’s confirmation", What: "goes to who has paid", Mail: true, Order: "confirmation"},
	{Name: "mail_awaits", Title: "mail of an order to be paid", What: "says how an order is paid that waits for it", Mail: true, Order: "awaits"},
	{Name: "mail_sent", Title: "mail of a parcel", What: "goes with each parcel", Mail: true, Order: "sent"},
	{Name: "mail_refund", Title: "mail of money back", What: "says what goes back", Mail: true, Order: "refund"},
	{Name: "mail_download", Title: "mail of downloads", What: "hands downloads out once more", Mail: true, Order: "download"},
	{Name: "mail_lapsed", Title: "mail of an order given up", What: "goes where the money did not come in time", Mail: true, Order: "lapsed"},
	{Name: "plain", Title: "page", What: "anything else"},
}

// Pages are the purposes of what is a page.
func Pages() []Purpose {
	return slices.DeleteFunc(slices.Clone(All), func(p Purpose) bool { return p.Mail })
}

// Orders are the purposes of the mails of orders.
func Orders() []Purpose {
	return slices.DeleteFunc(slices.Clone(All), func(p Purpose) bool { return p.Order == "" })
}

// OfOrder is the purpose of a kind of an order's mails.
func OfOrder(kind string) Purpose {
	for _, p := range Orders() {
		if p.Order == kind {
			return p
		}
	}
	return Of("")
}

// Of returns the purpose of that name; an unknown one is a plain page.
func Of(name string) Purpose {
	if i := slices.IndexFunc(All, func(p Purpose) bool { return p.Name == name }); i >= 0 {
		return All[i]
	}
	return All[len(All)-1]
}

// Known tells whether there is such a purpose.
func Known(name string) bool {
	return slices.ContainsFunc(All, func(p Purpose) bool { return p.Name == name })
}

// Missing lists the beats that a page of this purpose should have and has not,
// in the order a reader meets them.
func (p Purpose) Missing(page manuscript.Page) []manuscript.Beat {
	var out []manuscript.Beat
	for _, beat := range p.Beats {
		if !slices.ContainsFunc(page.Bands, func(b manuscript.Band) bool { return b.Beat == beat }) {
			out = append(out, beat)
		}
	}
	return out
}

// Led lists the names of the purposes to which menus or footers lead.
func Led() []string {
	var out []string
	for _, p := range All {
		if p.Menu || p.Foot {
			out = append(out, p.Name)
		}
	}
	return out
}
