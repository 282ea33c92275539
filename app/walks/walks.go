// Package walks leads visitors along the routes of their funnel, each as they were assigned, and remembers where they are.
package walks

import (
	"context"
	"errors"
	"fmt"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/app/publishing"
	"chrysagon/core/pass"
	"chrysagon/core/refusal"
	"chrysagon/core/route"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Guide leads them.
type Guide struct {
	Publishing *publishing.Publisher
	Store      *store.Store
}

// Lasts is for how long a walker keeps the routes of the edition they began with.
const Lasts = 30 * 24 * time.Hour

// Place is where a visitor stands: on a step, by the routes of an edition.
type Place struct {
	Edition *publishing.Edition
	Step    route.Step
}

// Of is the place that a live page has by itself.
func Of(live publishing.Live) Place { return Place{live.Edition, live.Step} }

// Stand is where a visitor stands on a live page: in the funnel that led them
// here, by the routes of the edition they began with. Of whom nothing is known
// stands where the page does by itself.
func (g *Guide) Stand(ctx context.Context, live publishing.Live, visitor string) (Place, error) {
	if visitor == "" {
		return Of(live), nil
	}
	var rows []store.Walk
	err := g.Store.On(ctx).Raw(`SELECT w.* FROM walks w JOIN campaigns c ON c.id = w.campaign_id AND c.live_edition_id IS NOT NULL
		WHERE w.visitor = ? AND w.begun_at > ? ORDER BY w.moved_at DESC LIMIT 8`, visitor, g.Store.Now().Add(-Lasts)).Scan(&rows).Error
	if err != nil {
		return Of(live), fmt.Errorf("read a visitor's walks: %w", err)
	}
	own := Of(live)
	for _, w := range rows {
		e, err := g.Publishing.Edition(ctx, w.EditionID)
		if err != nil {
			return own, err
		}
		s, is := e.StepOf(live.Page.ID)
		switch {
		case !is:
		case w.StepID == s.ID:
			return Place{e, s}, nil
		case e.CampaignID == live.Edition.CampaignID:
			own = Place{e, s}
		}
	}
	return own, nil
}

// walk is a visitor's walk in a campaign; the empty one where they began none.
func (g *Guide) walk(db *gorm.DB, campaignID, visitor string) (store.Walk, error) {
	var row store.Walk
	err := db.Raw("SELECT * FROM walks WHERE campaign_id = ? AND visitor = ?", campaignID, visitor).Scan(&row).Error
	if err != nil {
		return row, fmt.Errorf("read a walk: %w", err)
	}
	return row, nil
}

// To is where a visitor is led.
type To struct {
	Step route.Step
	Path string // in the shop, or a whole address outside
}

// ErrNowhere is that no route leads on from there.
var ErrNowhere = errors.New("no route leads on")

// Lead is where an outcome leads a visitor from their place. It keeps the share
// they were assigned, and where they are now. Where the routes of their own edition
// lead nowhere any more, because a page is gone, the live ones do.
func (g *Guide) Lead(ctx context.Context, at Place, visitor string, o route.Outcome, about func(*route.Walker) error) (To, error) {
	db := g.Store.On(ctx)
	been, err := g.walk(db, at.Edition.CampaignID, visitor)
	if err != nil {
		return To{}, err
	}
	w := route.Walker{ID: visitor, Source: been.Source}
	if about != nil {
		if err := about(&w); err != nil {
			return To{}, err
		}
	}
	editions := []*publishing.Edition{at.Edition}
	live, err := g.Publishing.LiveOf(ctx, at.Edition.CampaignID)
	if err != nil {
		return To{}, err
	}
	if live != nil && live.ID != at.Edition.ID {
		editions = append(editions, live)
	}
	for _, e := range editions {
		open, err := g.addresses(db, e.Funnel)
		if err != nil {
			return To{}, err
		}
		if w.Kept, err = g.kept(db, e.Funnel.From(at.Step.ID, o), visitor); err != nil {
			return To{}, err
		}
		led, ok := e.Funnel.Lead(at.Step.ID, o, w, open.has)
		if ok {
			return g.to(ctx, at, visitor, led, open)
		}
	}
	return To{}, ErrNowhere
}

// to is the way to a step, and notes that a visitor was led there.
func (g *Guide) to(ctx context.Context, at Place, visitor string, led route.Led, open addresses) (To, error) {
	walk, err := g.note(g.Store.On(ctx), at, visitor, led)
	if err != nil {
		return To{}, err
	}
	path, err := g.path(ctx, led.Step, open, walk)
	return To{led.Step, path}, err
}

// addresses are those of a funnel's pages that are live, by the pages' IDs.
type addresses map[string]string

// has tells whether a step can be led to: it is no page of the store, or a live one.
func (a addresses) has(s route.Step) bool { return !s.Kind.Paged() || a[s.PageID] != "" }

func (g *Guide) addresses(db *gorm.DB, f route.Funnel) (addresses, error) {
	var ids []string
	for _, s := range f.Steps {
		ids = append(ids, s.PageID)
	}
	var rows []store.LivePage
	if err := db.Raw("SELECT * FROM live_pages WHERE page_id = ANY(?::text[])", store.TextArray(ids)).Scan(&rows).Error; err != nil {
		return nil, fmt.Errorf("look for the live pages: %w", err)
	}
	out := addresses{}
	for _, r := range rows {
		out[r.PageID] = r.Address
	}
	return out, nil
}

// kept reads where forks among some routes assigned a visitor before, on this
// browser or on another of the same person: the earliest holds.
func (g *Guide) kept(db *gorm.DB, list []route.Route, visitor string) (func(string) string, error) {
	var keys []string
	for _, r := range list {
		if r.Forks() {
			keys = append(keys, r.Key())
		}
	}
	if len(keys) == 0 || visitor == "" {
		return nil, nil
	}
	var rows []store.Assignment
	err := db.Raw(`SELECT DISTINCT ON (route_id) * FROM assignments WHERE route_id = ANY(?::text[]) AND visitor IN (
			SELECT ?::text UNION SELECT b.visitor FROM visitor_emails a JOIN visitor_emails b ON b.email = a.email WHERE a.visitor = ?)
		ORDER BY route_id, at, visitor`, store.TextArray(keys), visitor, visitor).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("read where a visitor was assigned: %w", err)
	}
	return func(key string) string {
		for _, r := range rows {
			if r.RouteID == key {
				return r.ToStep
			}
		}
		return ""
	}, nil
}

