package pages_test

import (
	"testing"

	"chrysagon/app/desk"
	"chrysagon/app/pages"
	"chrysagon/app/publishing"
	"chrysagon/core/manuscript"
	"chrysagon/core/refusal"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func publishAll(t *testing.T, shop *testkit.Shop) {
	t.Helper()
	shop.Write(campaign)
	_, err := shop.App.Publishing.Publish(ctx, campaign, "Marta")
	require.NoError(t, err)
	shop.Follow(t)
}

// A page that stands for itself is gone at once when it is set aside, its address
// leads to its successor, links to it are told of, and it comes back with the
// next edition after it was brought back.
func TestAPageIsSetAsideAndBroughtBack(t *testing.T) {
	shop := testkit.Open(t)
	about := added(t, shop, pages.NewPage{Purpose: "about", Name: "About", Template: "about", Layout: "full"})
	guide := added(t, shop, pages.NewPage{Purpose: "plain", Name: "Guide", Layout: "bare", Template: "bridge"})
	var button string
	guide.Tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if p.Kind == "button" {
			button = p.ID
		}
	})
	_, err := shop.App.Desk.Edit(ctx, "marta", guide.ID, manuscript.Command{Op: manuscript.SetField, Piece: button, Field: "target", Value: "page:" + about.ID}, false)
	require.NoError(t, err)
	publishAll(t, shop)
	b := shop.Browser()
	require.Equal(t, 200, b.Get("/about").Status)

	require.NoError(t, shop.App.Pages.SetAside(ctx, about.ID, guide.ID))
	shop.Follow(t)
	gone := b.Get("/about")
	assert.Equal(t, 301, gone.Status)
	assert.Equal(t, "/guide", gone.Header.Get("Location"))
	state, err := shop.App.Publishing.State(ctx, campaign)
	require.NoError(t, err)
	assert.Len(t, state.Drafts, 4)
	assert.Contains(t, state.Changes, publishing.PageChange{Page: "About", Words: []string{"set aside"}})
	said := ""
	for _, f := range state.Findings[guide.ID] {
		said += f.What
	}
	assert.Contains(t, said, "A link leads to “About”, which was set aside.")
	require.ErrorContains(t, shop.App.Pages.SetAside(ctx, about.ID, ""), "is set aside already")
	require.ErrorContains(t, shop.App.Pages.SetAside(ctx, guide.ID, about.ID), "Choose another page to lead to")
	require.ErrorContains(t, shop.App.Pages.SetAside(ctx, guide.ID, guide.ID), "Choose another page to lead to")
	list, err := shop.App.Pages.Aside(ctx, campaign)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, "About", list[0].Name)

	publishAll(t, shop)
	assert.Equal(t, 301, b.Get("/about").Status, "and the next edition is without it")
	require.NoError(t, shop.App.Pages.BringBack(ctx, about.ID))
	require.Error(t, shop.App.Pages.BringBack(ctx, about.ID))
	publishAll(t, shop)
	assert.Equal(t, 200, b.Get("/about").Status)
}

// A page of a funnel stays for those who are buying until the next edition; what
// led to it leads past it then, and back through it when it was brought back.
func TestAnUpsellIsSetAside(t *testing.T) {
	shop := testkit.Open(t)
	require.ErrorContains(t, shop.App.Pages.SetAside(ctx, "thank-you", ""), "cannot be set aside: “Quiver bag” leads to it")
	require.NoError(t, shop.App.Pages.SetAside(ctx, "quiver-bag", "night-flight"))
	shop.Follow(t)
	b := shop.Browser()
	next, _ := b.Buy("9200 0000 0000 0017")["go"].(string)
	assert.Contains(t, next, "/quiver-bag?order=", "who buys now still meets what is live")
	publishAll(t, shop)
	next, _ = shop.Browser().Buy("9200 0000 0000 0017")["go"].(string)
	assert.Contains(t, next, "/thank-you?order=")
	moved := b.Get("/quiver-bag")
	assert.Equal(t, 301, moved.Status)
	assert.Equal(t, "/night-flight", moved.Header.Get("Location"))
	require.NoError(t, shop.App.Pages.BringBack(ctx, "quiver-bag"))
	publishAll(t, shop)
	next, _ = shop.Browser().Buy("9200 0000 0000 0017")["go"].(string)
	assert.Contains(t, next, "/quiver-bag?order=")
	state, err := shop.App.Publishing.State(ctx, campaign)
	require.NoError(t, err)
	assert.Empty(t, state.Faults)
}

// Pages of law and menus are joined into every footer and header by themselves.
func TestLegalPagesStandInEveryFooter(t *testing.T) {
	shop := testkit.Open(t)
	added(t, shop, pages.NewPage{Purpose: "legal", Name: "Returns", Template: "legal", Layout: "full"})
	publishAll(t, shop)
	assert.Contains(t, shop.Browser().Get("/night-flight").Body, `<a href="/returns">Returns</a>`)
}

// Words are looked for on one page, on a campaign's, or on all there are, in
// what a page is called too; replacing them is one step of undo on each page.
func TestWordsAreReplacedEverywhere(t *testing.T) {
	shop := testkit.Open(t)
	shop.Exec(`INSERT INTO campaigns (id, name) VALUES ('spring', 'Spring winds')`)
	other, faults, err := shop.App.Pages.AddPage(ctx, pages.NewPage{CampaignID: "spring", Purpose: "about", Name: "Kites of spring", Template: "about", Layout: "bare"})
	require.NoError(t, err)
	require.Empty(t, faults)
	here, err := shop.App.Desk.FindCopy(ctx, desk.Within{CampaignID: campaign}, "kite", "sail")
	require.NoError(t, err)
	for _, f := range here {
		assert.NotEqual(t, other.ID, f.PageID)
	}
	_, err = shop.App.Desk.FindCopy(ctx, desk.Within{}, "", "sail")
	require.ErrorIs(t, err, refusal.ErrInvalid)
	done, err := shop.App.Desk.ReplaceCopy(ctx, "marta", desk.Within{}, "Kite", "Sail")
	require.NoError(t, err)
	names := map[string]string{}
	for _, f := range done {
		names[f.PageID] = f.Page
	}
	assert.Equal(t, "Kites of spring, Spring winds", names[other.ID])
	d, err := shop.App.Drafts.Draft(ctx, other.ID)
	require.NoError(t, err)
	assert.Equal(t, "Sails of spring", d.Name)
	assert.Equal(t, "kites-of-spring", d.Address, "addresses stay")
	d, err = shop.App.Desk.Undo(ctx, "marta", other.ID)
	require.NoError(t, err)
	assert.Equal(t, "Kites of spring", d.Name)
	alone, err := shop.App.Desk.FindCopy(ctx, desk.Within{PageID: "thank-you"}, "kite", "sail")
	require.NoError(t, err)
	require.Len(t, alone, 1)
	assert.Equal(t, "thank-you", alone[0].PageID)
}
