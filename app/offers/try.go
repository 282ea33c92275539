package offers

import (
	"context"
	"strings"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/core/facts"
	"chrysagon/core/offer"
	"chrysagon/core/refusal"
)

// Basket is what is put on the counter to try an offer.
type Basket struct {
	Items   []offer.Item
	Code    string
	Country string
}

// Tried is a basket on the counter, with the offer being typed beside
// everything else that holds.
type Tried struct {
	facts  facts.Facts
	items  []offer.Item
	full   factbook.OfferRow // as it would be kept
	public facts.Facts       // what everybody meets now
	used   int64             // orders that used the offer
	kept   bool              // it is kept already, and was not just begun
	Names  map[string]string // of the goods at hand, by ID
	Buyer  string            // whom it is priced for, where the offer means somebody
	Beside string            // what the offer being typed works beside, in words
}

// At prices the basket as of a moment. A fault is of the basket.
func (t Tried) At(moment time.Time) (offer.Quote, map[string]string) {
	q, err := t.facts.Quote(t.items, moment)
	if err != nil {
		return q, map[string]string{"basket": refusal.Sentence(err)}
	}
	return q, nil
}

// Zone is the store's.
func (t Tried) Zone() string { return t.facts.Store.Zone }

// Try reads, once, what a basket needs to be priced with an offer being typed, and what
// keeping the offer would change. An offer without a name yet is tried all the same.
func (offers *Offers) Try(ctx context.Context, in OfferInput, b Basket) (Tried, map[string]string, error) {
	var items []string
	for _, item := range b.Items {
		items = append(items, item.ProductID)
	}
	written, c, err := offers.about(ctx, in, b.Code, items)
	if err != nil {
		return Tried{}, nil, err
	}
	if in.Name == "" {
		in.Name = "This offer"
	}
	full, faults, err := offers.readOffer(in, written)
	if err != nil {
		return Tried{}, nil, err
	}
	names := map[string]string{}
	for _, p := range written.Products {
		names[p.ID] = p.Name
	}
	if len(faults) > 0 {
		return Tried{Names: names}, faults, nil
	}
	known := b.Items[:0:0]
	for _, item := range b.Items {
		if names[item.ProductID] != "" { // what is gone is not in the basket
			known = append(known, item)
		}
	}
	f := c.Basket(items)
	if b.Country != "" {
		f.Context.Country = b.Country
	}
	if b.Code != "" {
		f.Codes = []string{b.Code}
	}
	// The buyer at the counter is one the offer means: what is tried is the price.
	f.Context.FirstOrder = in.FirstOrder
	f.Context.Link, f.Context.Step = strings.TrimSpace(in.Link), in.Step
	bound, err := factbook.BoundOffers(offers.Store.On(ctx), []factbook.OfferRow{full}, &f)
	if err != nil {
		return Tried{}, nil, err
	}
	typed := bound[0]
	if in.Code != "" {
		typed.Codes = []offer.Code{{Code: in.Code}}
	}
	beside := typed.Combines(f.Offers)
	kept := f.Offers[:0:0]
	for _, o := range f.Offers {
		if o.ID == in.ID {
			typed.Created = o.Created
			continue
		}
		kept = append(kept, o)
	}
	f.Offers = append(kept, typed)
	return Tried{facts: f, items: known, Names: names, Buyer: meant(in, written), Beside: beside, full: full, public: c.Public(), used: written.Used, kept: in.ID != ""}, nil, nil
}

// about reads what an offer being typed speaks of, with all that is priced beside it.
func (offers *Offers) about(ctx context.Context, in OfferInput, code string, items []string) (known, factbook.Counter, error) {
	db := offers.Store.On(ctx)
	shop, err := offers.Store.Shop(ctx)
	if err != nil {
		return known{}, factbook.Counter{}, err
	}
	k := known{}
	if err := k.read(db, in); err != nil {
		return k, factbook.Counter{}, err
	}
	c, err := offers.Facts.Counter(db, shop, append(in.Named(), items...), code)
	if err != nil {
		return k, c, err
	}
	k.Store = c.Facts.Store
	for _, d := range c.Deadlines {
		k.Deadlines = append(k.Deadlines, factbook.DeadlineOf(d))
	}
	k.Products = c.Facts.Products
	return k, c, nil
}

// meant says whom an offer is for.
func meant(in OfferInput, c known) string {
	var is []string
	if in.FirstOrder {
		is = append(is, "buys for the first time")
	}
	if link := strings.TrimSpace(in.Link); link != "" {
		is = append(is, "came by the link "+link)
	}
	if c.StepPage != "" {
		is = append(is, "stands on "+c.StepPage)
	}
	if len(is) == 0 {
		return ""
	}
	return "For a buyer who " + strings.Join(is, " and ") + "."
}
