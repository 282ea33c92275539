package publishing

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"unicode"

	"chrysagon/app/drafts"
	"chrysagon/app/factbook"
	"chrysagon/core/check"
	"chrysagon/core/facts"
	"chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/core/purpose"
	"chrysagon/core/route"
	"chrysagon/core/route/fault"
	"chrysagon/core/words"
	"chrysagon/pieces/checkout"
	"chrysagon/store"
)

// boundOffer is an offer that holds on one step.
type boundOffer struct{ Name, StepID string }

func boundTo(campaignID string, into *[]boundOffer) store.Part {
	return store.Part{SQL: `SELECT o.name, s.id AS step_id FROM offers o JOIN steps s ON s.id = o.detail->>'step'
		WHERE s.campaign_id = ? AND o.ended_at IS NULL ORDER BY o.created_at, o.id`, Args: []any{campaignID}, Into: into}
}

func linksInto(campaignID string, into *[]struct{ StepID string }) store.Part {
	return store.Part{SQL: "SELECT DISTINCT step_id FROM links WHERE campaign_id = ? AND step_id IS NOT NULL", Args: []any{campaignID}, Into: into}
}

// prove runs the launch check on all drafts of a campaign, and proves its paths.
func (publisher *Publisher) prove(ctx context.Context, s *State, bound []boundOffer, linked []struct{ StepID string }) error {
	shared, err := publisher.shared(ctx, s)
	if err != nil {
		return err
	}
	var known []facts.Facts
	if s.Findings, known, err = publisher.checkAll(ctx, s.Drafts, shared); err != nil {
		return err
	}
	if len(s.Funnel.Steps) == 0 && len(s.Drafts) > 0 {
		return nil // pages that stand for themselves need no funnel
	}
	in := fault.Input{Funnel: s.Funnel, Goods: map[string]string{}}
	for _, l := range linked {
		in.Linked = append(in.Linked, l.StepID)
	}
	for _, b := range bound {
		in.Bound = append(in.Bound, fault.Bound{Offer: b.Name, Steps: []string{b.StepID}})
	}
	in.About = publisher.about(s.Funnel, append(slices.Clone(s.Drafts), shared...), known, in.Goods)
	s.About, s.Goods = in.About, in.Goods
	s.Faults = fault.Find(in)
	return nil
}

// shared are the pages of other campaigns that are steps in this one.
func (publisher *Publisher) shared(ctx context.Context, s *State) ([]drafts.Draft, error) {
	var ids []string
	for _, step := range s.Funnel.Steps {
		if step.PageID != "" && !slices.ContainsFunc(s.Drafts, func(d drafts.Draft) bool { return d.ID == step.PageID }) {
			ids = append(ids, step.PageID)
		}
	}
	if len(ids) == 0 {
		return nil, nil
	}
	var rows []store.Page
	if err := publisher.Store.On(ctx).Scopes(store.Shown).Where("id IN ?", ids).Order("name").Find(&rows).Error; err != nil {
		return nil, fmt.Errorf("read the pages of other campaigns: %w", err)
	}
	out := make([]drafts.Draft, len(rows))
	for i, row := range rows {
		var err error
		if out[i], err = publisher.Drafts.DraftOf(row); err != nil {
			return nil, err
		}
		if err := publisher.Drafts.Stand(ctx, &out[i]); err != nil {
			return nil, err
		}
		if step, ok := s.Funnel.StepOf(row.ID); ok {
			out[i].Step = step.ID
		}
	}
	return out, nil
}

// about is what each step's page says of it.
func (publisher *Publisher) about(f route.Funnel, list []drafts.Draft, known []facts.Facts, goods map[string]string) map[string]fault.About {
	out := map[string]fault.About{}
	for i, d := range list {
		for id, p := range known[i].Products {
			goods[id] = p.Name
		}
		if step, ok := f.StepOf(d.ID); ok {
			out[step.ID] = publisher.aboutPage(step, d, known[i])
		}
	}
	// What an offer says of goods that other steps sell: by their names in its words.
	for _, d := range list {
		step, ok := f.StepOf(d.ID)
		if !ok || !step.Kind.Offers() {
			continue
		}
		one, said := out[step.ID], publisher.words(d.Tree)
		for _, other := range out {
			for _, id := range slices.Concat([]string{other.Sells}, slices.Concat(other.Others...), other.Bumps) {
				name := evenly(goods[id])
				if id != "" && id != one.Sells && name != "" && strings.Contains(said, " "+name+" ") && !slices.Contains(one.Mentions, id) {
					one.Mentions = append(one.Mentions, id)
				}
			}
		}
		slices.Sort(one.Mentions)
		out[step.ID] = one
	}
	return out
}

