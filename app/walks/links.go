package walks

import (
	"context"
	"errors"
	"fmt"

	"chrysagon/app/publishing"
	"chrysagon/core/refusal"
	"chrysagon/core/route"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Took keeps what came of a visitor and where it led. What is no page of the store is
// seen by being led there: nobody else would tell.
func (g *Guide) Took(ctx context.Context, p Print, to To) error {
	return g.Store.In(ctx, func(tx *gorm.DB) error {
		p.To = to.Step.ID
		if err := Leave(tx, p); err != nil || to.Step.Kind.Paged() {
			return err
		}
		return Leave(tx, Print{At: p.At, Visitor: p.Visitor, Place: Place{p.Place.Edition, to.Step}})
	})
}

// Link is where a tracked link leads a visitor, "" visitor for nobody. It counts who
// presses it, and carries its source along.
func (g *Guide) Link(ctx context.Context, slug, visitor string) (link store.Link, path string, err error) {
	link, err = store.One[store.Link](g.Store.On(ctx).Where("slug = ?", slug), "There is no such link.")
	if err != nil {
		return link, "", err
	}
	live, err := g.Publishing.LiveOf(ctx, link.CampaignID)
	if err != nil {
		return link, "", err
	}
	if live == nil {
		return link, "", refusal.Of(refusal.ErrNotFound, "What this link leads to is not open at the moment.")
	}
	if visitor != "" {
		if err := g.clicked(ctx, link, visitor); err != nil {
			return link, "", err
		}
	}
	to, err := g.linked(ctx, live, link, visitor)
	if errors.Is(err, ErrNowhere) || (err == nil && to.Path == "/") {
		return link, "", refusal.Of(refusal.ErrNotFound, "What this link leads to is not open at the moment.")
	}
	return link, to.Path, err
}

func (g *Guide) clicked(ctx context.Context, l store.Link, visitor string) error {
	return g.Store.In(ctx, func(tx *gorm.DB) error {
		if err := tx.Exec("UPDATE links SET clicks = clicks + 1 WHERE id = ?", l.ID).Error; err != nil {
			return fmt.Errorf("count a link: %w", err)
		}
		return tx.Exec("INSERT INTO link_clicks (link_id, visitor, at) VALUES (?, ?, ?) ON CONFLICT DO NOTHING", l.ID, visitor, g.Store.Now()).Error
	})
}

// linked is where a link leads: to its step, and who has walked on from there to
// where they are; into a fork each to their share.
func (g *Guide) linked(ctx context.Context, live *publishing.Edition, l store.Link, visitor string) (To, error) {
	db := g.Store.On(ctx)
	open, err := g.addresses(db, live.Funnel)
	if err != nil {
		return To{}, err
	}
	if l.RouteID != nil {
		for _, r := range live.Funnel.Routes {
			if r.ID == *l.RouteID {
				return g.intoFork(ctx, live, r, visitor, open)
			}
		}
		return To{}, ErrNowhere
	}
	step, ok := live.Funnel.Step(*l.StepID)
	if !ok || step.Kind.AfterPayment() {
		return To{}, ErrNowhere
	}
	walk, err := g.walk(db, l.CampaignID, visitor)
	if err != nil {
		return To{}, err
	}
	if visitor != "" && step.ID == live.Funnel.Steps[0].ID {
		if on, there := live.Funnel.Step(walk.StepID); there && on.Kind.Paged() && !on.Kind.AfterPayment() && open.has(on) {
			step = on
		}
	}
	if !open.has(step) {
		return To{}, ErrNowhere
	}
	path, err := g.path(ctx, step, open, walk.ID)
	return To{step, path}, err
}

func (g *Guide) intoFork(ctx context.Context, e *publishing.Edition, r route.Route, visitor string, open addresses) (To, error) {
	kept, err := g.kept(g.Store.On(ctx), []route.Route{r}, visitor)
	if err != nil {
		return To{}, err
	}
	r.When = nil // the link is for whoever has it
	id, _, ok := route.Among([]route.Route{r}, route.Walker{ID: visitor, Kept: kept}, func(id string) bool {
		s, there := e.Funnel.Step(id)
		return there && !s.Kind.AfterPayment() && open.has(s)
	})
	if !ok {
		return To{}, ErrNowhere
	}
	step, _ := e.Funnel.Step(id)
	from, _ := e.Funnel.Step(r.From)
	return g.to(ctx, Place{e, from}, visitor, route.Led{Step: step, Route: r}, open)
}
