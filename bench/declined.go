package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/url"

	"chrysagon/app"
	"chrysagon/app/offers"
	"chrysagon/core/origin"
	"chrysagon/store"

	"github.com/valyala/fasthttp"
)

const (
	declinedBuyers = 80
	codeUses       = 100
)

// declined holds checkouts of which two of five cards are declined against the
// same without declines: with a bump, and a code good for so many orders, whose
// uses are taken and given back. Any answer of 500 ends it, and a limit that is
// not met exactly.
func declined(ctx context.Context, a *app.App, s *store.Store, address string, o origin.Origins) error {
	var rates [2]float64
	for run, refuses := range []func(int) bool{func(int) bool { return false }, func(i int) bool { return i%5 < 2 }} {
		code := fmt.Sprintf("FROST-%d", run)
		id, faults, err := a.Offers.SaveOffer(ctx, offers.OfferInput{Name: code, Kind: "order_amount_off", Members: map[string]string{"amount": "5.00"}, Covers: "all", Code: code, MaxUses: fmt.Sprint(codeUses)})
		if err != nil || len(faults) > 0 {
			return fmt.Errorf("an offer with a code: %v %w", faults, errors.Join(err))
		}
		if rates[run], err = checkouts(address, o, code, run, refuses); err != nil {
			return err
		}
		var uses int
		if err := s.DB.WithContext(ctx).Raw("SELECT count(*) FROM offer_uses u JOIN payments p ON p.id = u.payment_id WHERE u.offer_id = ? AND u.held AND p.state = 'charged'", id).Scan(&uses).Error; err != nil || uses != codeUses {
			return fmt.Errorf("a code for %d orders was used for %d: %w", codeUses, uses, errors.Join(err))
		}
	}
	report("answered checkouts, 80 buyers, a bump, a code with 100 uses, 40 % declined", "%.0f/s; without declines %.0f/s; ratio %.2f; the code used 100 times, no 500", "ratio at least 0.7", rates[1], rates[0], rates[1]/rates[0])
	return nil
}

// checkouts is how many checkouts are answered each second, by an order or a
// declined card.
func checkouts(address string, o origin.Origins, code string, run int, refuses func(int) bool) (float64, error) {
	c := client(address)
	tokens, err := cardTokens(c, o.Till, 4000, refuses)
	if err != nil {
		return 0, err
	}
	return rush(declinedBuyers, tokens, func(token string, n int64) (bool, error) {
		form := buyerForm()
		form.Set("bump", "1")
		form.Set("code", code)
		form.Set("token", token)
		return checkoutOnce(c, o.Shop, form, fmt.Sprintf("%d%025d", run+1, n))
	})
}

// checkoutOnce looks at the total and pays it. It tells whether that came to an
// order or a declined card, and not to another look at the total.
func checkoutOnce(c *fasthttp.Client, shop string, form url.Values, visitor string) (bool, error) {
	var quote struct {
		Seen string `json:"seen"`
	}
	body, err := post(c, shop+"/night-flight/quote", form, visitor)
	if err != nil {
		return false, err
	}
	if err := json.Unmarshal(body, &quote); err != nil {
		return false, fmt.Errorf("a quote: %s: %w", body, err)
	}
	form.Set("seen", quote.Seen)
	body, err = post(c, shop+"/night-flight/checkout", form, visitor)
	if err != nil {
		return false, err
	}
	return bytes.Contains(body, []byte(`"go":"/quiver-bag`)) || bytes.Contains(body, []byte(`"card":`)), nil
}
