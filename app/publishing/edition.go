package publishing

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"chrysagon/core/compose"
	"chrysagon/core/goods"
	"chrysagon/core/manuscript"
	"chrysagon/core/purpose"
	"chrysagon/core/refusal"
	"chrysagon/core/route"
	"chrysagon/store"
)

// Edition is one published, unchangeable state of a campaign.
type Edition struct {
	ID         string        `json:"-"`
	CampaignID string        `json:"-"`
	Number     int           `json:"-"`
	Funnel     route.Funnel  `json:"funnel"`
	Pages      []EditionPage `json:"pages"`
	// Composition is the one in which its pages are drawn as long as it is live; an
	// edition that names none is of the first.
	Composition int `json:"composition,omitempty"`
}

// EditionPage is one page as it was published.
type EditionPage struct {
	ID          string          `json:"id"`
	Name        string          `json:"name"`
	Address     string          `json:"address"`
	Title       string          `json:"title"`
	Description string          `json:"description"`
	Layout      string          `json:"layout,omitempty"`
	Purpose     string          `json:"purpose,omitempty"`
	Manuscript  manuscript.Page `json:"manuscript"`
}

// Page returns the page of that ID.
func (e *Edition) Page(id string) (EditionPage, bool) {
	for _, p := range e.Pages {
		if p.ID == id {
			return p, true
		}
	}
	return EditionPage{}, false
}

// StepOf returns the step a page has in the funnel.
func (e *Edition) StepOf(pageID string) (route.Step, bool) {
	return e.Funnel.StepOf(pageID)
}

// Address is where a step is found.
func (e *Edition) Address(s route.Step) string {
	p, _ := e.Page(s.PageID)
	return p.Address
}

// Entrance is the address at which an edition begins: its funnel's first step,
// or its first page where all stand for themselves.
func (e *Edition) Entrance() string {
	switch {
	case len(e.Funnel.Steps) > 0:
		return e.Address(e.Funnel.Steps[0])
	default:
		for _, p := range e.Pages {
			if !purpose.Of(p.Purpose).Mail {
				return p.Address
			}
		}
	}
	return ""
}

// Live is a published page found by its address.
type Live struct {
	Edition *Edition
	Page    EditionPage
	Step    route.Step
	Next    time.Time // when something planned happens next; zero: nothing is
}

// Live finds what is published at an address.
func (publisher *Publisher) Live(ctx context.Context, address string) (Live, error) {
	next, err := publisher.Due(ctx)
	if err != nil {
		return Live{}, err
	}
	if slug, is := strings.CutPrefix(address, goods.Path); is {
		return publisher.liveGood(ctx, slug, next)
	}
	var row struct{ PageID, EditionID string }
	err = publisher.Store.On(ctx).Raw(`SELECT l.page_id, c.live_edition_id AS edition_id
		FROM live_pages l JOIN campaigns c ON c.id = l.campaign_id WHERE l.address = ?`, address).Scan(&row).Error
	if err != nil {
		return Live{}, fmt.Errorf("look up the address %q: %w", address, err)
	}
	if row.PageID == "" {
		return Live{}, refusal.Of(refusal.ErrNotFound, "There is no page at this address.")
	}
	edition, err := publisher.Edition(ctx, row.EditionID)
	if err != nil {
		return Live{}, err
	}
	page, ok := edition.Page(row.PageID)
	if !ok || page.Purpose == purpose.Product { // that stands at the addresses of goods alone
		return Live{}, refusal.Of(refusal.ErrNotFound, "There is no page at this address.")
	}
	page.Manuscript = publisher.Render.Registry.Schema().Follow(page.Manuscript)
	step, _ := edition.StepOf(row.PageID) // a page of no funnel has none
	return Live{Edition: edition, Page: page, Step: step, Next: next}, nil
}

// PublicPage is a live page that anybody may open.
type PublicPage struct {
	Address     string
	PublishedAt time.Time
}

