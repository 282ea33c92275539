package routes

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"slices"

	"chrysagon/app/drafts"
	"chrysagon/core/fork"
	"chrysagon/core/purpose"
	"chrysagon/core/refusal"
	"chrysagon/core/route"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Change carries a command out on a campaign's map, and keeps what it was before.
func (k *Keeper) Change(ctx context.Context, campaignID, userID string, c route.Command) error {
	return k.do(ctx, campaignID, userID, func(_ *gorm.DB, f route.Funnel) (route.Funnel, string, error) {
		next, err := f.Apply(c)
		return next, said(f, next, c), err
	})
}

// do changes a map by a function, once, and keeps what it was before.
func (k *Keeper) do(ctx context.Context, campaignID, userID string, change func(*gorm.DB, route.Funnel) (route.Funnel, string, error)) error {
	err := k.Store.InAgain(ctx, func(tx *gorm.DB) error {
		f, err := drafts.LockedFunnel(tx, campaignID)
		if err != nil {
			return err
		}
		next, what, err := change(tx, f)
		if err != nil || reflect.DeepEqual(next, f) {
			return err // what changes nothing is nothing to undo
		}
		return k.keep(tx, campaignID, userID, what, f, next)
	})
	k.News.FactsChanged()
	return err
}

// keep writes a changed map. What was undone before it cannot be done again.
func (k *Keeper) keep(tx *gorm.DB, campaignID, userID, what string, before, after route.Funnel) error {
	if err := drafts.WriteFunnel(tx, campaignID, after); err != nil {
		return err
	}
	written, err := drafts.ReadFunnel(tx, campaignID) // with the IDs that routes were given
	if err != nil {
		return err
	}
	if err := tx.Exec("DELETE FROM map_changes WHERE campaign_id = ? AND undone", campaignID).Error; err != nil {
		return err
	}
	row := store.MapChange{CampaignID: campaignID, At: k.Store.Now(), UserID: userID, What: what}
	if row.Before, err = json.Marshal(before); err == nil {
		row.After, err = json.Marshal(written)
	}
	if err != nil {
		return fmt.Errorf("write a change of the map: %w", err)
	}
	if err := tx.Raw("SELECT coalesce(max(seq), 0) + 1 FROM map_changes WHERE campaign_id = ?", campaignID).Scan(&row.Seq).Error; err != nil {
		return err
	}
	return tx.Create(&row).Error
}

// said is a change in words.
func said(before, after route.Funnel, c route.Command) string {
	name := func(id string) string {
		if s, ok := after.Step(id); ok {
			return s.Name
		}
		s, _ := before.Step(id)
		return s.Name
	}
	switch c.Do {
	case route.AddStep:
		return fmt.Sprintf("“%s” put on the map", c.Step.Name)
	case route.RemoveStep:
		return fmt.Sprintf("“%s” taken off the map", name(c.Step.ID))
	case route.ChangeStep:
		return fmt.Sprintf("“%s” changed", name(c.Step.ID))
	case route.MoveStep:
		return fmt.Sprintf("“%s” moved", name(c.Step.ID))
	case route.LeadTo:
	}
	return fmt.Sprintf("who %s on “%s” led otherwise", c.Outcome.Who(), name(c.From))
}

// undoable says what would be undone, and done again.
func (k *Keeper) undoable(ctx context.Context, campaignID string) (undo, redo string, err error) {
	var row struct{ Undo, Redo string }
	err = k.Store.On(ctx).Raw(`SELECT coalesce((SELECT what FROM map_changes WHERE campaign_id = @c AND NOT undone ORDER BY seq DESC LIMIT 1), '') AS undo,
		coalesce((SELECT what FROM map_changes WHERE campaign_id = @c AND undone ORDER BY seq LIMIT 1), '') AS redo`, map[string]any{"c": campaignID}).Scan(&row).Error
	return row.Undo, row.Redo, err
}

// Undo takes the last change back; again does the last one that was taken back.
func (k *Keeper) Undo(ctx context.Context, campaignID string, again bool) error {
	sql := "SELECT * FROM map_changes WHERE campaign_id = ? AND NOT undone ORDER BY seq DESC LIMIT 1"
	if again {
		sql = "SELECT * FROM map_changes WHERE campaign_id = ? AND undone ORDER BY seq LIMIT 1"
	}
	err := k.Store.InAgain(ctx, func(tx *gorm.DB) error {
		f, err := drafts.LockedFunnel(tx, campaignID)
		if err != nil {
			return err
		}
		var row store.MapChange
		if err := tx.Raw(sql, campaignID).Scan(&row).Error; err != nil {
			return err
		}
		if row.CampaignID == "" {
			return refusal.Of(refusal.ErrConflict, "There is nothing to take back.")
		}
		var before, after route.Funnel
		if err := errors.Join(json.Unmarshal(row.Before, &before), json.Unmarshal(row.After, &after)); err != nil {
			return fmt.Errorf("read a change of the map: %w", err)
		}
		if again {
			before, after = after, before
		}
		next, err := f.Back(before, after)
		if err != nil {
			return err
		}
		if err := pagesThere(tx, next); err != nil {
			return err
		}
		if err := drafts.WriteFunnel(tx, campaignID, next); err != nil {
			return err
		}
		return tx.Exec("UPDATE map_changes SET undone = ? WHERE campaign_id = ? AND seq = ?", !again, campaignID, row.Seq).Error
	})
	k.News.FactsChanged()
	return err
}

