package ordermail

import (
	"fmt"
	"strings"

	"chrysagon/app/factbook"
	"chrysagon/core/facts"
	"chrysagon/core/money"
	"chrysagon/core/order"
	"chrysagon/store"
)

// about is what a mail of an order is about, as it was read.
type about struct {
	mail   store.Mail
	order  store.Order
	facts  *facts.Order
	store  facts.Store
	shop   string // its address
	parcel store.Parcel
	back   money.Money // what of it goes back
	why    string
	byHand bool
}

// told is what is computed of a mail: it stands in the owner's own words as it does in the
// plain ones.
func (a about) told() *facts.Told {
	out := &facts.Told{}
	switch a.mail.Kind {
	case "awaits":
		out.Rows = a.sums("To pay")
		if a.facts.Awaits != nil {
			out.Words = append(out.Words, strings.TrimSpace(toPay(a.facts.Awaits)))
		} else {
			out.Words = append(out.Words, "It is paid meanwhile.")
		}
	case "sent":
		for _, l := range a.facts.Lines {
			if l.Download == "" {
				out.Rows = append(out.Rows, facts.ToldRow{Label: fmt.Sprintf("%d × %s", l.Quantity, l.Name)})
			}
		}
		out.Words = append(out.Words, a.carried()...)
		out.Words = append(out.Words, a.goes()...)
	case "refund":
		out.Rows = []facts.ToldRow{{Label: "Goes back", Value: a.back.String(), Strong: true}}
		out.Words = append(out.Words, backWay(a.byHand))
		if a.why != "" {
			out.Words = append(out.Words, "Reason: "+a.why)
		}
	case "download":
		out.Rows = a.downloads()
	case "lapsed":
	default:
		out.Rows = a.sums("Paid")
		out.Words = a.goes()
	}
	if order.State(a.order.State) != order.Released {
		out.Links = append(out.Links, facts.ToldRow{Label: "See your order", Href: a.shop + order.Path(a.order.Token)})
	}
	return out
}

// sums are the lines of an order, and what it comes to.
func (a about) sums(total string) []facts.ToldRow {
	var out []facts.ToldRow
	for _, l := range a.facts.Lines {
		out = append(out, facts.ToldRow{Label: fmt.Sprintf("%d × %s", l.Quantity, l.Name), Value: l.Total.String()})
	}
	for _, r := range a.facts.Sums {
		out = append(out, facts.ToldRow{Label: r.Label, Value: r.Value})
	}
	out = append(out, facts.ToldRow{Label: total, Value: a.facts.Total.String(), Strong: true})
	return append(out, a.downloads()...)
}

// downloads are what of an order can be downloaded, and how often.
func (a about) downloads() []facts.ToldRow {
	var out []facts.ToldRow
	for _, l := range a.facts.Lines {
		if l.Download != "" {
			out = append(out, facts.ToldRow{Label: strings.TrimRight(l.Name+", "+l.Taken, ", "), Value: "Download it", Href: a.shop + l.Download})
		}
	}
	return out
}

func (a about) goes() []string {
	if place := factbook.Addressed(a.order); len(place) > 0 {
		return []string{"It goes to:\n" + strings.Join(place, "\n")}
	}
	return nil
}

func (a about) carried() []string {
	var out []string
	if a.parcel.Carrier != "" {
		out = append(out, "It travels with "+a.parcel.Carrier+".")
	}
	if a.parcel.Number != "" {
		out = append(out, "The parcel’s number is "+a.parcel.Number+".")
	}
	return out
}

// backWay says by which way money goes back.
func backWay(byHand bool) string {
	if byHand {
		return "It goes back to you, by the way you paid it."
	}
	return "It goes back to the card it was paid with. How soon it shows there is up to your bank."
}
