package publishing

import (
	"context"

	"chrysagon/app/drafts"
	"chrysagon/app/factbook"
	"chrysagon/app/pictures"
	"chrysagon/core/check"
	"chrysagon/core/facts"
	"chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/core/purpose"
	"chrysagon/core/route"
	"chrysagon/pieces"
	"chrysagon/pieces/all"
	"chrysagon/render"
)

// Check runs the launch check on a draft.
func (publisher *Publisher) Check(ctx context.Context, d drafts.Draft) ([]check.Finding, error) {
	f, err := publisher.Facts.DraftFacts(ctx, d.ID, publisher.Render.Registry.Schema().Names(d.Tree))
	if err != nil {
		return nil, err
	}
	return publisher.CheckBy(ctx, d, f, 0)
}

// CheckBy runs it by facts that were read already; firstView is the page's
// weight in bytes, 0 when it is not known.
func (publisher *Publisher) CheckBy(ctx context.Context, d drafts.Draft, f facts.Facts, firstView int) ([]check.Finding, error) {
	err := pictures.Weigh(publisher.Store.On(ctx), f.Pictures)
	if err != nil {
		return nil, err
	}
	p := publisher.CheckPage(d, f)
	p.FirstView = firstView
	if p.Taken, err = publisher.taken(ctx, d); err != nil {
		return nil, err
	}
	if p.Codes, err = publisher.failingCodes(ctx, d.Tree, f); err != nil {
		return nil, err
	}
	return check.Run(p), nil
}

// taken lists what an order can hold already when it comes to an upsell: what the
// campaign's sales pages sell and add, and what its other upsells do.
func (publisher *Publisher) taken(ctx context.Context, d drafts.Draft) (map[string]string, error) {
	if purpose.Of(d.Purpose).Step != route.UpsellAt {
		return nil, nil
	}
	drafts, err := publisher.Drafts.ReadDrafts(ctx, d.CampaignID)
	if err != nil {
		return nil, err
	}
	out, schema := map[string]string{}, publisher.Render.Registry.Schema()
	for _, other := range drafts {
		if step := purpose.Of(other.Purpose).Step; other.ID == d.ID || (step != route.UpsellAt && step != route.Sales) {
			continue
		}
		if id := schema.Sells(other.Tree, ""); id != "" {
			out[id] = other.Name
		}
		other.Tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
			if bump := p.Fields.Text("bump"); bump != "" {
				out[bump] = other.Name
			}
		})
	}
	return out, nil
}

// CheckPage is a draft as the launch check looks at it.
func (publisher *Publisher) CheckPage(d drafts.Draft, f facts.Facts) check.Page {
	in := render.Input{Page: d.Tree, Facts: f, Moment: publisher.Store.Now(), Layout: d.Layout, Place: pieces.Place{Address: d.Address, Upsell: purpose.Of(d.Purpose).Step == route.UpsellAt}, Proof: true}
	return check.Page{
		Purpose: d.Purpose, Address: d.Address, Title: d.Title, Description: d.Description,
		Manuscript: publisher.Render.Registry.Schema().Follow(d.Tree), Links: publisher.Render.Registry.Schema().Links(d.Tree), Layout: d.Layout, Facts: f, Moment: publisher.Store.Now(), Blank: publisher.Render.Blank(in), Template: all.Words(),
	}
}

// failingCodes tries every code that a page shows on what the page sells, and
// says why those that do not work do not. On a page that sells nothing by
// itself they are tried on all of its goods.
func (publisher *Publisher) failingCodes(ctx context.Context, tree manuscript.Page, f facts.Facts) (map[string]string, error) {
	out := map[string]string{}
	var cart []offer.Item
	tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if code := p.Fields.Text("code"); p.Kind == "code" && code != "" {
			out[code] = "There is nothing on this page that it could be used for."
		}
		if _, sold := f.Products[p.Fields.Text("product")]; sold && p.Kind == "checkout" {
			cart = append(cart, offer.Item{ProductID: p.Fields.Text("product"), Quantity: 1, Via: offer.Page})
		}
	})
	if len(out) == 0 {
		return nil, nil
	}
	if len(cart) == 0 {
		for id := range f.Products {
			cart = append(cart, offer.Item{ProductID: id, Quantity: 1, Via: offer.Page})
		}
	}
	for code := range out {
		with := f
		with.Codes, with.Offers = []string{code}, append([]offer.Offer(nil), f.Offers...)
		if err := factbook.ReadCodes(publisher.Store.On(ctx), &with); err != nil {
			return nil, err
		}
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
	return out, nil
}
