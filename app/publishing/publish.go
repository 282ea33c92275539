package publishing

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"time"

	"chrysagon/app/drafts"
	"chrysagon/app/pictures"
	"chrysagon/core/check"
	"chrysagon/core/compose"
	"chrysagon/core/manuscript"
	"chrysagon/core/publish"
	"chrysagon/core/purpose"
	"chrysagon/core/refusal"
	"chrysagon/core/route"
	"chrysagon/core/route/fault"
	"chrysagon/store"

	"gorm.io/gorm"
)

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
	Drafts   []drafts.Draft // in the order of the funnel
	Changes  []PageChange
	Editions []EditionInfo
	Findings map[string][]check.Finding // by page ID
	Funnel   route.Funnel               // as it is drafted
	Faults   []fault.Fault
	About    map[string]fault.About // what each step sells and asks
	Goods    map[string]string      // names of goods, by ID
	Rerouted []string               // in words, how the draft's steps and routes differ
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

// Recomposed tells whether what is live is drawn in a former composition, so that going
// out anew would change how it looks.
func (s State) Recomposed() bool { return s.Live != nil && s.Live.Composition != compose.Version }

// Differs counts the bands and other things in which the draft differs.
func (s State) Differs() int {
	n := len(s.Rerouted)
	if s.Recomposed() {
		n++
	}
	for _, c := range s.Changes {
		n += len(c.Bands) + len(c.Words)
	}
	return n
}

// Stopped tells whether something keeps the campaign from going out.
func (s State) Stopped() bool { return s.draft().Stops+s.draft().Faults > 0 }

// Stopping lists the faults of the paths that stop publishing.
func (s State) Stopping() []fault.Fault {
	return slices.DeleteFunc(slices.Clone(s.Faults), func(f fault.Fault) bool { return f.Gravity != check.Stops })
}

