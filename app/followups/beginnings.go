package followups

import (
	"context"
	"fmt"
	"slices"

	"chrysagon/core/followup"
	"chrysagon/store"
)

// Beginning is one thing with which a follow-up can begin.
type Beginning struct {
	followup.Begin
	Name string // of what it is of; empty: of any
}

// Beginnings are all that can be chosen in a campaign.
type Beginnings []Beginning

// has tells whether one is among them; joining is of whatever list is chosen.
func (b Beginnings) has(one followup.Begin) bool {
	return one.What == followup.Joined || slices.ContainsFunc(b, func(x Beginning) bool { return x.What == one.What && x.Of == one.Of })
}

// hang tells whether a letter can hang on something: all of it is there.
func (b Beginnings) hang(o followup.Only) bool {
	return o.Of == "" || slices.ContainsFunc(b, func(x Beginning) bool { return x.What == o.Did && x.Of == o.Of })
}

// Name is what that is called which a beginning is of.
func (b Beginnings) Name(one followup.Begin) string {
	for _, x := range b {
		if x.What == one.What && x.Of == one.Of {
			return x.Name
		}
	}
	return ""
}

// mostChoices is how many of a kind can be chosen from.
const mostChoices = 200

// Beginnings lists them: joining its list first, then each kind with any of it, and each.
// The lists that can be joined stand among them, as letters hang on them too.
func (k *Keeper) Beginnings(ctx context.Context, campaignID string) (Beginnings, error) {
	out := Beginnings{{Begin: followup.Begin{What: followup.Joined}}}
	holds := `SELECT id, name FROM pages WHERE campaign_id = @campaign AND aside_at IS NULL AND NOT by_mail AND manuscript::text LIKE @kind ORDER BY name LIMIT @most`
	for _, kind := range []struct {
		what followup.Happening
		any  bool
		sql  string
		kind string
	}{
		{followup.Submitted, true, holds, `%"kind": "form"%`},
		{followup.Bought, true, "SELECT v.id, " + store.GoodsName + " AS name " + store.GoodsFrom + " ORDER BY 2, 1 LIMIT @most", ""},
		{followup.Declined, true, "SELECT id, name FROM pages WHERE campaign_id = @campaign AND aside_at IS NULL AND purpose IN ('upsell', 'downsell') ORDER BY name LIMIT @most", ""},
		{followup.Unfinished, true, holds, `%"kind": "checkout"%`},
		{followup.Clicked, true, "SELECT id, name FROM pages WHERE campaign_id = @campaign AND aside_at IS NULL AND purpose = 'letter' ORDER BY name LIMIT @most", ""},
		{followup.Booked, true, holds, `%"kind": "appointment"%`},
		{followup.Meets, true, holds, `%"kind": "appointment"%`},
		{followup.Joined, false, "SELECT id, name FROM lists ORDER BY name, id LIMIT @most", ""},
		{followup.Nears, false, "SELECT id, name FROM deadlines WHERE kind = 'fixed' ORDER BY at, name LIMIT @most", ""},
	} {
		var rows []struct{ ID, Name string }
		if err := k.Store.On(ctx).Raw(kind.sql, map[string]any{"campaign": campaignID, "kind": kind.kind, "most": mostChoices}).Scan(&rows).Error; err != nil {
			return nil, fmt.Errorf("read what a follow-up can begin with: %w", err)
		}
		if kind.any && len(rows) > 0 {
			out = append(out, Beginning{Begin: followup.Begin{What: kind.what}})
		}
		for _, r := range rows {
			out = append(out, Beginning{followup.Begin{What: kind.what, Of: r.ID}, r.Name})
		}
	}
	return out, nil
}

// SightOf is the visitor for whom a deadline of somebody's own begins with a letter, until
// they come by it in a browser.
func SightOf(contactID string) string { return "contact " + contactID }
