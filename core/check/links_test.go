package check_test

import (
	"strings"
	"testing"

	"chrysagon/core/check"
	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/core/target"

	"github.com/stretchr/testify/assert"
)

func at(kind target.Kind, value string) m.LinkAt {
	return m.LinkAt{Piece: "p", Target: target.Target{Kind: kind, Value: value}}
}

func about(p check.Page, words string) *check.Finding {
	for _, f := range check.Run(p) {
		if strings.Contains(f.What, words) {
			return &f
		}
	}
	return nil
}

func TestLinksThatLeadNowhereAreFound(t *testing.T) {
	page := check.Page{Schema: schema(), Purpose: "plain", Manuscript: m.Page{Bands: []m.Band{{ID: "why"}}}, Facts: facts.Facts{Pages: map[string]facts.Page{"about": {}}}}
	for words, link := range map[string]m.LinkAt{
		"this page has none":        at(target.Checkout, ""),
		"a band that is gone":       at(target.Band, "gone"),
		"a page that is gone":       at(target.Page, "gone"),
		"whose number is not known": at(target.Phone, ""),
	} {
		page.Links = []m.LinkAt{link}
		found := about(page, words)
		if assert.NotNil(t, found, words) {
			assert.Equal(t, "p", found.PieceID)
		}
	}
	page.Links = []m.LinkAt{at(target.Band, "why"), at(target.Page, "about"), at(target.Phone, "+351"), at(target.Mail, ""), at(target.Home, ""), at(target.Outside, "https://example.org")}
	assert.Nil(t, about(page, "link"))
	page.Links = []m.LinkAt{at(target.Page, "gone")}
	assert.True(t, check.Stopping(check.Run(page)), "a page that is gone keeps it from going out")
}

func TestWaysOutAreCountedAndToldWhereOneShouldStay(t *testing.T) {
	page := check.Page{Schema: schema(), Purpose: "sales", Links: []m.LinkAt{at(target.Checkout, ""), at(target.Phone, "+351"), at(target.Outside, "https://example.org"), at(target.Home, "")}}
	assert.Equal(t, 2, check.WaysOut(page))
	assert.NotNil(t, about(page, "2 ways lead out"))
	page.Layout, page.Facts.Menu = "full", []facts.Page{{}, {}}
	assert.Equal(t, 5, check.WaysOut(page), "the store's name and both links of its menu")
	page.Purpose = "about"
	assert.Nil(t, about(page, "lead out"), "an about page may lead on")
}

// What charges a card stands only where a buyer can go on from.
func TestNothingIsSoldWhereNothingFollows(t *testing.T) {
	selling := func(purpose, kind string) bool {
		p := check.Page{Schema: schema(), Purpose: purpose, Manuscript: m.Page{Bands: []m.Band{{Columns: []m.Column{{Pieces: []m.Piece{{ID: "p", Kind: kind, Fields: m.Fields{}}}}}}}}}
		return about(p, "nowhere to go") != nil || about(p, "no card to charge") != nil
	}
	for _, purpose := range []string{"plain", "about", "shelf", "thank_you", "opt_in"} {
		assert.True(t, selling(purpose, "checkout"), purpose)
		assert.True(t, selling(purpose, "answer"), purpose)
	}
	assert.False(t, selling("sales", "checkout"))
	assert.True(t, selling("sales", "answer"))
	assert.True(t, selling("upsell", "checkout"))
	assert.False(t, selling("downsell", "answer"))
}
