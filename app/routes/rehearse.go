package routes

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"chrysagon/app/drafts"
	"chrysagon/app/factbook"
	"chrysagon/core/address"
	"chrysagon/core/facts"
	"chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/core/rehearsal"
	"chrysagon/core/route"
	"chrysagon/pieces"
	"chrysagon/pieces/checkout"
	"chrysagon/store"
)

// Rehearsal is what invented visitors did on a map, and what was to be expected.
type Rehearsal struct {
	rehearsal.Output
	Expected rehearsal.Expected
	Watched  []rehearsal.Footfall // of the first visitors
	Seed     uint64
}

// watched is how many visitors can be watched.
const watched = 60

// Rehearse lets visitors walk the map as it is drafted: at the rates that were measured,
// or that are tried, by the real rules, at the prices that offers make of each cart.
func (k *Keeper) Rehearse(ctx context.Context, m Map, w WhatIf, visitors int, seed uint64) (Rehearsal, error) {
	in := rehearsal.Input{Funnel: m.Funnel, About: m.About}
	for _, s := range m.Funnel.Steps {
		done := m.Figures.Steps[s.ID]
		left := 1.0
		for _, o := range m.outcomes(s) {
			rate := 0.0
			if percent, byHand := w.Rates[RateKey(s.ID, o)]; byHand {
				rate = percent.Shift(-2).InexactFloat64()
			} else if done.Visitors > 0 {
				rate = float64(done.Outcomes[o]) / float64(done.Visitors)
			}
			rate = min(rate, left)
			left -= rate
			in.Rates = append(in.Rates, rehearsal.Rate{Step: s.ID, Outcome: o, Rate: rate})
		}
	}
	m.who(&in)
	if err := k.buyers(ctx, m, &in); err != nil {
		return Rehearsal{}, err
	}
	k.prices(ctx, m, w, &in)
	out := Rehearsal{Seed: seed}
	var err error
	if out.Expected, err = rehearsal.Expect(in); err != nil {
		return out, err
	}
	out.Output, err = rehearsal.Walk(in, visitors, seed, func(f rehearsal.Footfall) {
		if f.Visitor < watched {
			out.Watched = append(out.Watched, f)
		}
	})
	return out, err
}

// who is where visitors come in, and by which source.
func (m Map) who(in *rehearsal.Input) {
	add := func(list []rehearsal.Share, name string, n int64) []rehearsal.Share {
		if i := slices.IndexFunc(list, func(s rehearsal.Share) bool { return s.Of == name }); i >= 0 {
			list[i].Share += float64(n)
			return list
		}
		return append(list, rehearsal.Share{Of: name, Share: float64(n)})
	}
	for _, c := range m.Figures.Came {
		if _, there := m.Funnel.Step(c.Landing); there {
			in.Comes = add(in.Comes, c.Landing, c.Visitors)
		}
		in.Who.Sources = add(in.Who.Sources, c.Source, c.Visitors)
	}
	if len(in.Comes) == 0 && len(m.Funnel.Steps) > 0 {
		in.Comes = []rehearsal.Share{{Of: m.Funnel.Steps[0].ID, Share: 1}}
	}
}

// buyers is what the campaign's buyers were like: from where, whether they had ordered
// before, and how many took the bump.
func (k *Keeper) buyers(ctx context.Context, m Map, in *rehearsal.Input) error {
	var row struct {
		Orders, Again, Bump float64
	}
	db := k.Store.On(ctx)
	err := db.Raw(`SELECT count(*) AS orders, count(*) FILTER (WHERE EXISTS (SELECT FROM orders b WHERE b.state = 'paid' AND lower(b.email) = lower(o.email) AND b.paid_at < o.paid_at)) AS again,
		count(*) FILTER (WHERE EXISTS (SELECT FROM order_lines l WHERE l.order_id = o.id AND l.via = 'bump')) AS bump
		FROM orders o WHERE o.campaign_id = ? AND o.state = 'paid'`, m.Campaign.ID).Scan(&row).Error
	if err != nil {
		return fmt.Errorf("read what buyers were like: %w", err)
	}
	if row.Orders > 0 {
		in.Who.Again, in.Who.Bump = row.Again/row.Orders, row.Bump/row.Orders
	}
	var places []struct {
		Country string
		N       float64
	}
	err = db.Raw(`SELECT coalesce(address->>'country', '') AS country, count(*) AS n FROM orders WHERE campaign_id = ? AND state = 'paid' GROUP BY 1 ORDER BY 2 DESC, 1 LIMIT 12`, m.Campaign.ID).Scan(&places).Error
	if err != nil {
		return fmt.Errorf("read where buyers were: %w", err)
	}
	for _, p := range places {
		if code := address.Code(p.Country); code != "" {
			in.Who.Countries = append(in.Who.Countries, rehearsal.Share{Of: code, Share: p.N})
		}
	}
	if len(in.Who.Countries) == 0 {
		shop, err := k.Store.Shop(ctx)
		if err != nil {
			return err
		}
		in.Who.Countries = []rehearsal.Share{{Of: shop.Country, Share: 1}}
	}
	return nil
}