func (s State) draft() publish.Draft {
	d := publish.Draft{Faults: len(s.Stopping()), Differs: s.Differs()}
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
func (publisher *Publisher) Changes(ctx context.Context, campaignID string) (State, error) {
	if _, err := publisher.Due(ctx); err != nil {
		return State{}, err
	}
	return publisher.changes(ctx, campaignID, nil)
}

// changes reads them, and more lists of the campaign by the same statement.
func (publisher *Publisher) changes(ctx context.Context, campaignID string, more []store.Part) (State, error) {
	var campaigns []store.Campaign
	var former []pictures.Former
	var drawn drafts.Funnel
	s := State{Findings: map[string][]check.Finding{}}
	err := store.Together(publisher.Store.On(ctx), append(append(more, drawn.Parts(campaignID)...),
		store.Part{SQL: "SELECT * FROM campaigns WHERE id = ?", Args: []any{campaignID}, Into: &campaigns}, pictures.FormersOf(campaignID, &former))...)
	if err != nil {
		return s, fmt.Errorf("read the campaign: %w", err)
	}
	if len(campaigns) == 0 {
		return s, refusal.Of(refusal.ErrNotFound, "There is no such campaign.")
	}
	s.Funnel = drawn.Read()
	if s.Campaign = campaigns[0]; s.Campaign.LiveEditionID != nil {
		if s.Live, err = publisher.Edition(ctx, *s.Campaign.LiveEditionID); err != nil {
			return s, err
		}
	}
	if s.Drafts, err = publisher.Drafts.ReadDrafts(ctx, campaignID); err != nil {
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
	if s.Live != nil {
		s.Rerouted = route.Differences(s.Live.Funnel, s.Funnel)
	}
	return s, nil
}

// gone are the pages of the live edition that the draft has no more.
func (s State) gone() []PageChange {
	if s.Live == nil {
		return nil
	}
	var out []PageChange
	for _, p := range s.Live.Pages {
		if !slices.ContainsFunc(s.Drafts, func(d drafts.Draft) bool { return d.ID == p.ID }) {
			out = append(out, PageChange{Page: p.Name, Words: []string{"set aside"}})
		}
	}
	return out
}

// State reads what Changes does, and whether the draft may go out: the launch
// check's findings, the funnel's faults, and the editions so far.
func (publisher *Publisher) State(ctx context.Context, campaignID string) (State, error) {
	if _, err := publisher.Due(ctx); err != nil {
		return State{}, err
	}
	return publisher.state(ctx, campaignID)
}

func (publisher *Publisher) state(ctx context.Context, campaignID string) (State, error) {
	var planned []Planned
	var bound []boundOffer
	var linked []struct{ StepID string }
	var editions []EditionInfo
	s, err := publisher.changes(ctx, campaignID, []store.Part{plannedOf(campaignID, &planned), boundTo(campaignID, &bound), linksInto(campaignID, &linked), {
		SQL: "SELECT id, number, published_at, published_by FROM editions WHERE campaign_id = ? ORDER BY number DESC LIMIT 20", Args: []any{campaignID}, Into: &editions,
	}})
	if err != nil {
		return s, err
	}
	s.Planned, s.Editions = planned, editions
	if err := publisher.prove(ctx, &s, bound, linked); err != nil {
		return s, err
	}
	for i := range s.Editions {
		s.Editions[i].Live = s.Live != nil && s.Editions[i].ID == s.Live.ID
	}
	return s, err
}

func compare(live *Edition, d drafts.Draft) PageChange {
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
		{"title", p.Title, d.Title}, {"description", p.Description, d.Description}, {"layout", drafts.LayoutOf(p.Layout), drafts.LayoutOf(d.Layout)},
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

// Publish compiles a campaign's drafts into an edition and puts it live, in
// one transaction.
func (publisher *Publisher) Publish(ctx context.Context, campaignID, by string) (int, error) {
	return publisher.PlanEdition(ctx, campaignID, by, publish.Plan{}, "")
}

// compile makes an edition of a campaign's drafts as they are now, to be live
// from a moment (zero: now), and lets then do the rest in the same transaction.
func (publisher *Publisher) compile(ctx context.Context, campaignID, by string, from time.Time, then func(*gorm.DB, store.Edition, []EditionPage) error) error {
	if _, err := publisher.Due(ctx); err != nil {
		return err
	}
	if from.IsZero() {
		from = publisher.Store.Now()
	}
	err := publisher.Store.InAgain(ctx, func(tx *gorm.DB) error {
		// What is checked is what goes out: all of it is read at one moment, and no
		// page joins the funnel, or leaves it, until it is live.
		if err := tx.Exec("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ").Error; err != nil {
			return err
		}
		if err := tx.Exec("SELECT FROM campaigns WHERE id = ? FOR UPDATE", campaignID).Error; err != nil {
			return err
		}
		s, err := publisher.state(store.Within(ctx, tx), campaignID)
		if err != nil {
			return err
		}
		if why := s.draft().Refusal(); why != "" {
			return refusal.Of(refusal.ErrInvalid, "%s", why)
		}
		e := Edition{Funnel: s.Funnel, Composition: compose.Version}
		for _, d := range s.Drafts {
			e.Pages = append(e.Pages, EditionPage{
				ID: d.ID, Name: d.Name, Address: d.Address, Title: d.Title, Description: d.Description, Layout: d.Layout, Purpose: d.Purpose, Manuscript: d.Tree,
			})
		}
		content, err := json.Marshal(e)
		if err != nil {
			return fmt.Errorf("write the edition: %w", err)
		}
		row := store.Edition{ID: store.NewID(), CampaignID: campaignID, Content: content, PublishedAt: from, PublishedBy: by}
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
	publisher.News.FactsChanged()
	return nil
}

// PutBack makes a former edition the live one again. The draft stays as it is.
func (publisher *Publisher) PutBack(ctx context.Context, campaignID, editionID string) (int, error) {
	e, err := publisher.EditionOf(ctx, campaignID, editionID)
	if err != nil {
		return 0, err
	}
	err = publisher.Store.In(ctx, func(tx *gorm.DB) error { return goLive(tx, campaignID, e.ID, e.Pages, publisher.Store.Now()) })
	if err != nil {
		return 0, fmt.Errorf("put edition %d back: %w", e.Number, err)
	}
	publisher.News.FactsChanged()
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
	if err := tx.Scopes(store.OfCampaign(campaignID)).Delete(&store.LivePage{}).Error; err != nil {
		return err
	}
	for _, p := range pages {
		if purpose.Of(p.Purpose).Mail {
			continue // nobody finds it at an address
		}
		row := store.LivePage{Address: p.Address, PageID: p.ID, CampaignID: campaignID}
		if err := tx.Create(&row).Error; err != nil {
			if store.IsDuplicate(err) {
				return refusal.Of(refusal.ErrConflict, "Another campaign already has a page live at /%s. Give this page another address.", p.Address)
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
	if err := tx.Scopes(store.OfCampaign(campaignID)).Find(&was).Error; err != nil {
		return err
	}
	for _, old := range was {
		if !slices.ContainsFunc(pages, func(p EditionPage) bool { return p.ID == old.PageID }) {
			if err := LeadOn(tx, old.PageID, at); err != nil {
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

// SoldIn lists the products that a campaign's drafts sell.
func (publisher *Publisher) SoldIn(ctx context.Context, campaignID string) ([]string, error) {
	drafts, err := publisher.Drafts.ReadDrafts(ctx, campaignID)
	if err != nil {
		return nil, err
	}
	var ids []string
	for _, d := range drafts {
		d.Tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
			if schema := publisher.Render.Registry.Schema(); schema[p.Kind].Traits.Takes == manuscript.TakesOrder {
				sells, _ := schema.Buys(p)
				ids = append(ids, sells...)
			}
		})
	}
	return ids, nil
}
