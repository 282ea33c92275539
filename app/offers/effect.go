package offers

import (
	"context"
	"fmt"
	"maps"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/core/deadline"
	"chrysagon/core/money"
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

// Effect says what saving the offer that is tried would change for everybody.
func (offers *Offers) Effect(ctx context.Context, t Tried) (Effect, error) {
	var e Effect
	now, db, f := offers.Store.Now(), offers.Store.On(ctx), t.public
	after := f // with maps of its own: what is typed must not reach the facts as they are
	after.Bound, after.Deadlines = maps.Clone(f.Bound), maps.Clone(f.Deadlines)
	bound, err := factbook.BoundOffers(db, []factbook.OfferRow{t.full}, &after)
	if err != nil {
		return e, err
	}
	typed := bound[0]
	after.Offers = nil
	for _, o := range f.Offers {
		if o.ID != t.full.ID {
			after.Offers = append(after.Offers, o)
		}
	}
	if factbook.Everybodys(typed, after) {
		after.Offers = append(after.Offers, typed)
	}
	var rows []factbook.GoodsRow
	where, args := offers.Prices.Repriced(after, now, nil)
	if err := db.Raw(factbook.GoodsRows+" WHERE "+where+" ORDER BY p.name, v.id LIMIT ?", append(args, effectAmong)...).Scan(&rows).Error; err != nil {
		return e, fmt.Errorf("read the goods to price: %w", err)
	}
	e.More = len(rows) == effectAmong
	currency := f.Store.Currency
	for _, r := range rows {
		p := r.Product(currency)
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
			e.Moves = append(e.Moves, PriceMove{p.Name, money.Of(was, currency), money.Of(is, currency)})
		}
	}
	if e.Count > 0 && t.kept && typed.Holds(now) {
		e.Words = t.effectWords(now)
	}
	return e, nil
}

// effectWords say whom a change of an offer that holds now reaches.
func (t Tried) effectWords(now time.Time) []string {
	words := []string{fmt.Sprintf("Whoever has the page open and pays by %s is charged the price they saw, if it is the lower one.", deadline.Short(now.Add(t.facts.Store.Grace), t.facts.Store.Zone))}
	if t.used > 0 {
		words = append(words, fmt.Sprintf("%d orders have used the offer already; nothing changes for them.", t.used))
	}
	return words
}
