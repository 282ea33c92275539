// Package routes draws a campaign's map: its steps and routes with what came of them, changes that can be undone, plans, links that lead in.
package routes

import (
	"context"
	"fmt"
	"slices"
	"time"

	"chrysagon/app/drafts"
	"chrysagon/app/factbook"
	"chrysagon/app/news"
	"chrysagon/app/pages"
	"chrysagon/app/publishing"
	"chrysagon/core/manuscript"
	"chrysagon/core/route"
	"chrysagon/store"

	"gorm.io/gorm/clause"
)

// Keeper keeps the maps.
type Keeper struct {
	Drafts     *drafts.Reader
	Facts      *factbook.Reader
	News       *news.Hub
	Pages      *pages.Pages
	Publishing *publishing.Publisher
	Store      *store.Store
}

// Window is whose walks are counted: those that began since a moment, by one
// source or by all.
type Window struct {
	Since  time.Time
	Source string
}

// Map is a campaign's map with all that is known of it.
type Map struct {
	publishing.State
	Schema    manuscript.Schema
	Figures   Figures
	Links     []Link
	Posts     []Post          // follow-ups that begin at its steps
	Undo      string          // what would be undone, in words; "" nothing
	Redo      string          // and done again
	Outside   []store.Page    // pages that are on no map, or could be put on this one
	Files     []store.Handout // that can be handed out
	Currency  string
	Hosts     string   // on which pages outside may report
	Minutes   int      // after which a visitor of whom nothing came has left
	Countries []string // that the store sends to
	Floor     string   // per cent of the revenue that the store wants to keep
}

// Map reads it.
func (k *Keeper) Map(ctx context.Context, campaignID string, w Window) (Map, error) {
	state, err := k.Publishing.State(ctx, campaignID)
	if err != nil {
		return Map{}, err
	}
	m := Map{State: state, Schema: k.Drafts.Render.Registry.Schema()}
	shop, err := k.Store.Shop(ctx)
	if err != nil {
		return m, err
	}
	m.Currency, m.Hosts, m.Minutes, m.Floor, m.Countries = shop.Currency, shop.OutsideHosts, shop.LeftMinutes, shop.FloorPercent.String(), shop.Countries
	if m.Figures, err = k.figures(ctx, campaignID, w, shop.LeftMinutes); err != nil {
		return m, err
	}
	if m.Links, err = k.links(ctx, campaignID); err != nil {
		return m, err
	}
	if m.Posts, err = k.posts(ctx, campaignID, w.Since, shop.Currency); err != nil {
		return m, err
	}
	if m.Undo, m.Redo, err = k.undoable(ctx, campaignID); err != nil {
		return m, err
	}
	if err := k.Store.On(ctx).Omit("bytes").Order("name").Limit(200).Find(&m.Files).Error; err != nil {
		return m, fmt.Errorf("read the files: %w", err)
	}
	m.Outside, err = k.outside(ctx, campaignID, state.Funnel)
	return m, err
}

// outside lists the pages that could be put on a map: this campaign's that are not
// on it, then those of others.
func (k *Keeper) outside(ctx context.Context, campaignID string, f route.Funnel) ([]store.Page, error) {
	var list []store.Page
	err := k.Store.On(ctx).Omit("manuscript").Scopes(store.Shown).Where("purpose IN ?", stepPurposes()).
		Order(clause.Expr{SQL: "campaign_id <> ?, name", Vars: []any{campaignID}}).Limit(300).Find(&list).Error
	if err != nil {
		return nil, fmt.Errorf("look for pages: %w", err)
	}
	return slices.DeleteFunc(list, func(p store.Page) bool { _, on := f.StepOf(p.ID); return on }), nil
}
