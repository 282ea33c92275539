package drafts

import (
	"context"
	"encoding/json"
	"fmt"

	"chrysagon/core/fork"
	"chrysagon/core/purpose"
	"chrysagon/core/refusal"
	"chrysagon/core/route"
	"chrysagon/store"

	"gorm.io/gorm"
)

// LeaveFunnel takes a page out of every funnel it is a step of; false when it is of none
// of its own campaign.
func LeaveFunnel(tx *gorm.DB, p store.Page) (own bool, err error) {
	var campaigns []string
	if err := tx.Raw("SELECT campaign_id FROM steps WHERE page_id = ? ORDER BY campaign_id", p.ID).Scan(&campaigns).Error; err != nil {
		return false, fmt.Errorf("look for a page's steps: %w", err)
	}
	for _, campaign := range campaigns {
		f, err := LockedFunnel(tx, campaign)
		if err != nil {
			return own, err
		}
		s, ok := f.StepOf(p.ID)
		if !ok {
			continue
		}
		own = own || campaign == p.CampaignID
		if f, err = f.Leave(s.ID); err != nil {
			return own, refusal.Of(refusal.ErrConflict, "“%s” cannot be set aside: %s.", p.Name, err.Error())
		}
		if err := WriteFunnel(tx, campaign, f); err != nil {
			return own, err
		}
	}
	return own, nil
}

// Join gives a page its place in its campaign's funnel. Pages that have none
// stand for themselves.
func Join(tx *gorm.DB, p store.Page) error {
	part := purpose.Of(p.Purpose)
	if !part.Joins {
		return nil
	}
	f, err := LockedFunnel(tx, p.CampaignID)
	if err != nil {
		return err
	}
	if f, err = f.Join(route.Step{ID: p.ID, Kind: part.Step, PageID: p.ID, Name: p.Name}); err != nil {
		return refusal.Of(refusal.ErrConflict, "This page cannot be joined to the others: %s.", err.Error())
	}
	return WriteFunnel(tx, p.CampaignID, f)
}

// WriteFunnel keeps a campaign's steps, in their order, and their routes. Steps
// and routes that are kept already keep their identity, and what hangs on it.
func WriteFunnel(tx *gorm.DB, campaignID string, f route.Funnel) error {
	var ids, routes []string
	for _, s := range f.Steps {
		ids = append(ids, s.ID)
	}
	f = f.Clone()
	for i := range f.Routes {
		if f.Routes[i].ID == "" {
			f.Routes[i].ID = store.NewID()
		}
		routes = append(routes, f.Routes[i].ID)
	}
	// Out of each other's way first: no two steps, or routes of one outcome, may have one place.
	for _, one := range []struct {
		sql  string
		args []any
	}{
		{"DELETE FROM routes r USING steps s WHERE s.id = r.from_step AND s.campaign_id = ? AND r.id <> ALL(?::text[])", []any{campaignID, store.TextArray(routes)}},
		{"DELETE FROM steps WHERE campaign_id = ? AND id <> ALL(?::text[])", []any{campaignID, store.TextArray(ids)}},
		{"UPDATE steps SET position = -1 - position WHERE campaign_id = ?", []any{campaignID}},
		{"UPDATE routes r SET position = -1 - r.position FROM steps s WHERE s.id = r.from_step AND s.campaign_id = ?", []any{campaignID}},
		{"DELETE FROM route_targets t USING routes r, steps s WHERE r.id = t.route_id AND s.id = r.from_step AND s.campaign_id = ?", []any{campaignID}},
	} {
		if err := tx.Exec(one.sql, one.args...).Error; err != nil {
			return fmt.Errorf("make room for the funnel: %w", err)
		}
	}
	for i, s := range f.Steps {
		if err := keepStep(tx, campaignID, s, i); err != nil {
			return err
		}
	}
	for _, s := range f.Steps { // once all of them are there
		if s.Aim == "" {
			continue
		}
		if err := tx.Exec("UPDATE steps SET aim = (SELECT id FROM steps WHERE id = ?) WHERE id = ?", s.Aim, s.ID).Error; err != nil {
			return fmt.Errorf("keep a downsell's aim: %w", err)
		}
	}
	place := map[string]int{}
	for _, r := range f.Routes {
		key := r.From + " " + string(r.Outcome)
		if err := keepRoute(tx, r, place[key]); err != nil {
			return err
		}
		place[key]++
	}
	return nil
}

