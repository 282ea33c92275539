package offers

import (
	"context"
	"fmt"
	"maps"

	"chrysagon/app/factbook"
	"chrysagon/core/deadline"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/store"
)

// PriceMove is what saving an offer does to the price of one of the goods.
type PriceMove struct {
	Name     string
	From, To money.Money
}

// Effect is what saving an offer changes, for whom.
type Effect struct {
	Moves []PriceMove // the first of them
	Count int         // goods whose price moves for everybody
	More  bool        // more goods were covered than were looked at
	Words []string
}

// effectAmong bounds how many goods are looked at while an offer is written.
const effectAmong = 500

// Effect says what saving an offer as typed would change for everybody.
func (offers *Offers) Effect(ctx context.Context, in OfferInput) (Effect, error) {
	var e Effect
	choices, err := offers.Choices(ctx, in.Goods...)
	if err != nil {
		return e, err
	}
	full, faults := offers.readOffer(in, choices)
	if len(faults) > 0 {
		return e, nil
	}
	shop, err := offers.Store.Shop(ctx)
	if err != nil {
		return e, err
	}
	now, db := offers.Store.Now(), offers.Store.On(ctx)
	f, err := offers.Prices.PublicOffers(db, shop)
	if err != nil {
		return e, err
	}
	after := f // with maps of its own: what is typed must not reach the facts as they are
	after.Bound, after.Deadlines = maps.Clone(f.Bound), maps.Clone(f.Deadlines)
	bound, err := factbook.BoundOffers(db, []factbook.OfferRow{full}, &after)
	if err != nil {
		return e, err
	}
	typed := bound[0]
	after.Offers = nil
	for _, o := range f.Offers {
		if o.ID != in.ID {
			after.Offers = append(after.Offers, o)
		}
	}
	if typed.Public() && !after.Deadlines[after.Bound[typed.ID]].Personal() {
		after.Offers = append(after.Offers, typed)
	}
	var rows []factbook.GoodsRow
	where, args := offers.Prices.Repriced(after, now, nil)
	if err := db.Raw(factbook.GoodsRows+" WHERE "+where+" ORDER BY p.name, v.id LIMIT ?", append(args, effectAmong)...).Scan(&rows).Error; err != nil {
		return e, fmt.Errorf("read the goods to price: %w", err)
	}
	e.More = len(rows) == effectAmong
	for _, r := range rows {
		p := r.Product(shop.Currency)
		was, err := f.PublicPrice(p, now)
		if err != nil {
			return e, err
		}
		is, err := after.PublicPrice(p, now)
		if err != nil {
			return e, err
		}
		if was == is {
			continue
		}
		if e.Count++; len(e.Moves) < 4 {
			e.Moves = append(e.Moves, PriceMove{p.Name, money.Of(was, shop.Currency), money.Of(is, shop.Currency)})
		}
	}
	return offers.effectWords(ctx, e, in.ID, typed, shop)
}

func (offers *Offers) effectWords(ctx context.Context, e Effect, id string, typed offer.Offer, shop store.Shop) (Effect, error) {
	now := offers.Store.Now()
	live := id != "" && typed.Holds(now)
	if !live || e.Count == 0 {
		return e, nil
	}
	grace := offers.Facts.StoreFacts(shop).Grace
	e.Words = append(e.Words, fmt.Sprintf("Whoever has the page open and pays by %s is charged the price they saw, if it is the lower one.", deadline.Short(now.Add(grace), shop.Zone)))
	var used int64
	if err := offers.Store.On(ctx).Raw("SELECT count(*) FROM offer_uses WHERE offer_id = ? AND held", id).Scan(&used).Error; err != nil {
		return e, err
	}
	if used > 0 {
		e.Words = append(e.Words, fmt.Sprintf("%d orders have used the offer already; nothing changes for them.", used))
	}
	return e, nil
}
