package publishing

import (
	"context"
	"fmt"
	"maps"
	"slices"

	"chrysagon/app/drafts"
	"chrysagon/app/factbook"
	"chrysagon/core/check"
	"chrysagon/core/facts"
	"chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/core/purpose"
	"chrysagon/core/route"
	"chrysagon/pieces"
	"chrysagon/pieces/all"
	"chrysagon/render"
	"chrysagon/store"
)

// CheckBy runs the launch check on a draft, by facts that were read already; firstView
// is the page's weight in bytes, 0 when it is not known.
func (publisher *Publisher) CheckBy(ctx context.Context, d drafts.Draft, f facts.Facts, firstView int) ([]check.Finding, error) {
	var others []drafts.Draft
	var err error
	if purpose.Of(d.Purpose).Step.Offers() {
		if others, err = publisher.Drafts.ReadDrafts(ctx, d.CampaignID); err != nil {
			return nil, err
		}
	}
	codes, err := publisher.codes(ctx, d)
	if err != nil {
		return nil, err
	}
	return publisher.check(d, f, firstView, others, codes), nil
}

// Check reads a draft's facts and runs the launch check on it.
func (publisher *Publisher) Check(ctx context.Context, d drafts.Draft) ([]check.Finding, error) {
	f, err := publisher.Facts.DraftFacts(ctx, d.ID, publisher.Render.Registry.Schema().Names(d.Shown()))
	if err != nil {
		return nil, err
	}
	return publisher.CheckBy(ctx, d, f, 0)
}

// checkAll runs it on all drafts of a campaign, by as many statements for many as for
// one, and answers with the facts of each: of these drafts, and of shared ones.
func (publisher *Publisher) checkAll(ctx context.Context, list, shared []drafts.Draft) (map[string][]check.Finding, []facts.Facts, error) {
	found := map[string][]check.Finding{}
	if len(list)+len(shared) == 0 {
		return found, nil, nil
	}
	read, err := publisher.factsOf(ctx, append(slices.Clone(list), shared...))
	if err != nil {
		return nil, nil, err
	}
	codes, err := publisher.codes(ctx, list...)
	if err != nil {
		return nil, nil, err
	}
	for i, d := range list {
		found[d.ID] = append(publisher.check(d, read[i], 0, list, codes), publisher.unrouted(d)...)
		if d.Purpose == purpose.Product {
			others, err := publisher.alsoStanding(ctx, d)
			if err != nil {
				return nil, nil, err
			}
			found[d.ID] = append(found[d.ID], others...)
		}
	}
	return found, read, nil
}

func (publisher *Publisher) check(d drafts.Draft, f facts.Facts, firstView int, others []drafts.Draft, codes []store.Code) []check.Finding {
	p := publisher.CheckPage(d, f)
	p.FirstView = max(p.FirstView, firstView)
	p.Taken = publisher.taken(d, others)
	p.Codes = publisher.failingCodes(d.Tree, f, codes)
	return check.Run(p)
}

// codes reads the codes that drafts show.
func (publisher *Publisher) codes(ctx context.Context, list ...drafts.Draft) ([]store.Code, error) {
	var shown []string
	for _, d := range list {
		for code := range publisher.shownCodes(d.Tree) {
			shown = append(shown, offer.Normal(code))
		}
	}
	var rows []store.Code
	if len(shown) == 0 {
		return nil, nil
	}
	if err := publisher.Store.On(ctx).Where("normal IN ?", shown).Find(&rows).Error; err != nil {
		return nil, fmt.Errorf("read the codes: %w", err)
	}
	return rows, nil
}

// shownCodes are the codes that a page shows.
func (publisher *Publisher) shownCodes(tree manuscript.Page) map[string]bool {
	out, schema := map[string]bool{}, publisher.Render.Registry.Schema()
	tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if code := p.Fields.Text("code"); schema[p.Kind].Traits.Code && code != "" {
			out[code] = true
		}
	})
	return out
}

// taken lists what an order can hold already when it comes to an upsell: what the
// campaign's sales pages sell and add, and what its other upsells do.
func (publisher *Publisher) taken(d drafts.Draft, others []drafts.Draft) map[string]string {
	if !purpose.Of(d.Purpose).Step.Offers() {
		return nil
	}
	out, schema := map[string]string{}, publisher.Render.Registry.Schema()
	for _, other := range others {
		if step := purpose.Of(other.Purpose).Step; other.ID == d.ID || (!step.Offers() && step != route.Sales) {
			continue
		}
		if id := schema.Sells(other.Tree, ""); id != "" {
			out[id] = other.Name
		}
		other.Tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
			_, bumps := schema.Buys(p)
			for _, id := range bumps {
				out[id] = other.Name
			}
		})
	}
	return out
}

// CheckPage is a draft as the launch check looks at it.
func (publisher *Publisher) CheckPage(d drafts.Draft, f facts.Facts) check.Page {
	in := render.Input{Page: d.Shown(), Facts: f, Moment: publisher.Store.Now(), Layout: d.Layout, Place: pieces.Place{Address: d.At(), Upsell: purpose.Of(d.Purpose).Step.Offers()}, Proof: true}
	size := 0
	if purpose.Of(d.Purpose).Mail {
		if l, err := publisher.Render.Letter(in, render.Addressed{}); err == nil {
			size = len(l.HTML)
		}
	}
	return check.Page{
		FirstView: size, Purpose: d.Purpose, Address: d.At(), Title: d.Good.In(d.Title), Description: d.Good.In(d.Description),
		Schema: publisher.Render.Registry.Schema(), Manuscript: publisher.Render.Registry.Schema().Follow(d.Shown()), Links: publisher.Render.Registry.Schema().Links(d.Shown()), Layout: d.Layout, Facts: f, Moment: publisher.Store.Now(), Blank: publisher.Render.Blank(in), Template: all.Words(),
		Mailable: publisher.Render.Registry.InLetters(),
	}
}

// failingCodes tries every code that a page shows on what the page sells, and
// says why those that do not work do not. On a page that sells nothing by
// itself they are tried on all of its goods.
func (publisher *Publisher) failingCodes(tree manuscript.Page, f facts.Facts, codes []store.Code) map[string]string {
	out := map[string]string{}
	for code := range publisher.shownCodes(tree) {
		out[code] = "There is nothing on this page that it could be used for."
	}
	if len(out) == 0 {
		return nil
	}
	var cart []offer.Item
	tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if schema := publisher.Render.Registry.Schema(); schema[p.Kind].Traits.Takes == manuscript.TakesOrder {
			sells, _ := schema.Buys(p)
			for _, id := range sells {
				if _, sold := f.Products[id]; sold && !slices.ContainsFunc(cart, func(i offer.Item) bool { return i.ProductID == id }) {
					cart = append(cart, offer.Item{ProductID: id, Quantity: 1, Via: offer.Page})
				}
			}
		}
	})
	if len(cart) == 0 {
		for id := range f.Products {
			cart = append(cart, offer.Item{ProductID: id, Quantity: 1, Via: offer.Page})
		}
	}
	for code := range maps.Clone(out) {
		with := f
		with.Codes, with.Offers = []string{code}, append([]offer.Offer(nil), f.Offers...)
		factbook.Attach(codes, &with)
		q, err := with.Quote(cart, publisher.Store.Now())
		if err != nil {
			continue // its own finding says so
		}
		for _, answer := range q.Codes {
			if out[code] = answer.Say; answer.Applied {
				delete(out, code)
			}
		}
	}
	return out
}