// prices are those that offers make of a cart on its step, at a price that is tried
// its difference on top.
func (k *Keeper) prices(ctx context.Context, m Map, w WhatIf, in *rehearsal.Input) {
	in.Price = func(s rehearsal.Sale) (rehearsal.Worth, error) {
		step, _ := m.Funnel.Step(s.Step)
		i := slices.IndexFunc(m.Drafts, func(d drafts.Draft) bool { return d.ID == step.PageID })
		if i < 0 || s.Goods[0] == "" {
			return rehearsal.Worth{Revenue: m.About[s.Step].Price}, nil
		}
		who := factbook.Buyer{Step: s.Step, Country: s.Country, Joined: step.Kind.Offers()}
		f, _, err := k.Facts.Prices(ctx, k.Drafts.Render.Registry.Schema().Names(m.Drafts[i].Shown()), who)
		if err != nil {
			return rehearsal.Worth{}, err
		}
		cart := k.cart(m.Drafts[i].Shown(), f, step, s.Goods)
		if len(cart) == 0 {
			return rehearsal.Worth{}, nil
		}
		q, err := f.Quote(cart, k.Store.Now())
		if err != nil {
			return rehearsal.Worth{}, fmt.Errorf("quote a cart of “%s”: %w", step.Name, err)
		}
		worth := rehearsal.Worth{Revenue: q.Total.Minor}
		if q.Margin != nil {
			worth.Margin = q.Margin.Kept.Minor
		}
		if tried, is := w.Prices[s.Step]; is {
			off := tried - m.About[s.Step].Price
			worth.Revenue, worth.Margin = worth.Revenue+off, worth.Margin+off
		}
		return worth, nil
	}
}

// Settings are what holds for all maps of the store.
type Settings struct {
	Minutes int
	Hosts   []string
}

// Set keeps them.
func (k *Keeper) Set(ctx context.Context, s Settings) error {
	return k.Store.On(ctx).Model(&store.Shop{}).Where("id = 1").Updates(map[string]any{"left_minutes": s.Minutes, "outside_hosts": strings.Join(s.Hosts, "\n")}).Error
}

// cart is what is bought on a step: of a checkout that lets choose, what stands chosen
// first, with the bumps among the goods; else what the step adds to an order.
func (k *Keeper) cart(tree manuscript.Page, f facts.Facts, step route.Step, goods []string) []offer.Item {
	var cart []offer.Item
	if step.Kind.Offers() {
		if _, there := f.Products[goods[0]]; there {
			cart = []offer.Item{{ProductID: goods[0], Quantity: 1, Via: offer.Upsell}}
		}
		return cart
	}
	tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if p.Kind != checkout.Kind.Name || cart != nil {
			return
		}
		sale, ok := checkout.Resolve(&pieces.Context{Facts: f, Moment: k.Store.Now()}, p)
		if !ok {
			return
		}
		chosen, _ := sale.Read(nil)
		for _, b := range sale.Bumps {
			if slices.Contains(goods[1:], b.Product.ID) {
				chosen.Bumps = append(chosen.Bumps, b.Number)
			}
		}
		cart = sale.Cart(chosen)
	})
	if _, there := f.Products[goods[0]]; there && cart == nil { // put in from a list
		cart = []offer.Item{{ProductID: goods[0], Quantity: 1, Via: offer.Page}}
	}
	return cart
}