func keepStep(tx *gorm.DB, campaignID string, s route.Step, at int) error {
	row := store.Step{ID: s.ID, CampaignID: campaignID, PageID: some(s.PageID), Kind: string(s.Kind), Position: at, Address: s.Address, FileID: some(s.FileID), DX: s.DX, DY: s.DY}
	if row.PageID == nil {
		row.Name = s.Name
	}
	err := tx.Exec(`INSERT INTO steps (id, campaign_id, page_id, kind, position, name, address, file_id, dx, dy) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
		ON CONFLICT (id) DO UPDATE SET position = EXCLUDED.position, kind = EXCLUDED.kind, name = EXCLUDED.name, address = EXCLUDED.address,
			file_id = EXCLUDED.file_id, aim = NULL, dx = EXCLUDED.dx, dy = EXCLUDED.dy`,
		row.ID, row.CampaignID, row.PageID, row.Kind, row.Position, row.Name, row.Address, row.FileID, row.DX, row.DY).Error
	if store.IsDuplicate(err) {
		return refusal.Of(refusal.ErrConflict, "“%s” is on this map already.", s.Name)
	}
	if err != nil {
		return fmt.Errorf("keep a step: %w", err)
	}
	return nil
}

func keepRoute(tx *gorm.DB, r route.Route, at int) error {
	when, err := json.Marshal(append([]route.Condition{}, r.When...))
	if err != nil {
		return fmt.Errorf("write a route's conditions: %w", err)
	}
	err = tx.Exec(`INSERT INTO routes (id, from_step, outcome, position, conditions) VALUES (?, ?, ?, ?, ?)
		ON CONFLICT (id) DO UPDATE SET from_step = EXCLUDED.from_step, outcome = EXCLUDED.outcome, position = EXCLUDED.position, conditions = EXCLUDED.conditions`,
		r.ID, r.From, string(r.Outcome), at, string(when)).Error
	if err != nil {
		return fmt.Errorf("keep a route: %w", err)
	}
	to := r.Fork
	if !r.Forks() {
		to = []fork.Share{{To: r.To, Share: 1}}
	}
	for i, s := range to {
		if err := tx.Create(&store.RouteTarget{RouteID: r.ID, ToStep: s.To, Share: s.Share, Position: i}).Error; err != nil {
			return fmt.Errorf("keep where a route leads: %w", err)
		}
	}
	return nil
}

// some is a text, or nil for the empty one.
func some(text string) *string {
	if text == "" {
		return nil
	}
	return &text
}

// DraftFunnel reads the steps and routes of a campaign as they are drafted.
func (reader *Reader) DraftFunnel(ctx context.Context, campaignID string) (route.Funnel, error) {
	return ReadFunnel(reader.Store.On(ctx), campaignID)
}

// LockedFunnel reads a campaign's funnel to change it: nobody else does until
// the transaction ends.
func LockedFunnel(tx *gorm.DB, campaignID string) (route.Funnel, error) {
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
	steps []struct {
		ID, Kind, PageID, Name, Address, FileID, Aim string
		DX, DY                                       int
	}
	routes []struct {
		ID, FromStep, Outcome string
		Conditions            []route.Condition
		Targets               []fork.Share
	}
}

// Parts are the lists it is read from, with others or alone.
func (f *Funnel) Parts(campaignID string) []store.Part {
	return []store.Part{
		{SQL: `SELECT s.id, s.kind, coalesce(s.page_id, '') AS page_id, coalesce(p.name, s.name) AS name, s.address, coalesce(s.file_id, '') AS file_id, coalesce(s.aim, '') AS aim, s.dx, s.dy
			FROM steps s LEFT JOIN pages p ON p.id = s.page_id WHERE s.campaign_id = ? ORDER BY s.position`, Args: []any{campaignID}, Into: &f.steps},
		{SQL: `SELECT r.id, r.from_step, r.outcome, r.conditions,
				(SELECT coalesce(jsonb_agg(jsonb_build_object('to', t.to_step, 'share', t.share) ORDER BY t.position), '[]') FROM route_targets t WHERE t.route_id = r.id) AS targets
			FROM routes r JOIN steps s ON s.id = r.from_step WHERE s.campaign_id = ?
			ORDER BY s.position, r.outcome, r.position`, Args: []any{campaignID}, Into: &f.routes},
	}
}

// Read is the funnel, once its parts were read.
func (f *Funnel) Read() route.Funnel {
	var out route.Funnel
	for _, s := range f.steps {
		out.Steps = append(out.Steps, route.Step{ID: s.ID, Kind: route.Kind(s.Kind), PageID: s.PageID, Name: s.Name, Address: s.Address, FileID: s.FileID, Aim: s.Aim, DX: s.DX, DY: s.DY})
	}
	for _, r := range f.routes {
		one := route.Route{ID: r.ID, From: r.FromStep, Outcome: route.Outcome(r.Outcome)}
		if len(r.Conditions) > 0 {
			one.When = r.Conditions
		}
		switch len(r.Targets) {
		case 0: // its step went with its page
		case 1:
			one.To = r.Targets[0].To
		default:
			one.Fork = r.Targets
		}
		out.Routes = append(out.Routes, one)
	}
	return out
}