// words are all that a page says, small, with one space between and around them.
func (publisher *Publisher) words(tree manuscript.Page) string {
	schema, said := publisher.Render.Registry.Schema(), ""
	tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		for _, f := range schema[p.Kind].Fields {
			if f.Written() {
				said += " " + check.Plain(p.Fields.Text(f.Name))
			}
		}
	})
	return " " + evenly(said) + " "
}

// evenly is a text in small letters, with one space between words and no other signs.
func evenly(text string) string {
	return strings.Join(strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }), " ")
}

func (publisher *Publisher) aboutPage(step route.Step, d drafts.Draft, f facts.Facts) fault.About {
	schema := publisher.Render.Registry.Schema()
	tree := schema.Follow(d.Shown())
	out := fault.About{Summary: schema.Has(tree, func(t manuscript.Traits) bool { return t.Listed })}
	for _, b := range pressed(schema, tree) {
		if !slices.Contains(out.Buttons, b.name) {
			out.Buttons = append(out.Buttons, b.name)
		}
	}
	if step.Kind != route.Sales && !step.Kind.Offers() {
		return out
	}
	out.Sells = schema.Sells(tree, "")
	via := offer.Page
	if step.Kind.Offers() {
		via = offer.Upsell
	}
	tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if schema[p.Kind].Traits.Takes != manuscript.TakesOrder || out.Bumps != nil || out.Others != nil {
			return
		}
		options, bumps := schema.Options(p)
		out.Bumps = slices.DeleteFunc(bumps, func(id string) bool { return id == out.Sells })
		for i, goods := range options {
			if i > 0 || len(goods) > 1 {
				out.Others = append(out.Others, goods)
			}
		}
	})
	if schema.Filled(tree) {
		fill(&out, schema, tree, f)
	}
	if _, there := f.Products[out.Sells]; !there {
		return out
	}
	if q, err := f.Quote([]offer.Item{{ProductID: out.Sells, Quantity: 1, Via: via}}, publisher.Store.Now()); err == nil && len(q.Lines) > 0 {
		out.Price, out.Travels = q.Lines[0].Price.Minor, checkout.Travels(f, q)
		out.Asks = out.Travels && step.Kind == route.Sales
	}
	return out
}

// walkedGoods is how many goods of a list are walked through: each is a path of its own.
const walkedGoods = 8

// fill puts in what is sold from the page's lists: one of the first goods that are left,
// or one of the others.
func fill(about *fault.About, schema manuscript.Schema, tree manuscript.Page, f facts.Facts) {
	tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if !schema[p.Kind].Traits.Stands {
			return
		}
		for _, id := range f.Shelves[p.Fields.Text("shelf")].Goods {
			switch product, known := f.Products[id]; {
			case !known || product.SoldOut() || id == about.Sells:
			case about.Sells == "":
				about.Sells = id
			case len(about.Others) < walkedGoods:
				about.Others = append(about.Others, []string{id})
			}
		}
	})
}

// unrouted finds what needs a map on a page that none shows: calls to action that lead
// on by routes, and sales.
func (publisher *Publisher) unrouted(d drafts.Draft) []check.Finding {
	if d.Step != "" {
		return nil
	}
	var out []check.Finding
	if purpose.Of(d.Purpose).Joins {
		out = append(out, check.Finding{
			What:   "This is " + words.A(purpose.Of(d.Purpose).Title) + ", and it is on no map: its buyers would have nowhere to go.",
			Remedy: "Put it on the map of Routes, or set it aside.", Gravity: check.Stops,
		})
	}
	for _, b := range pressed(publisher.Render.Registry.Schema(), d.Tree) {
		out = append(out, check.Finding{
			What: fmt.Sprintf("A call to action says “%s”, which leads on by a route, and this page is on no map.", b.name), Remedy: "Put the page on the map of Routes, or choose where this leads.",
			PieceID: b.piece, Gravity: check.Stops,
		})
	}
	return out
}

// button is a call to action that leads on by a route, with the piece it is in.
type button struct{ name, piece string }

func pressed(schema manuscript.Schema, tree manuscript.Page) []button {
	var out []button
	leading := schema.Leading(tree)
	for _, l := range schema.Links(tree) {
		if name := l.Target.Pressed(leading); name != "" {
			out = append(out, button{name, l.Piece})
		}
	}
	return out
}

// factsOf reads the facts of all drafts at once.
func (publisher *Publisher) factsOf(ctx context.Context, list []drafts.Draft) ([]facts.Facts, error) {
	pages := make([]factbook.Wanted, len(list))
	for i, d := range list {
		pages[i] = factbook.Wanted{Names: publisher.Render.Registry.Schema().Names(d.Shown()), Who: factbook.Buyer{Step: d.Step, Joined: purpose.Of(d.Purpose).Step.Offers()}}
	}
	return publisher.Facts.FactsForAll(ctx, pages...)
}
