package app

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"time"

	"chrysagon/core/check"
	"chrysagon/core/manuscript"
	"chrysagon/core/publish"
	"chrysagon/core/purpose"
	"chrysagon/core/route"
	"chrysagon/store"

	"gorm.io/gorm"
)

// draftFunnel reads the steps and routes of a campaign as they are drafted.
func (a *App) draftFunnel(ctx context.Context, campaignID string) (route.Funnel, error) {
	return readFunnel(a.db(ctx), campaignID)
}

// lockedFunnel reads a campaign's funnel to change it: nobody else does until
// the transaction ends.
func lockedFunnel(tx *gorm.DB, campaignID string) (route.Funnel, error) {
	if err := tx.Exec("SELECT FROM campaigns WHERE id = ? FOR UPDATE", campaignID).Error; err != nil {
		return route.Funnel{}, fmt.Errorf("lock the campaign: %w", err)
	}
	return readFunnel(tx, campaignID)
}

func readFunnel(db *gorm.DB, campaignID string) (route.Funnel, error) {
	var f route.Funnel
	var steps []struct{ ID, Kind, PageID, Name string }
	err := db.Raw(`SELECT s.id, s.kind, s.page_id, p.name FROM steps s JOIN pages p ON p.id = s.page_id
		WHERE s.campaign_id = ? ORDER BY s.position`, campaignID).Scan(&steps).Error
	if err != nil {
		return f, fmt.Errorf("read the steps: %w", err)
	}
	for _, s := range steps {
		f.Steps = append(f.Steps, route.Step{ID: s.ID, Kind: route.Kind(s.Kind), PageID: s.PageID, Name: s.Name})
	}
	var routes []store.Route
	err = db.Raw(`SELECT r.* FROM routes r JOIN steps s ON s.id = r.from_step WHERE s.campaign_id = ?
		ORDER BY s.position, r.outcome`, campaignID).Scan(&routes).Error
	if err != nil {
		return f, fmt.Errorf("read the routes: %w", err)
	}
	for _, r := range routes {
		f.Routes = append(f.Routes, route.Route{From: r.FromStep, Outcome: route.Outcome(r.Outcome), To: r.ToStep})
	}
	return f, nil
}

// PageChange says how a page's draft differs from what is live.
type PageChange struct {
	Page  string
	Bands []manuscript.Difference
	Words []string // other differences: name, address, title, description; or the page is new
}

// State is what is live of a campaign, and what its draft changed.
type State struct {
	Campaign store.Campaign
	Live     *Edition
	Drafts   []Draft // in the order of the funnel
	Changes  []PageChange
	Editions []EditionInfo
	Findings map[string][]check.Finding // by page ID
	Faults   []route.Fault
	Planned  []Planned
}

// EditionInfo is one edition in the list of them.
type EditionInfo struct {
	ID          string
	Number      int
	PublishedAt time.Time
	PublishedBy string
	Live        bool
}

// Differs counts the bands and other things in which the draft differs.
func (s State) Differs() int {
	n := 0
	for _, c := range s.Changes {
		n += len(c.Bands) + len(c.Words)
	}
	return n
}

// Stopped tells whether something keeps the campaign from going out.
func (s State) Stopped() bool { return s.draft().Stops+s.draft().Faults > 0 }

func (s State) draft() publish.Draft {
	d := publish.Draft{Faults: len(s.Faults), Differs: s.Differs()}
	if s.Live != nil {
		d.Live = s.Live.Number
	}
	for _, list := range s.Findings {
		if check.Stopping(list) {
			d.Stops++
		}
	}
	return d
}

// Changes reads what is live of a campaign and what its draft changed, and no
// more: every keystroke in a manuscript asks for it.
func (a *App) Changes(ctx context.Context, campaignID string) (State, error) {
	if _, err := a.Due(ctx); err != nil {
		return State{}, err
	}
	return a.changes(ctx, campaignID)
}

func (a *App) changes(ctx context.Context, campaignID string) (State, error) {
	c, err := one[store.Campaign](a.db(ctx).Where("id = ?", campaignID), "There is no such campaign.")
	if err != nil {
		return State{}, err
	}
	s := State{Campaign: c, Findings: map[string][]check.Finding{}}
	if s.Live, err = a.liveEdition(ctx, campaignID); err != nil {
		return s, err
	}
	if s.Drafts, err = a.readDrafts(ctx, campaignID); err != nil {
		return s, err
	}
	former, err := formersOf(a.db(ctx), campaignID)
	if err != nil {
		return s, err
	}
	for _, d := range s.Drafts {
		change := compare(s.Live, d)
		for _, f := range former {
			if f.PageID == d.ID {
				change.Words = append(change.Words, "a picture was replaced or cut")
			}
		}
		if len(change.Bands)+len(change.Words) > 0 {
			s.Changes = append(s.Changes, change)
		}
	}
	s.Changes = append(s.Changes, s.gone()...)
	return s, nil
}

