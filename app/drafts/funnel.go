package drafts

import (
	"context"
	"fmt"

	"chrysagon/core/purpose"
	"chrysagon/core/refusal"
	"chrysagon/core/route"
	"chrysagon/store"

	"gorm.io/gorm"
)

// LeaveFunnel takes a page's step out of its funnel; false when it has none.
func LeaveFunnel(tx *gorm.DB, p store.Page) (bool, error) {
	f, err := lockedFunnel(tx, p.CampaignID)
	if err != nil {
		return false, err
	}
	for _, s := range f.Steps {
		if s.PageID != p.ID {
			continue
		}
		if f, err = f.Leave(s.ID); err != nil {
			return true, refusal.Of(refusal.ErrConflict, "“%s” cannot be set aside: %s.", p.Name, err.Error())
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

// Join gives a page its place in its campaign's funnel. Pages that have none
// stand for themselves.
func Join(tx *gorm.DB, p store.Page) error {
	part := purpose.Of(p.Purpose)
	if part.Step == "" {
		return nil
	}
	f, err := lockedFunnel(tx, p.CampaignID)
	if err != nil {
		return err
	}
	if f, err = f.Join(route.Step{ID: p.ID, Kind: part.Step, PageID: p.ID, Name: p.Name}, part.After); err != nil {
		return refusal.Of(refusal.ErrConflict, "This page cannot be joined to the others: %s.", err.Error())
	}
	return writeFunnel(tx, p.CampaignID, f)
}

// writeFunnel keeps a campaign's steps, in their order, and their routes.
func writeFunnel(tx *gorm.DB, campaignID string, f route.Funnel) error {
	if err := tx.Exec("DELETE FROM routes WHERE from_step IN (SELECT id FROM steps WHERE campaign_id = ?)", campaignID).Error; err != nil {
		return err
	}
	// Out of each other's way first: no two steps may have one place.
	if err := tx.Exec("UPDATE steps SET position = -1 - position WHERE campaign_id = ?", campaignID).Error; err != nil {
		return err
	}
	for i, s := range f.Steps {
		err := tx.Exec(`INSERT INTO steps (id, campaign_id, page_id, kind, position) VALUES (?, ?, ?, ?, ?)
			ON CONFLICT (id) DO UPDATE SET position = EXCLUDED.position, kind = EXCLUDED.kind`, s.ID, campaignID, s.PageID, s.Kind, i).Error
		if err != nil {
			return fmt.Errorf("keep a step: %w", err)
		}
	}
	for _, r := range f.Routes {
		if err := tx.Create(&store.Route{FromStep: r.From, Outcome: string(r.Outcome), ToStep: r.To}).Error; err != nil {
			return fmt.Errorf("keep a route: %w", err)
		}
	}
	return nil
}

// DraftFunnel reads the steps and routes of a campaign as they are drafted.
func (reader *Reader) DraftFunnel(ctx context.Context, campaignID string) (route.Funnel, error) {
	return ReadFunnel(reader.Store.On(ctx), campaignID)
}

// lockedFunnel reads a campaign's funnel to change it: nobody else does until
// the transaction ends.
func lockedFunnel(tx *gorm.DB, campaignID string) (route.Funnel, error) {
	if err := tx.Exec("SELECT FROM campaigns WHERE id = ? FOR UPDATE", campaignID).Error; err != nil {
		return route.Funnel{}, fmt.Errorf("lock the campaign: %w", err)
	}
	return ReadFunnel(tx, campaignID)
}

// ReadFunnel reads a campaign's funnel as it is drawn now.
func ReadFunnel(db *gorm.DB, campaignID string) (route.Funnel, error) {
	var f Funnel
	if err := store.Together(db, f.Parts(campaignID)...); err != nil {
		return route.Funnel{}, fmt.Errorf("read the funnel: %w", err)
	}
	return f.Read(), nil
}

// Funnel is a campaign's funnel as it is stored.
type Funnel struct {
	steps  []struct{ ID, Kind, PageID, Name string }
	routes []store.Route
}

// Parts are the lists it is read from, with others or alone.
func (f *Funnel) Parts(campaignID string) []store.Part {
	return []store.Part{
		{SQL: `SELECT s.id, s.kind, s.page_id, p.name FROM steps s JOIN pages p ON p.id = s.page_id
			WHERE s.campaign_id = ? ORDER BY s.position`, Args: []any{campaignID}, Into: &f.steps},
		{SQL: `SELECT r.* FROM routes r JOIN steps s ON s.id = r.from_step WHERE s.campaign_id = ?
			ORDER BY s.position, r.outcome`, Args: []any{campaignID}, Into: &f.routes},
	}
}

// Read is the funnel, once its parts were read.
func (f *Funnel) Read() route.Funnel {
	var out route.Funnel
	for _, s := range f.steps {
		out.Steps = append(out.Steps, route.Step{ID: s.ID, Kind: route.Kind(s.Kind), PageID: s.PageID, Name: s.Name})
	}
	for _, r := range f.routes {
		out.Routes = append(out.Routes, route.Route{From: r.FromStep, Outcome: route.Outcome(r.Outcome), To: r.ToStep})
	}
	return out
}
