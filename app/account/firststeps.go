package account

import (
	"context"
	"slices"
	"strings"
)

// FirstStep is one of the things a new store needs before it can sell.
type FirstStep struct {
	What, Say, Link, Action string
	Done                    bool
}

// FirstSteps are what a store needs before it sells, in order; none once it has
// published.
func (a *Accounts) FirstSteps(ctx context.Context) ([]FirstStep, error) {
	var has struct{ Editions, Goods, Rates, Zones, Pages bool }
	err := a.Store.On(ctx).Raw(`SELECT EXISTS (SELECT FROM editions) AS editions, EXISTS (SELECT FROM variants) AS goods, EXISTS (SELECT FROM tax_rates) AS rates,
		EXISTS (SELECT FROM shipping_zones) AS zones, EXISTS (SELECT FROM pages WHERE aside_at IS NULL AND NOT by_mail) AS pages`).Scan(&has).Error
	if err != nil || has.Editions {
		return nil, err
	}
	shop, err := a.Store.Shop(ctx)
	if err != nil {
		return nil, err
	}
	var missing []string
	for _, w := range []struct{ what, text string }{{"who sells", shop.LegalName}, {"your address", shop.LegalAddress}, {"how you keep data", shop.Privacy}, {"your terms", shop.Terms}} {
		if strings.TrimSpace(w.text) == "" {
			missing = append(missing, w.what)
		}
	}
	steps := []FirstStep{
		{"Say who you are", "Every page and every mail names the seller, as the law asks.", "/store", "The store", len(missing) == 0},
		{"Bring your goods in", "One by one, or all at once from a table.", "/goods", "Goods", has.Goods},
		{"Say what sending costs", "And which tax is in your prices, for each country you send to. Goods that are downloaded need no parcel.", "/rates", "Rates", has.Zones && has.Rates},
		{"Make your first page", "From a template with a checkout on it, a page of your own, or a plan.", "/pages/new", "A new page", has.Pages},
		{"Let buyers pay", "No payment gateway is connected, so pages with a checkout cannot go out yet. To try everything with test cards, start the program with CHRYSAGON_STANDINS=till,letterbox.", "", "", a.Ports.Payments != nil},
		{"Let mail go out", "No mail server is set, so nobody is sent a confirmation, and you no messages. CHRYSAGON_SMTP names one.", "", "", a.Ports.Post != nil},
	}
	if len(missing) > 0 {
		steps[0].Say += " Missing: " + strings.Join(missing, ", ") + "."
	}
	if !slices.ContainsFunc(steps, func(s FirstStep) bool { return !s.Done }) {
		steps = append(steps, FirstStep{"Publish", "Look at the page in the proof, then publish it at the top right.", "", "", false})
	}
	return steps, nil
}