// gone are the pages of the live edition that the draft has no more.
func (s State) gone() []PageChange {
	if s.Live == nil {
		return nil
	}
	var out []PageChange
	for _, p := range s.Live.Pages {
		if !slices.ContainsFunc(s.Drafts, func(d Draft) bool { return d.ID == p.ID }) {
			out = append(out, PageChange{Page: p.Name, Words: []string{"set aside"}})
		}
	}
	return out
}

// State reads what Changes does, and whether the draft may go out: the launch
// check's findings, the funnel's faults, and the editions so far.
func (a *App) State(ctx context.Context, campaignID string) (State, error) {
	if _, err := a.Due(ctx); err != nil {
		return State{}, err
	}
	return a.state(ctx, campaignID)
}

func (a *App) state(ctx context.Context, campaignID string) (State, error) {
	s, err := a.changes(ctx, campaignID)
	if err != nil {
		return s, err
	}
	for _, d := range s.Drafts {
		if s.Findings[d.ID], err = a.Check(ctx, d); err != nil {
			return s, err
		}
	}
	funnel, err := a.draftFunnel(ctx, campaignID)
	if err != nil {
		return s, err
	}
	if len(funnel.Steps) > 0 || len(s.Drafts) == 0 { // pages that stand for themselves need no funnel
		s.Faults = funnel.Faults()
	}
	if s.Planned, err = a.Planned(ctx, campaignID); err != nil {
		return s, err
	}
	err = a.db(ctx).Raw(`SELECT id, number, published_at, published_by FROM editions WHERE campaign_id = ? ORDER BY number DESC LIMIT 20`, campaignID).Scan(&s.Editions).Error
	for i := range s.Editions {
		s.Editions[i].Live = s.Live != nil && s.Editions[i].ID == s.Live.ID
	}
	return s, err
}

// readDrafts reads the pages of a campaign in the order of its funnel.
func (a *App) readDrafts(ctx context.Context, campaignID string) ([]Draft, error) {
	var rows []store.Page
	err := a.db(ctx).Raw(`SELECT p.* FROM pages p LEFT JOIN steps s ON s.page_id = p.id WHERE p.campaign_id = ? AND p.aside_at IS NULL ORDER BY s.position, p.name`, campaignID).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("read the pages: %w", err)
	}
	drafts := make([]Draft, len(rows))
	for i, r := range rows {
		if drafts[i], err = a.draftOf(r); err != nil {
			return nil, err
		}
	}
	return drafts, nil
}

func compare(live *Edition, d Draft) PageChange {
	change := PageChange{Page: d.Name}
	if live == nil {
		return change
	}
	p, was := live.Page(d.ID)
	if !was {
		change.Words = []string{"the page is new"}
		return change
	}
	change.Bands = manuscript.Differences(p.Manuscript, d.Tree)
	for _, pair := range []struct{ what, live, draft string }{
		{"name", p.Name, d.Name}, {"address", p.Address, d.Address},
		{"title", p.Title, d.Title}, {"description", p.Description, d.Description}, {"layout", layoutOf(p.Layout), layoutOf(d.Layout)},
	} {
		if pair.live != pair.draft {
			change.Words = append(change.Words, pair.what)
		}
	}
	if p.Manuscript.Sharing != d.Tree.Sharing {
		change.Words = append(change.Words, "what is shared")
	}
	if !slices.Equal(p.Manuscript.Own, d.Tree.Own) {
		change.Words = append(change.Words, "own code")
	}
	if !maps.Equal(p.Manuscript.Look, d.Tree.Look) {
		change.Words = append(change.Words, "look of the whole page")
	}
	return change
}

func layoutOf(name string) string {
	if name == "" {
		return "bare"
	}
	return name
}

// Publish compiles a campaign's drafts into an edition and puts it live, in
// one transaction.
func (a *App) Publish(ctx context.Context, campaignID, by string) (int, error) {
	return a.PlanEdition(ctx, campaignID, by, publish.Plan{}, "")
}

