package publishing

import (
	"context"
	"fmt"
	"time"

	"chrysagon/app/drafts"
	"chrysagon/core/check"
	"chrysagon/core/goods"
	"chrysagon/core/manuscript"
	"chrysagon/core/refusal"
	"chrysagon/store"
)

// goodsWithPages are the goods that have a page made from the one page of a product that
// is live: those for which a page was written have that.
const goodsWithPages = " FROM variants v CROSS JOIN (" + store.PageOfProducts + ") l WHERE " + unwritten

// unwritten are goods that are sold and for which no page was written.
const unwritten = "NOT EXISTS (SELECT FROM public_shows s WHERE s.what = 'checkout' AND s.ref = v.id) AND v.archived_at IS NULL"

// liveGood is the page of one of the goods.
func (publisher *Publisher) liveGood(ctx context.Context, slug string, next time.Time) (Live, error) {
	none := refusal.Of(refusal.ErrNotFound, "There is no page at this address.")
	var row struct {
		ID, Name, PageID, EditionID string
		Archived                    bool
	}
	err := publisher.Store.On(ctx).Raw("SELECT v.id, "+store.GoodsName+" AS name, v.archived_at IS NOT NULL AS archived, l.page_id, l.edition_id "+store.GoodsFrom+" CROSS JOIN ("+store.PageOfProducts+") l WHERE v.address = ?", slug).Scan(&row).Error
	if err != nil {
		return Live{}, fmt.Errorf("look up the goods at %q: %w", slug, err)
	}
	if row.ID == "" {
		return Live{}, none
	}
	if row.Archived {
		return Live{}, refusal.Of(refusal.ErrGone, "“%s” is not sold any more.", row.Name)
	}
	edition, err := publisher.Edition(ctx, row.EditionID)
	if err != nil {
		return Live{}, err
	}
	page, ok := edition.Page(row.PageID)
	if !ok {
		return Live{}, none
	}
	good := manuscript.Good{ID: row.ID, Name: row.Name}
	page.Manuscript = publisher.Render.Registry.Schema().Follow(publisher.Render.Registry.Schema().Stand(page.Manuscript, good))
	page.Address, page.Name, page.Title, page.Description = goods.Path+slug, row.Name, good.In(page.Title), good.In(page.Description)
	step, _ := edition.StepOf(row.PageID)
	return Live{Edition: edition, Page: page, Step: step, Next: next}, nil
}

// PagesOf are the addresses of live pages on which goods are ordered: that which was
// written for one of them, else its own of the page of a product; by the goods' ID.
func (publisher *Publisher) PagesOf(ctx context.Context, ids []string) (map[string]string, error) {
	var rows []struct{ ID, Address string }
	err := publisher.Store.On(ctx).Raw(`SELECT v.id, coalesce((SELECT min(s.address) FROM public_shows s WHERE s.what = 'checkout' AND s.ref = v.id),
		(SELECT '`+goods.Path+`' || v.address FROM (`+store.PageOfProducts+`) l WHERE v.archived_at IS NULL)) AS address FROM variants v WHERE v.id IN ?`, ids).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("look for the pages of goods: %w", err)
	}
	out := map[string]string{}
	for _, r := range rows {
		out[r.ID] = r.Address
	}
	return out, nil
}

// PublicGoods lists the goods that have a page, by address, from one of them on: at most
// so many. Goods that a page was written for have theirs.
func (publisher *Publisher) PublicGoods(ctx context.Context, from, most int) ([]PublicPage, error) {
	var list []PublicPage
	err := publisher.Store.On(ctx).Raw("SELECT '"+goods.Path+"' || v.address AS address, l.published_at"+goodsWithPages+" ORDER BY v.address LIMIT ? OFFSET ?", most, from).Scan(&list).Error
	if err != nil {
		return nil, fmt.Errorf("list the goods that have a page: %w", err)
	}
	return list, nil
}

// Goods counts the goods for which a page of a product would stand, were it live: all that
// are sold and have no page written for them.
func (publisher *Publisher) Goods(ctx context.Context) (int, error) {
	var n int
	err := publisher.Store.On(ctx).Raw("SELECT count(*) FROM variants v WHERE " + unwritten).Scan(&n).Error
	return n, err
}

// GoodsWithPages counts them.
func (publisher *Publisher) GoodsWithPages(ctx context.Context) (int, error) {
	var n int
	err := publisher.Store.On(ctx).Raw("SELECT count(*)" + goodsWithPages).Scan(&n).Error
	return n, err
}

// alsoStanding finds another campaign's page of a product that is live beside a draft's:
// one of them stands for all goods.
func (publisher *Publisher) alsoStanding(ctx context.Context, d drafts.Draft) ([]check.Finding, error) {
	var other string
	err := publisher.Store.On(ctx).Raw(`SELECT c.name FROM live_pages l JOIN pages g ON g.id = l.page_id AND g.purpose = 'product' JOIN campaigns c ON c.id = l.campaign_id
		JOIN editions e ON e.id = c.live_edition_id WHERE l.campaign_id <> ? ORDER BY e.published_at DESC LIMIT 1`, d.CampaignID).Scan(&other).Error
	if err != nil || other == "" {
		return nil, err
	}
	return []check.Finding{{
		What: "“" + other + "” has a page of a product live too. One of them stands for all goods: the one that went live last.", Remedy: "Publish this one to put it in its place, or set one of them aside.", Gravity: check.Notice,
	}}, nil
}
