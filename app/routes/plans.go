package routes

import (
	"context"

	"chrysagon/app/drafts"
	"chrysagon/app/pages"
	"chrysagon/core/manuscript"
	"chrysagon/core/purpose"
	"chrysagon/core/refusal"
	"chrysagon/core/route"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Begin makes a campaign's map from a plan: its pages from templates, joined and
// named. names are those that its owner gave to steps, by the plan's names of them.
func (k *Keeper) Begin(ctx context.Context, campaignID, userID, plan string, names map[string]string) error {
	p, ok := route.PlanOf(plan)
	if !ok {
		return refusal.Of(refusal.ErrInvalid, "There is no such plan.")
	}
	f, err := k.Drafts.DraftFunnel(ctx, campaignID)
	if err != nil {
		return err
	}
	if len(f.Steps) > 0 {
		return refusal.Of(refusal.ErrConflict, "This campaign has a map already. Change it, or begin another campaign in Season.")
	}
	list := make([]pages.NewPage, len(p.Funnel.Steps))
	for i, s := range p.Funnel.Steps {
		name := s.Name
		if given := names[s.ID]; given != "" {
			name = given
		}
		list[i] = pages.NewPage{CampaignID: campaignID, Purpose: purposeOf(s.Kind), Name: name, Layout: "bare", Template: s.Kind.Template()}
	}
	return k.Pages.AddAll(ctx, list, k.onward, func(tx *gorm.DB, rows []store.Page) error {
		ids := map[string]string{}
		for i, s := range p.Funnel.Steps {
			ids[s.ID] = rows[i].ID
		}
		out := route.Funnel{}
		for i, s := range p.Funnel.Steps {
			s.ID, s.PageID, s.Name, s.Aim = rows[i].ID, rows[i].ID, rows[i].Name, ids[s.Aim]
			out.Steps = append(out.Steps, s)
		}
		for _, r := range p.Funnel.Clone().Routes {
			r.From, r.To = ids[r.From], ids[r.To]
			for j := range r.Fork {
				r.Fork[j].To = ids[r.Fork[j].To]
			}
			out.Routes = append(out.Routes, r)
		}
		before, err := drafts.LockedFunnel(tx, campaignID)
		if err != nil {
			return err
		}
		if len(before.Steps) > 0 {
			return refusal.Of(refusal.ErrConflict, "This campaign has a map already.")
		}
		return k.keep(tx, campaignID, userID, "begun from “"+p.Title+"”", before, out)
	})
}

// onward lets the buttons of a page that stands on a map say its yes, which leads
// where its route does.
func (k *Keeper) onward(in pages.NewPage, tree manuscript.Page) manuscript.Page {
	if in.Purpose != string(route.Bridge) {
		return tree
	}
	tree = tree.Clone()
	tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if to := p.Fields.Text("target"); k.Drafts.Render.Registry.Schema()[p.Kind].Traits.Button && (to == "home" || to == "") {
			p.Fields["target"] = route.Yes
		}
	})
	return tree
}

// made makes the page of a step, of which nothing more is known than its kind.
func (k *Keeper) made(ctx context.Context, campaignID string, n New) (string, map[string]string, error) {
	var id string
	in := pages.NewPage{CampaignID: campaignID, Purpose: purposeOf(n.Kind), Name: n.Name, Layout: "bare", Template: n.Kind.Template()}
	if n.Kind.Paged() && purpose.Of(in.Purpose).Joins {
		d, faults, err := k.Pages.AddPage(ctx, in)
		return d.ID, faults, err
	}
	err := k.Pages.AddAll(ctx, []pages.NewPage{in}, k.onward, func(_ *gorm.DB, rows []store.Page) error {
		id = rows[0].ID
		return nil
	})
	return id, nil, err
}

// purposeOf is what a page is for that stands at such a step.
func purposeOf(kind route.Kind) string {
	for _, p := range purpose.All {
		if p.Step == kind {
			return p.Name
		}
	}
	return "plain"
}