// compile makes an edition of a campaign's drafts as they are now, to be live
// from a moment (zero: now), and lets then do the rest in the same transaction.
func (a *App) compile(ctx context.Context, campaignID, by string, from time.Time, then func(*gorm.DB, store.Edition, []EditionPage) error) error {
	if _, err := a.Due(ctx); err != nil {
		return err
	}
	if from.IsZero() {
		from = a.Now()
	}
	err := a.Store.InAgain(ctx, func(tx *gorm.DB) error {
		// What is checked is what goes out: all of it is read at one moment, and no
		// page joins the funnel, or leaves it, until it is live.
		if err := tx.Exec("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ").Error; err != nil {
			return err
		}
		if err := tx.Exec("SELECT FROM campaigns WHERE id = ? FOR UPDATE", campaignID).Error; err != nil {
			return err
		}
		s, err := a.state(within(ctx, tx), campaignID)
		if err != nil {
			return err
		}
		if why := s.draft().Refusal(); why != "" {
			return refuse(ErrInvalid, "%s", why)
		}
		funnel, err := readFunnel(tx, campaignID)
		if err != nil {
			return err
		}
		e := Edition{Funnel: funnel}
		for _, d := range s.Drafts {
			e.Pages = append(e.Pages, EditionPage{
				ID: d.ID, Name: d.Name, Address: d.Address, Title: d.Title, Description: d.Description, Layout: d.Layout, Purpose: d.Purpose, Manuscript: d.Tree,
			})
		}
		content, err := json.Marshal(e)
		if err != nil {
			return fmt.Errorf("write the edition: %w", err)
		}
		row := store.Edition{ID: NewID(), CampaignID: campaignID, Content: content, PublishedAt: from, PublishedBy: by}
		if err := tx.Raw("SELECT coalesce(max(number), 0) + 1 FROM editions WHERE campaign_id = ?", campaignID).Scan(&row.Number).Error; err != nil {
			return err
		}
		if err := tx.Create(&row).Error; err != nil {
			return err
		}
		return then(tx, row, e.Pages)
	})
	if err != nil {
		return fmt.Errorf("publish: %w", err)
	}
	a.factsChanged()
	return nil
}

// PutBack makes a former edition the live one again. The draft stays as it is.
func (a *App) PutBack(ctx context.Context, campaignID, editionID string) (int, error) {
	e, err := a.EditionOf(ctx, campaignID, editionID)
	if err != nil {
		return 0, err
	}
	err = a.Store.In(ctx, func(tx *gorm.DB) error { return goLive(tx, campaignID, e.ID, e.Pages, a.Now()) })
	if err != nil {
		return 0, fmt.Errorf("put edition %d back: %w", e.Number, err)
	}
	a.factsChanged()
	return e.Number, nil
}

func goLive(tx *gorm.DB, campaignID, editionID string, pages []EditionPage, at time.Time) error {
	err := tx.Model(&store.Campaign{}).Where("id = ?", campaignID).Update("live_edition_id", editionID).Error
	if err != nil {
		return err
	}
	if err := leaveAddresses(tx, campaignID, pages, at); err != nil {
		return err
	}
	if err := tx.Where("campaign_id = ?", campaignID).Delete(&store.LivePage{}).Error; err != nil {
		return err
	}
	for _, p := range pages {
		row := store.LivePage{Address: p.Address, PageID: p.ID, CampaignID: campaignID}
		if err := tx.Create(&row).Error; err != nil {
			if isDuplicate(err) {
				return refuse(ErrConflict, "Another campaign already has a page live at /%s. Give this page another address.", p.Address)
			}
			return err
		}
	}
	return nil
}

// leaveAddresses remembers where pages were that go live elsewhere, so that
// links to the old address still lead to them.
func leaveAddresses(tx *gorm.DB, campaignID string, pages []EditionPage, at time.Time) error {
	var was []store.LivePage
	if err := tx.Where("campaign_id = ?", campaignID).Find(&was).Error; err != nil {
		return err
	}
	for _, old := range was {
		if !slices.ContainsFunc(pages, func(p EditionPage) bool { return p.ID == old.PageID }) {
			if err := leadOn(tx, old.PageID, at); err != nil {
				return err
			}
		}
		for _, p := range pages {
			if p.ID != old.PageID || p.Address == old.Address {
				continue
			}
			if err := leadFrom(tx, store.FormerAddress{Address: old.Address, PageID: old.PageID, LeftAt: at}); err != nil {
				return err
			}
		}
	}
	return nil
}

// Dress changes what a page is for and what stands around it.
func (a *App) Dress(ctx context.Context, pageID, part, layout string) error {
	if !isLayout(layout) {
		return refuse(ErrInvalid, "Choose what stands around the page.")
	}
	d, err := a.Draft(ctx, pageID)
	if err != nil {
		return err
	}
	if part == "" {
		part = d.Purpose
	}
	if part != d.Purpose && (purpose.Of(part).Step != "" || purpose.Of(d.Purpose).Step != "" || !purpose.Known(part)) {
		return refuse(ErrInvalid, "What sells or follows a payment has its place in the funnel; make a new page for that.")
	}
	return a.db(ctx).Model(&store.Page{}).Where("id = ?", pageID).Updates(map[string]any{"purpose": part, "layout": layout, "revision": gorm.Expr("revision + 1")}).Error
}

// SoldIn lists the products that a campaign's drafts sell.
func (a *App) SoldIn(ctx context.Context, campaignID string) ([]string, error) {
	drafts, err := a.readDrafts(ctx, campaignID)
	if err != nil {
		return nil, err
	}
	var ids []string
	for _, d := range drafts {
		d.Tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
			if p.Kind == "checkout" {
				ids = append(ids, p.Fields.Text("product"))
			}
		})
	}
	return ids, nil
}
