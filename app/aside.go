package app

import (
	"context"
	"fmt"
	"time"

	"chrysagon/store"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// SetAside takes a page out of its campaign: it goes out with no edition from
// now on, and visitors find it no more. A page that stands for itself is taken
// down at once; one of a funnel that is live stays there until the next edition,
// so that nobody who is buying loses their way. Its address leads to the
// successor then; "" leads nowhere. Nothing is deleted: BringBack undoes it.
func (a *App) SetAside(ctx context.Context, pageID, successorID string) error {
	err := a.Store.In(ctx, func(tx *gorm.DB) error {
		p, err := one[store.Page](tx.Clauses(clause.Locking{Strength: "UPDATE"}).Where("id = ?", pageID), "There is no such page.")
		if err != nil {
			return err
		}
		if p.AsideAt != nil {
			return refuse(ErrConflict, "“%s” is set aside already.", p.Name)
		}
		set := map[string]any{"aside_at": a.Now(), "aside_for": nil, "revision": gorm.Expr("revision + 1")}
		if successorID != "" {
			to, err := one[store.Page](tx.Where("id = ?", successorID), "There is no such page to lead to.")
			if err != nil {
				return err
			}
			if to.ID == p.ID || to.AsideAt != nil {
				return refuse(ErrInvalid, "“%s” is set aside too. Choose another page to lead to.", to.Name)
			}
			set["aside_for"] = successorID
		}
		inFunnel, err := leaveFunnel(tx, p)
		if err != nil {
			return err
		}
		if err := tx.Model(&store.Page{}).Where("id = ?", p.ID).Updates(set).Error; err != nil {
			return err
		}
		if inFunnel {
			return nil
		}
		if err := leadOn(tx, p.ID, a.Now()); err != nil {
			return err
		}
		return tx.Where("page_id = ?", p.ID).Delete(&store.LivePage{}).Error
	})
	a.factsChanged()
	return err
}

// BringBack lets a page that was set aside go out again, with the next edition,
// in the place in the funnel that pages like it have.
func (a *App) BringBack(ctx context.Context, pageID string) error {
	err := a.Store.In(ctx, func(tx *gorm.DB) error {
		p, err := one[store.Page](tx.Clauses(clause.Locking{Strength: "UPDATE"}).Where("id = ? AND aside_at IS NOT NULL", pageID), "There is no such page that was set aside.")
		if err != nil {
			return err
		}
		if err := join(tx, p); err != nil {
			return err
		}
		return tx.Model(&store.Page{}).Where("id = ?", p.ID).Updates(map[string]any{"aside_at": nil, "aside_for": nil, "revision": gorm.Expr("revision + 1")}).Error
	})
	a.factsChanged()
	return err
}

// leaveFunnel takes a page's step out of its funnel; false when it has none.
func leaveFunnel(tx *gorm.DB, p store.Page) (bool, error) {
	f, err := lockedFunnel(tx, p.CampaignID)
	if err != nil {
		return false, err
	}
	for _, s := range f.Steps {
		if s.PageID != p.ID {
			continue
		}
		if f, err = f.Leave(s.ID); err != nil {
			return true, refuse(ErrConflict, "“%s” cannot be set aside: %s.", p.Name, err.Error())
		}
		if err := tx.Exec("DELETE FROM routes WHERE from_step = @step OR to_step = @step", map[string]any{"step": s.ID}).Error; err != nil {
			return true, err
		}
		if err := tx.Exec("DELETE FROM steps WHERE id = ?", s.ID).Error; err != nil {
			return true, fmt.Errorf("take a step out: %w", err)
		}
		return true, writeFunnel(tx, p.CampaignID, f)
	}
	return false, nil
}

// leadOn lets the live address of a page that was set aside lead to its successor.
func leadOn(tx *gorm.DB, pageID string, at time.Time) error {
	var former []store.FormerAddress
	err := tx.Raw("SELECT l.address, p.aside_for AS page_id, ?::timestamptz AS left_at FROM live_pages l JOIN pages p ON p.id = l.page_id WHERE l.page_id = ? AND p.aside_for IS NOT NULL", at, pageID).Scan(&former).Error
	if err != nil {
		return fmt.Errorf("look for the successor: %w", err)
	}
	return leadFrom(tx, former...)
}

// Aside lists the pages of a campaign that were set aside, the latest first.
func (a *App) Aside(ctx context.Context, campaignID string) ([]store.Page, error) {
	var list []store.Page
	err := a.db(ctx).Omit("manuscript").Where("campaign_id = ? AND aside_at IS NOT NULL", campaignID).Order("aside_at DESC").Limit(200).Find(&list).Error
	return list, err
}
