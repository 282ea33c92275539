package desk

import (
	"context"
	"errors"
	"fmt"

	"chrysagon/app/drafts"
	"chrysagon/core/manuscript"
	"chrysagon/core/refusal"
	"chrysagon/store"
)

// Found is what a search found on one page.
type Found struct {
	PageID, Page string
	Hits         []manuscript.Hit
}

// Times counts the places.
func (f Found) Times() int {
	n := 0
	for _, h := range f.Hits {
		n += h.Times
	}
	return n
}

// Within is where words are looked for: on one page, on all of a campaign, or,
// where both are empty, on all there are.
type Within struct{ CampaignID, PageID string }

// FindCopy looks for words on pages, and shows what replacing them would make
// of each text.
func (desk *Desk) FindCopy(ctx context.Context, in Within, find, with string) ([]Found, error) {
	if find == "" {
		return nil, refusal.Of(refusal.ErrInvalid, "Write the words to look for.")
	}
	var rows []struct {
		store.Page
		Campaign string
	}
	err := desk.Store.On(ctx).Raw(`SELECT p.*, c.name AS campaign FROM pages p JOIN campaigns c ON c.id = p.campaign_id LEFT JOIN steps s ON s.page_id = p.id AND s.campaign_id = p.campaign_id
		WHERE p.aside_at IS NULL AND (@page = '' OR p.id = @page) AND (@campaign = '' OR p.campaign_id = @campaign) ORDER BY c.name, s.position, p.name`,
		map[string]any{"page": in.PageID, "campaign": in.CampaignID}).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("read the pages: %w", err)
	}
	var out []Found
	for _, r := range rows {
		d, err := desk.Drafts.DraftOf(r.Page)
		if err != nil {
			return nil, err
		}
		d.Tree.Naming = drafts.NamingOf(d)
		name := d.Name
		if in == (Within{}) {
			name += ", " + r.Campaign
		}
		if _, hits := desk.Render.Registry.Schema().ReplaceCopy(d.Tree, find, with); len(hits) > 0 {
			out = append(out, Found{d.ID, name, hits})
		}
	}
	return out, nil
}

// ReplaceCopy replaces words on pages.
// On each page it is one change, which undo takes back. Each page is taken as
// it stands when its turn comes, so nothing written meanwhile is lost.
func (desk *Desk) ReplaceCopy(ctx context.Context, userID string, in Within, find, with string) ([]Found, error) {
	found, err := desk.FindCopy(ctx, in, find, with)
	if err != nil {
		return nil, err
	}
	for i := range found {
		_, err := desk.edit(ctx, userID, found[i].PageID, false, func(p manuscript.Page) (manuscript.Command, error) {
			c, hits := desk.Render.Registry.Schema().Replacing(p, find, with)
			if found[i].Hits = hits; len(hits) == 0 {
				return c, errNoWords
			}
			return c, nil
		})
		if err != nil && !errors.Is(err, errNoWords) {
			return nil, err
		}
	}
	return found, nil
}

// errNoWords says that somebody took the words away meanwhile.
var errNoWords = errors.New("the words are gone")
