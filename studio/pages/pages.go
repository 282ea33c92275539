package pages

import (
	"chrysagon/app/account"
	"chrysagon/app/drafts"
	"chrysagon/app/publishing"
	"chrysagon/core/check"
	"chrysagon/core/purpose"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

type pageCard struct {
	drafts.Draft
	Findings []check.Finding
	Change   *publishing.PageChange
	Live     string // address that is live; empty: none
}

// AfterPay tells whether the page belongs to an order, so that only its buyer sees it.
func (p pageCard) AfterPay() bool {
	return purpose.Of(p.Purpose).Step.AfterPayment()
}

// pagesPlace opens on the funnel's pages and what each needs next.
func (place *Place) pagesPlace(c fiber.Ctx) error {
	state, err := place.Publishing.State(c, frame.AtHand(c))
	if err != nil {
		return err
	}
	leads, err := place.People.LeadCounts(c, frame.AtHand(c))
	if err != nil {
		return err
	}
	var cards []pageCard
	letters := 0
	for _, d := range state.Drafts {
		if purpose.Of(d.Purpose).Mail {
			letters++ // they stand in Audience
			continue
		}
		i := len(cards)
		cards = append(cards, pageCard{Draft: d, Findings: state.Findings[d.ID]})
		for _, ch := range state.Changes {
			if ch.Page == d.Name {
				cards[i].Change = &ch
			}
		}
		if state.Live != nil {
			if p, ok := state.Live.Page(d.ID); ok {
				cards[i].Live = p.Address
				if p.Purpose == purpose.Product {
					cards[i].Live = d.At()
				}
			}
		}
	}
	aside, err := place.Pages.Aside(c, frame.AtHand(c))
	if err != nil {
		return err
	}
	var first []account.FirstStep
	if len(state.Editions) == 0 { // who has published has begun
		if first, err = place.Accounts.FirstSteps(c); err != nil {
			return err
		}
	}
	return place.Show(c, "pages", "Pages", map[string]any{"Title": "Pages", "Cards": cards, "State": state, "Leads": leads, "Aside": aside, "Letters": letters, "First": first})
}
