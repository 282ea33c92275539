package walks

import (
	"context"
	"fmt"

	"chrysagon/core/pass"
	"chrysagon/core/refusal"
	"chrysagon/core/route"
	"chrysagon/store"
)

// Abroad is the page outside of a step, as it is live.
func (g *Guide) Abroad(ctx context.Context, stepID string) (Place, error) {
	var campaign string
	err := g.Store.On(ctx).Raw("SELECT campaign_id FROM steps WHERE id = ? AND kind = 'outside'", stepID).Scan(&campaign).Error
	if err != nil {
		return Place{}, fmt.Errorf("look for a page outside: %w", err)
	}
	none := refusal.Of(refusal.ErrNotFound, "There is nothing at this address.")
	if campaign == "" {
		return Place{}, none
	}
	live, err := g.Publishing.LiveOf(ctx, campaign)
	if err != nil || live == nil {
		return Place{}, none
	}
	s, ok := live.Funnel.Step(stepID)
	if !ok {
		return Place{}, none
	}
	return Place{live, s}, nil
}

// Passed reads a pass for a page outside, and whose walk it names.
func (g *Guide) Passed(ctx context.Context, at Place, text string) (store.Walk, error) {
	shop, err := g.Store.Shop(ctx)
	if err != nil {
		return store.Walk{}, err
	}
	p, err := pass.Read(shop.SealKey, text, g.Store.Now())
	if err != nil || p.Step != at.Step.ID {
		return store.Walk{}, refusal.Of(refusal.ErrRefused, "This link was not made by the shop, or is too old.")
	}
	return store.One[store.Walk](g.Store.On(ctx).Where("id = ? AND campaign_id = ?", p.Walk, at.Edition.CampaignID), "There is no such walk.")
}

// Report keeps what a page outside tells: that it was seen, or what was pressed there.
func (g *Guide) Report(ctx context.Context, at Place, text, name string) error {
	w, err := g.Passed(ctx, at, text)
	if err != nil {
		return err
	}
	o := route.Outcome("")
	if name != "" {
		if o = route.Clicked(name); !o.Known() {
			return refusal.Of(refusal.ErrInvalid, "There is no such outcome.")
		}
	}
	return Leave(g.Store.On(ctx), Print{At: g.Store.Now(), Visitor: w.Visitor, Place: at, Outcome: o})
}

// Return leads somebody on who comes back from a page outside. Whose browser the shop
// knows already goes on as themselves, whatever the pass says; who comes in another
// goes on with the walk that the pass names.
func (g *Guide) Return(ctx context.Context, at Place, visitor, text, name string) (To, error) {
	db := g.Store.On(ctx)
	own, err := g.walk(db, at.Edition.CampaignID, visitor)
	if err != nil {
		return To{}, err
	}
	if own.ID == "" && text != "" && visitor != "" {
		if w, err := g.Passed(ctx, at, text); err == nil {
			err := db.Exec(`INSERT INTO walks (campaign_id, visitor, id, edition_id, begun_at, source, medium, by_campaign, landing, step_id, moved_at, counted)
				SELECT campaign_id, ?, ?, edition_id, begun_at, source, medium, by_campaign, landing, step_id, ?, true FROM walks WHERE id = ? ON CONFLICT DO NOTHING`,
				visitor, store.NewID(), g.Store.Now(), w.ID).Error
			if err == nil {
				err = db.Exec(`INSERT INTO assignments (route_id, visitor, to_step, at) SELECT route_id, ?, to_step, at FROM assignments WHERE visitor = ? ON CONFLICT DO NOTHING`, visitor, w.Visitor).Error
			}
			if err != nil {
				return To{}, fmt.Errorf("go on with a walk: %w", err)
			}
		}
	}
	o := route.Clicked(name)
	to, err := g.Lead(ctx, at, visitor, o, nil)
	if err != nil {
		return to, err
	}
	return to, g.Took(ctx, Print{At: g.Store.Now(), Visitor: visitor, Place: at, Outcome: o}, to)
}