// PublicPages lists the live pages that belong to no order, by address.
func (publisher *Publisher) PublicPages(ctx context.Context) ([]PublicPage, error) {
	if _, err := publisher.Due(ctx); err != nil {
		return nil, err
	}
	var list []PublicPage
	err := publisher.Store.On(ctx).Raw(`SELECT l.address, e.published_at FROM live_pages l JOIN campaigns c ON c.id = l.campaign_id JOIN editions e ON e.id = c.live_edition_id
		LEFT JOIN steps s ON s.page_id = l.page_id AND s.campaign_id = l.campaign_id WHERE coalesce(s.kind, 'sales') NOT IN ('upsell', 'downsell', 'thank_you') AND l.page_id NOT IN (SELECT id FROM pages WHERE purpose = 'product') ORDER BY l.address LIMIT 50000`).Scan(&list).Error
	return list, err
}

// OpenPage is a page that visitors can open now, of any campaign.
type OpenPage struct{ ID, Name, Address, CampaignID string }

// EveryLivePage lists all live pages, those of orders too.
func (publisher *Publisher) EveryLivePage(ctx context.Context) ([]OpenPage, error) {
	var list []OpenPage
	err := publisher.Store.On(ctx).Raw("SELECT p.id, p.name, l.address, l.campaign_id FROM live_pages l JOIN pages p ON p.id = l.page_id ORDER BY p.name LIMIT 200").Scan(&list).Error
	return list, err
}

// LivePages lists the pages on which the shop could open, or to which others
// could lead when they are taken down.
func (publisher *Publisher) LivePages(ctx context.Context) ([]OpenPage, error) {
	var list []OpenPage
	err := publisher.Store.On(ctx).Raw(`SELECT p.id, p.name, l.address, l.campaign_id FROM live_pages l JOIN pages p ON p.id = l.page_id
		LEFT JOIN steps s ON s.page_id = p.id AND s.campaign_id = l.campaign_id WHERE coalesce(s.kind, 'sales') NOT IN ('upsell', 'downsell', 'thank_you') AND p.purpose <> 'product' ORDER BY p.name LIMIT 200`).Scan(&list).Error
	return list, err
}

// LivePage is a page as it is live now, by its ID.
func (publisher *Publisher) LivePage(ctx context.Context, id string) (EditionPage, error) {
	var edition string
	err := publisher.Store.On(ctx).Raw("SELECT c.live_edition_id FROM live_pages l JOIN campaigns c ON c.id = l.campaign_id WHERE l.page_id = ?", id).Scan(&edition).Error
	if err != nil {
		return EditionPage{}, fmt.Errorf("look for a live page: %w", err)
	}
	if edition == "" {
		return EditionPage{}, refusal.Of(refusal.ErrNotFound, "There is no such page.")
	}
	e, err := publisher.Edition(ctx, edition)
	if err != nil {
		return EditionPage{}, err
	}
	page, _ := e.Page(id)
	return page, nil
}

// EditionOf reads an edition of a campaign.
func (publisher *Publisher) EditionOf(ctx context.Context, campaignID, id string) (*Edition, error) {
	e, err := publisher.Edition(ctx, id)
	if err == nil && e.CampaignID != campaignID {
		err = refusal.Of(refusal.ErrNotFound, "There is no such edition of this campaign.")
	}
	return e, err
}

// Edition reads an edition once; it never changes.
func (publisher *Publisher) Edition(ctx context.Context, id string) (*Edition, error) {
	if known, ok := publisher.editions.Load(id); ok {
		if e, ok := known.(*Edition); ok {
			return e, nil
		}
	}
	row, err := store.One[store.Edition](publisher.Store.On(ctx).Where("id = ?", id), "There is no such edition.")
	if err != nil {
		return nil, err
	}
	e, err := parseEdition(row)
	if err != nil {
		return nil, err
	}
	publisher.editions.Store(id, e)
	return e, nil
}

func parseEdition(row store.Edition) (*Edition, error) {
	e := &Edition{ID: row.ID, CampaignID: row.CampaignID, Number: row.Number}
	if err := json.Unmarshal(row.Content, e); err != nil {
		return nil, fmt.Errorf("read edition %d: %w", row.Number, err)
	}
	e.Composition = cmp.Or(e.Composition, compose.First)
	return e, nil
}

// LiveOf returns a campaign's live edition, or nil while none is.
func (publisher *Publisher) LiveOf(ctx context.Context, campaignID string) (*Edition, error) {
	c, err := store.One[store.Campaign](publisher.Store.On(ctx).Where("id = ?", campaignID), "There is no such campaign.")
	if err != nil || c.LiveEditionID == nil {
		return nil, err
	}
	return publisher.Edition(ctx, *c.LiveEditionID)
}
