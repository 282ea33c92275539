package app

import (
	"context"
	"errors"

	"chrysagon/core/manuscript"
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

// FindWords looks for words on the pages of a campaign, or on one of them, and
// shows what replacing them would make of each text.
func (a *App) FindWords(ctx context.Context, campaignID, pageID, find, with string) ([]Found, error) {
	if find == "" {
		return nil, refuse(ErrInvalid, "Write the words to look for.")
	}
	drafts, err := a.readDrafts(ctx, campaignID)
	if err != nil {
		return nil, err
	}
	var out []Found
	for _, d := range drafts {
		if pageID != "" && d.ID != pageID {
			continue
		}
		if _, hits := a.Render.Registry.Schema().ReplaceWords(d.Tree, find, with); len(hits) > 0 {
			out = append(out, Found{d.ID, d.Name, hits})
		}
	}
	return out, nil
}

// ReplaceWords replaces words on the pages of a campaign, or on one of them.
// On each page it is one change, which undo takes back. Each page is taken as
// it stands when its turn comes, so nothing written meanwhile is lost.
func (a *App) ReplaceWords(ctx context.Context, userID, campaignID, pageID, find, with string) ([]Found, error) {
	found, err := a.FindWords(ctx, campaignID, pageID, find, with)
	if err != nil {
		return nil, err
	}
	for i := range found {
		_, err := a.edit(ctx, userID, found[i].PageID, false, func(p manuscript.Page) (manuscript.Command, error) {
			next, hits := a.Render.Registry.Schema().ReplaceWords(p, find, with)
			if found[i].Hits = hits; len(hits) == 0 {
				return manuscript.Command{}, errNoWords
			}
			return manuscript.Command{Op: manuscript.Replace, Bands: next.Bands}, nil
		})
		if err != nil && !errors.Is(err, errNoWords) {
			return nil, err
		}
	}
	return found, nil
}

// errNoWords says that somebody took the words away meanwhile.
var errNoWords = errors.New("the words are gone")
