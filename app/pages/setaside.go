package pages

import (
	"context"

	"chrysagon/app/drafts"
	"chrysagon/app/publishing"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// SetAside takes a page out of its campaign: it goes out with no edition from
// now on, and visitors find it no more. A page that stands for itself is taken
// down at once; one of a funnel that is live stays there until the next edition,
// so that nobody who is buying loses their way. Its address leads to the
// successor then; "" leads nowhere. Nothing is deleted: BringBack undoes it.
func (ps *Pages) SetAside(ctx context.Context, pageID, successorID string) error {
	err := ps.Store.In(ctx, func(tx *gorm.DB) error {
		p, err := store.One[store.Page](tx.Clauses(clause.Locking{Strength: "UPDATE"}).Where("id = ?", pageID), "There is no such page.")
		if err != nil {
			return err
		}
		if p.AsideAt != nil {
			return refusal.Of(refusal.ErrConflict, "“%s” is set aside already.", p.Name)
		}
		set := map[string]any{"aside_at": ps.Store.Now(), "aside_for": nil, "revision": gorm.Expr("revision + 1")}
		if successorID != "" {
			to, err := store.One[store.Page](tx.Where("id = ?", successorID), "There is no such page to lead to.")
			if err != nil {
				return err
			}
			if to.ID == p.ID || to.AsideAt != nil {
				return refusal.Of(refusal.ErrInvalid, "“%s” is set aside too. Choose another page to lead to.", to.Name)
			}
			set["aside_for"] = successorID
		}
		inFunnel, err := drafts.LeaveFunnel(tx, p)
		if err != nil {
			return err
		}
		if err := tx.Model(&store.Page{}).Where("id = ?", p.ID).Updates(set).Error; err != nil {
			return err
		}
		if inFunnel {
			return nil
		}
		if err := publishing.LeadOn(tx, p.ID, ps.Store.Now()); err != nil {
			return err
		}
		return tx.Scopes(store.OfPage(p.ID)).Delete(&store.LivePage{}).Error
	})
	ps.News.FactsChanged()
	return err
}

// BringBack lets a page that was set aside go out again, with the next edition,
// in the place in the funnel that pages like it have.
func (ps *Pages) BringBack(ctx context.Context, pageID string) error {
	err := ps.Store.In(ctx, func(tx *gorm.DB) error {
		p, err := store.One[store.Page](tx.Clauses(clause.Locking{Strength: "UPDATE"}).Where("id = ? AND aside_at IS NOT NULL", pageID), "There is no such page that was set aside.")
		if err != nil {
			return err
		}
		if err := drafts.Join(tx, p); err != nil {
			return err
		}
		return tx.Model(&store.Page{}).Where("id = ?", p.ID).Updates(map[string]any{"aside_at": nil, "aside_for": nil, "revision": gorm.Expr("revision + 1")}).Error
	})
	ps.News.FactsChanged()
	return err
}

// Aside lists the pages of a campaign that were set aside, the latest first.
func (ps *Pages) Aside(ctx context.Context, campaignID string) ([]store.Page, error) {
	var list []store.Page
	err := ps.Store.On(ctx).Omit("manuscript").Scopes(store.OfCampaign(campaignID), store.Aside).Order("aside_at DESC").Limit(200).Find(&list).Error
	return list, err
}