// pagesThere refuses a map with a page that was set aside since.
func pagesThere(tx *gorm.DB, f route.Funnel) error {
	var ids []string
	for _, s := range f.Steps {
		if s.PageID != "" {
			ids = append(ids, s.PageID)
		}
	}
	var names []string
	err := tx.Raw("SELECT name FROM pages WHERE id = ANY(?::text[]) AND aside_at IS NOT NULL ORDER BY name", store.TextArray(ids)).Scan(&names).Error
	if err != nil {
		return fmt.Errorf("look for pages set aside: %w", err)
	}
	if len(names) > 0 {
		return refusal.Of(refusal.ErrConflict, "“%s” was set aside since; bring it back in Pages first.", names[0])
	}
	return nil
}

// stepPurposes are the purposes whose pages can be steps.
func stepPurposes() []string {
	var out []string
	for _, p := range purpose.All {
		if p.Step != "" {
			out = append(out, p.Name)
		}
	}
	return out
}

// New is a step as it is asked for.
type New struct {
	Kind    route.Kind
	Name    string
	PageID  string // an existing page; empty: one is made, where the kind has a page
	Address string
	FileID  string
	From    string // the step that leads to it, with the outcome; empty: none yet
	Outcome route.Outcome
}

// Add puts a step on a map, with a page of its own where it has one, and leads an
// outcome to it where one is named: by itself, or as one more share of where it led.
func (k *Keeper) Add(ctx context.Context, campaignID, userID string, n New) (string, map[string]string, error) {
	s := route.Step{ID: store.NewID(), Kind: n.Kind, Name: n.Name, Address: n.Address, FileID: n.FileID, PageID: n.PageID}
	faults := map[string]string{}
	if n.Kind.Paged() && n.PageID == "" {
		return k.addMade(ctx, campaignID, userID, n)
	}
	err := k.do(ctx, campaignID, userID, func(tx *gorm.DB, f route.Funnel) (route.Funnel, string, error) {
		if s.PageID != "" {
			page, err := store.One[store.Page](tx.Scopes(store.Shown).Where("id = ?", s.PageID), "There is no such page.")
			if err != nil {
				return f, "", err
			}
			s.Name, s.Kind = page.Name, purpose.Of(page.Purpose).Step
			if page.CampaignID == campaignID {
				s.ID = page.ID
			}
		}
		next, err := f.Apply(route.Command{Do: route.AddStep, Step: s})
		if err != nil {
			return f, "", err
		}
		next, err = ledTo(next, n.From, n.Outcome, s.ID)
		return next, fmt.Sprintf("“%s” put on the map", s.Name), err
	})
	return s.ID, faults, err
}

// addMade makes a page and puts it on the map.
func (k *Keeper) addMade(ctx context.Context, campaignID, userID string, n New) (string, map[string]string, error) {
	id, faults, err := k.made(ctx, campaignID, n)
	if err != nil || len(faults) > 0 {
		return id, faults, err
	}
	err = k.do(ctx, campaignID, userID, func(_ *gorm.DB, f route.Funnel) (route.Funnel, string, error) {
		next := f
		if _, on := f.Step(id); !on { // pages that join by themselves have
			var err error
			if next, err = f.Apply(route.Command{Do: route.AddStep, Step: route.Step{ID: id, Kind: n.Kind, PageID: id, Name: n.Name}}); err != nil {
				return f, "", err
			}
		}
		next, err := ledTo(next, n.From, n.Outcome, id)
		return next, fmt.Sprintf("“%s” put on the map", n.Name), err
	})
	return id, faults, err
}

// ledTo leads an outcome to a step: where it led to another before anybody's, to
// both by equal shares.
func ledTo(f route.Funnel, from string, o route.Outcome, to string) (route.Funnel, error) {
	if from == "" || o == "" {
		return f, nil
	}
	list := f.From(from, o)
	if slices.ContainsFunc(list, func(r route.Route) bool { return slices.Contains(r.Targets(), to) }) {
		return f, nil
	}
	if len(list) == 0 {
		list = []route.Route{{To: to}}
	} else {
		last := &list[len(list)-1]
		if !last.Forks() {
			last.Fork, last.To = []fork.Share{{To: last.To, Share: 1}}, ""
		}
		last.Fork = append(slices.Clone(last.Fork), fork.Share{To: to, Share: 1})
	}
	return f.Apply(route.Command{Do: route.LeadTo, From: from, Outcome: o, Routes: list})
}
