package studio

import (
	"strings"
	"time"

	"chrysagon/app"
	"chrysagon/core/deadline"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/store"

	"github.com/gofiber/fiber/v3"
)

// offerRow is an offer as the Offers place lists it.
type offerRow struct {
	store.Offer
	Does, Product, Window, Status string
	Value, Starts                 string
	EndsAt                        string
}

func rowOf(o store.Offer, shelf app.Shelf, now time.Time) offerRow {
	r := offerRow{Offer: o, Product: shelf.ProductName(o.ProductID)}
	rule := offer.Offer{Kind: offer.Kind(o.Kind), Percent: o.Percent, Amount: money.Of(o.AmountMinor, shelf.Store.Currency)}
	r.Does = rule.Describe()
	r.Value = o.Percent.String()
	if rule.Kind == offer.AmountOff {
		r.Value = rule.Amount.Plain()
	}
	if o.StartsAt != nil {
		rule.Starts = *o.StartsAt
		r.Window = "from " + deadline.Short(*o.StartsAt, shelf.Store.Zone)
		loc, err := time.LoadLocation(shelf.Store.Zone)
		if err == nil {
			r.Starts = o.StartsAt.In(loc).Format(deadline.LocalLayout)
		}
	}
	for _, d := range shelf.Deadlines {
		if o.DeadlineID != nil && *o.DeadlineID == d.ID {
			rule.Ends = d.At
			r.EndsAt = d.Name
			r.Window = strings.TrimSpace(r.Window + " until " + d.Name + ", " + deadline.Short(d.At, d.Zone))
		}
	}
	switch {
	case rule.Holds(now):
		r.Status = "holds now"
	case now.Before(rule.Starts):
		r.Status = "to come"
	default:
		r.Status = "ended"
	}
	if r.Window == "" {
		r.Window = "without end"
	}
	return r
}

func rows(list []store.Offer, shelf app.Shelf, now time.Time) []offerRow {
	out := make([]offerRow, len(list))
	for i, o := range list {
		out[i] = rowOf(o, shelf, now)
	}
	return out
}

// offersOn lists the offers of one product, for its slip.
func offersOn(product string, shelf app.Shelf, now time.Time) []offerRow {
	var out []offerRow
	for _, o := range shelf.Offers {
		if o.ProductID == product {
			out = append(out, rowOf(o, shelf, now))
		}
	}
	return out
}

// sharing is a deadline with what shares it.
type sharing struct {
	deadline.Deadline
	Offers []string
}

func shared(id string, shelf app.Shelf) *sharing {
	for _, d := range shelf.Deadlines {
		if d.ID == id {
			s := &sharing{Deadline: d}
			for _, o := range shelf.Offers {
				if o.DeadlineID != nil && *o.DeadlineID == id {
					s.Offers = append(s.Offers, o.Name)
				}
			}
			return s
		}
	}
	return nil
}

func (s *Studio) offersPlace(c fiber.Ctx) error {
	values, err := s.offersValues(c, strings.Clone(c.Query("offer")))
	if err != nil {
		return err
	}
	return s.place(c, "offers", "Offers", values)
}

func (s *Studio) offersValues(c fiber.Ctx, chosen string) (map[string]any, error) {
	shelf, err := s.App.Shelf(c)
	if err != nil {
		return nil, err
	}
	now := s.App.Now()
	list := rows(shelf.Offers, shelf, now)
	form := offerForm{Kind: "percent_off"}
	for _, r := range list {
		if r.ID == chosen || (chosen == "" && form.ID == "") {
			form = offerForm{ID: r.ID, Name: r.Name, Kind: r.Kind, Value: r.Value, ProductID: r.ProductID, Only: r.OnlyVia, Starts: r.Starts}
			if r.DeadlineID != nil {
				form.DeadlineID = *r.DeadlineID
			}
		}
	}
	var ends []*sharing
	for _, d := range shelf.Deadlines {
		ends = append(ends, shared(d.ID, shelf))
	}
	receipt, err := s.receiptOf(c, form)
	return map[string]any{
		"Title": "Offers", "Offers": list, "Form": form, "Shelf": shelf, "Deadlines": ends, "Receipt": receipt, "CSRF": who(c).CSRF,
	}, err
}

type offerForm app.OfferInput

func formOf(value func(string) string) offerForm {
	get := func(name string) string { return strings.TrimSpace(strings.Clone(value(name))) }
	return offerForm{
		ID: get("id"), Name: get("name"), Kind: get("kind"), Value: strings.TrimSuffix(get("value"), "%"), ProductID: get("product"),
		Only: get("only"), Starts: get("starts"), DeadlineID: get("deadline"),
	}
}

// receiptView is the till receipt that computes while the offer is written.
type receiptView struct {
	Quote  offer.Quote
	After  *offer.Quote // as of the offer's end
	Faults map[string]string
	Ends   string
}

func (s *Studio) receiptOf(c fiber.Ctx, f offerForm) (receiptView, error) {
	var v receiptView
	var err error
	now := s.App.Now()
	if v.Quote, v.Faults, err = s.App.Example(c, app.OfferInput(f), now); err != nil || v.Faults != nil {
		return v, err
	}
	if end := v.Quote.NextChange; !end.IsZero() {
		after, _, err := s.App.Example(c, app.OfferInput(f), end)
		if err != nil {
			return v, err
		}
		shop, err := s.App.Shop(c)
		if err != nil {
			return v, err
		}
		v.After, v.Ends = &after, deadline.Written(end, shop.Zone)
	}
	return v, nil
}

func (s *Studio) receipt(c fiber.Ctx) error {
	f := formOf(func(name string) string { return c.Query(name) })
	v, err := s.receiptOf(c, f)
	if err != nil {
		return err
	}
	return s.render(c, fiber.StatusOK, "receipt", map[string]any{"Receipt": v})
}

func (s *Studio) saveOffer(c fiber.Ctx) error {
	f := formOf(func(name string) string { return c.FormValue(name) })
	id, faults, err := s.App.SaveOffer(c, app.OfferInput(f))
	if err != nil {
		return err
	}
	values, err := s.offersValues(c, id)
	if err != nil {
		return err
	}
	if len(faults) > 0 {
		values["Form"], values["Faults"] = f, faults
	} else {
		values["Saved"] = "Saved. Every page, price and checkout that shows it follows."
	}
	return s.render(c, fiber.StatusOK, "offers-body", values)
}

// saveDeadline moves a deadline; whoever shares it follows.
func (s *Studio) saveDeadline(c fiber.Ctx) error {
	get := func(name string) string { return strings.TrimSpace(strings.Clone(c.FormValue(name))) }
	id, name, at := get("id"), get("name"), get("at")
	newID, faults, err := s.App.SaveDeadline(c, id, name, at)
	if err != nil {
		return err
	}
	shelf, err := s.App.Shelf(c)
	if err != nil {
		return err
	}
	values := map[string]any{"Faults": faults, "TypedName": name, "TypedAt": at, "Saved": len(faults) == 0, "Zone": shelf.Store.Zone}
	if len(faults) > 0 {
		newID = id
	} else {
		c.Set("HX-Trigger", "deadline-moved")
	}
	values["Deadline"] = shared(newID, shelf)
	return s.render(c, fiber.StatusOK, "deadline-form", values)
}