// path is where a step is found. A page outside is told whose walk it is, where the
// store lists its host.
func (g *Guide) path(ctx context.Context, s route.Step, open addresses, walk string) (string, error) {
	switch s.Kind { //nolint:exhaustive // the others are pages
	case route.Outside:
		shop, err := g.Store.Shop(ctx)
		if err != nil || walk == "" || !pass.Listed(shop.OutsideHosts, s.Address) {
			return s.Address, err
		}
		return pass.Carry(s.Address, pass.Write(shop.SealKey, pass.Pass{Walk: walk, Step: s.ID, At: g.Store.Now()})), nil
	case route.File:
		f, err := factbook.File(g.Store.On(ctx), s.FileID)
		if errors.Is(err, refusal.ErrNotFound) {
			return "/", nil // it was taken away since
		}
		return f.Path, err
	case route.End:
		return "/", nil
	}
	return "/" + open[s.PageID], nil
}

// PageAt is where the page of a step is found, "/" where it is not live.
func (g *Guide) PageAt(ctx context.Context, s route.Step) (string, error) {
	found, err := g.addresses(g.Store.On(ctx), route.Funnel{Steps: []route.Step{s}})
	return "/" + found[s.PageID], err
}

// note keeps the share that a visitor was assigned, and where they are now; it names
// their walk.
func (g *Guide) note(db *gorm.DB, at Place, visitor string, led route.Led) (walk string, err error) {
	if visitor == "" {
		return "", nil
	}
	now := g.Store.Now()
	if led.Route.Forks() {
		err := db.Exec(`INSERT INTO assignments (route_id, visitor, to_step, at) VALUES (?, ?, ?, ?)
			ON CONFLICT (route_id, visitor) DO UPDATE SET to_step = EXCLUDED.to_step WHERE assignments.to_step <> EXCLUDED.to_step`, led.Route.Key(), visitor, led.Step.ID, now).Error
		if err != nil {
			return "", fmt.Errorf("keep a visitor's share: %w", err)
		}
	}
	// A walk that was not rolled up yet begins here; its source comes with its view.
	err = db.Raw(`INSERT INTO walks (campaign_id, visitor, id, edition_id, begun_at, source, landing, step_id, moved_at, counted) VALUES (?, ?, ?, ?, ?, '', ?, ?, ?, false)
		ON CONFLICT (campaign_id, visitor) DO UPDATE SET step_id = EXCLUDED.step_id, moved_at = EXCLUDED.moved_at,
			edition_id = CASE WHEN walks.begun_at > ? THEN walks.edition_id ELSE EXCLUDED.edition_id END,
			begun_at = CASE WHEN walks.begun_at > ? THEN walks.begun_at ELSE EXCLUDED.begun_at END
		RETURNING id`,
		at.Edition.CampaignID, visitor, store.NewID(), at.Edition.ID, now, at.Step.ID, led.Step.ID, now, now.Add(-Lasts), now.Add(-Lasts)).Scan(&walk).Error
	if err != nil {
		return "", fmt.Errorf("keep where a visitor is: %w", err)
	}
	return walk, nil
}

// Known notes that a visitor said who they are: browsers that say the same email
// are one person, who stays where they were assigned first.
func Known(tx *gorm.DB, visitor, email string, at time.Time) error {
	if visitor == "" || email == "" {
		return nil
	}
	err := tx.Exec("INSERT INTO visitor_emails (visitor, email, at) VALUES (?, lower(?), ?) ON CONFLICT DO NOTHING", visitor, email, at).Error
	if err != nil {
		return fmt.Errorf("keep who a visitor is: %w", err)
	}
	return nil
}
