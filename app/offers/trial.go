package offers

import (
	"context"
	"strings"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/core/refusal"
)

func namesOf(items []offer.Item) manuscript.Names {
	var n manuscript.Names
	for _, item := range items {
		n.Products = append(n.Products, item.ProductID)
	}
	return n
}

// Basket is what is put on the counter to try an offer.
type Basket struct {
	Items   []offer.Item
	Code    string
	Country string
}

// Trial is a basket on the counter, with the offer being typed beside
// everything else that holds.
type Trial struct {
	facts  facts.Facts
	items  []offer.Item
	Buyer  string // whom it is priced for, where the offer means somebody
	Beside string // what the offer being typed works beside, in words
}

// At prices the basket as of a moment. A fault is of the basket.
func (t Trial) At(moment time.Time) (offer.Quote, map[string]string) {
	q, err := t.facts.Quote(t.items, moment)
	if err != nil {
		return q, map[string]string{"basket": refusal.Sentence(err)}
	}
	return q, nil
}

// Zone is the store's.
func (t Trial) Zone() string { return t.facts.Store.Zone }

// Try reads what a basket needs to be priced with an offer being typed. An
// offer without a name yet is tried all the same.
func (offers *Offers) Try(ctx context.Context, in OfferInput, b Basket) (Trial, map[string]string, error) {
	named := append([]string{in.Gift}, in.Goods...)
	for _, item := range b.Items {
		named = append(named, item.ProductID)
	}
	choices, err := offers.Choices(ctx, named...)
	if err != nil {
		return Trial{}, nil, err
	}
	if in.Name == "" {
		in.Name = "This offer"
	}
	full, faults := offers.readOffer(in, choices)
	if len(faults) > 0 {
		return Trial{}, faults, nil
	}
	f, err := offers.counter(ctx, b, choices)
	if err != nil {
		return Trial{}, nil, err
	}
	// The buyer at the counter is one the offer means: what is tried is the price.
	f.Context.FirstOrder = in.FirstOrder
	f.Context.Link, f.Context.Step = strings.TrimSpace(in.Link), in.Step
	bound, err := factbook.BoundOffers(offers.Store.On(ctx), []factbook.OfferRow{full}, &f)
	if err != nil {
		return Trial{}, nil, err
	}
	typed := bound[0]
	if in.Code != "" {
		typed.Codes = []offer.Code{{Code: in.Code}}
	}
	beside := typed.Combines(f.Offers)
	kept := f.Offers[:0]
	for _, o := range f.Offers {
		if o.ID == in.ID {
			typed.Created = o.Created
			continue
		}
		kept = append(kept, o)
	}
	f.Offers = append(kept, typed)
	return Trial{facts: f, items: b.Items, Buyer: meant(in, choices), Beside: beside}, nil, nil
}

// counter reads the facts for a basket.
func (offers *Offers) counter(ctx context.Context, b Basket, c Choices) (facts.Facts, error) {
	shop, err := offers.Store.Shop(ctx)
	if err != nil {
		return facts.Facts{}, err
	}
	names := namesOf(b.Items)
	f, err := offers.Facts.ReadPrices(offers.Store.On(ctx), shop, names, factbook.Buyer{Code: b.Code, Country: b.Country})
	if err != nil {
		return f, err
	}
	if f.Products == nil {
		f.Products = map[string]goods.Product{}
	}
	for _, p := range c.Products {
		if _, known := f.Products[p.ID]; !known {
			f.Products[p.ID] = p
		}
	}
	return f, nil
}

// meant says whom an offer is for.
func meant(in OfferInput, c Choices) string {
	var is []string
	if in.FirstOrder {
		is = append(is, "buys for the first time")
	}
	if link := strings.TrimSpace(in.Link); link != "" {
		is = append(is, "came by the link "+link)
	}
	for _, s := range c.Steps {
		if s.ID == in.Step {
			is = append(is, "stands on "+s.Page)
		}
	}
	if len(is) == 0 {
		return ""
	}
	return "For a buyer who " + strings.Join(is, " and ") + "."
}
