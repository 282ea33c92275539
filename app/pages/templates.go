package pages

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"

	"chrysagon/app/drafts"
	"chrysagon/core/manuscript"
	"chrysagon/core/publish"
	"chrysagon/core/purpose"
	"chrysagon/core/refusal"
	"chrysagon/core/route"
	"chrysagon/store"

	"gorm.io/gorm"
)

// CopyPage makes a page like another, layout and all, under a name of its own.
func (ps *Pages) CopyPage(ctx context.Context, pageID string) (drafts.Draft, error) {
	d, err := ps.Drafts.Draft(ctx, pageID)
	if err != nil {
		return d, err
	}
	raw, err := json.Marshal(ps.Render.Registry.Schema().Fresh(d.Tree, store.NewID))
	if err != nil {
		return d, fmt.Errorf("write the manuscript: %w", err)
	}
	row := d.Page
	row.ID, row.Revision, row.Manuscript, row.CreatedAt = store.NewID(), 0, raw, ps.Store.Now()
	row.AsideAt, row.AsideFor = nil, nil
	row.Name = string([]rune(row.Name)[:min(len([]rune(row.Name)), publish.MaxName-7)]) + ", copy"
	if purpose.Of(row.Purpose).Step == route.ThankYou {
		row.Purpose = "plain" // a funnel has one
	}
	for n := 2; n < 100; n++ {
		row.Address = fmt.Sprintf("%.55s-%d", strings.TrimRight(d.Address, "-"), n)
		if err = ps.writePages(ctx, row); !store.IsDuplicate(err) {
			break
		}
	}
	if err != nil {
		return d, fmt.Errorf("copy the page: %w", err)
	}
	return ps.Drafts.Draft(ctx, row.ID)
}

// KeepTemplate keeps a page, as it is now, to begin others from.
func (ps *Pages) KeepTemplate(ctx context.Context, pageID string) (store.Template, error) {
	d, err := ps.Drafts.Draft(ctx, pageID)
	if err != nil {
		return store.Template{}, err
	}
	raw, err := json.Marshal(d.Tree)
	if err != nil {
		return store.Template{}, fmt.Errorf("write the manuscript: %w", err)
	}
	t := store.Template{ID: store.NewID(), Name: d.Name, Purpose: d.Purpose, Layout: drafts.LayoutOf(d.Layout), Manuscript: raw, KeptAt: ps.Store.Now()}
	return t, ps.Store.On(ctx).Create(&t).Error
}

// Templates lists the templates that were kept, the latest first.
func (ps *Pages) Templates(ctx context.Context) ([]store.Template, error) {
	var list []store.Template
	err := ps.Store.On(ctx).Order("kept_at DESC").Limit(200).Find(&list).Error
	return list, err
}

// Example is a page as a template would begin it, for its proof.
func (ps *Pages) Example(ctx context.Context, campaignID, template string) (manuscript.Page, error) {
	return ps.compose(ctx, NewPage{CampaignID: campaignID, Template: template})
}

// Retake gives a page the bands of a template in place of its own. It can be
// undone like any change.
func (ps *Pages) Retake(ctx context.Context, userID, pageID, template string) (drafts.Draft, error) {
	d, err := ps.Drafts.Draft(ctx, pageID)
	if err != nil {
		return d, err
	}
	tree, err := ps.compose(ctx, NewPage{CampaignID: d.CampaignID, Template: template})
	if err != nil {
		return d, err
	}
	return ps.Desk.Edit(ctx, userID, pageID, manuscript.Command{Op: manuscript.Replace, Bands: tree.Bands}, false)
}

// Dress changes what a page is for and what stands around it.
func (ps *Pages) Dress(ctx context.Context, pageID, part, layout string) error {
	if !isLayout(layout) {
		return refusal.Of(refusal.ErrInvalid, "Choose what stands around the page.")
	}
	d, err := ps.Drafts.Draft(ctx, pageID)
	if err != nil {
		return err
	}
	if part == "" {
		part = d.Purpose
	}
	if part != d.Purpose && (purpose.Of(part).Mail != purpose.Of(d.Purpose).Mail || purpose.Of(part).Joins || purpose.Of(d.Purpose).Joins || !purpose.Known(part)) {
		return refusal.Of(refusal.ErrInvalid, "What sells or follows a payment has its place in the funnel; make a new page for that.")
	}
	return ps.Store.On(ctx).Model(&store.Page{}).Where("id = ?", pageID).Updates(map[string]any{"purpose": part, "layout": layout, "revision": gorm.Expr("revision + 1")}).Error
}
