package postroom

import (
	"context"
	"fmt"

	"chrysagon/app/factbook"
	"chrysagon/app/followups"
	"chrysagon/app/ports"
	"chrysagon/app/publishing"
	"chrysagon/core/facts"
	"chrysagon/core/mailing"
	"chrysagon/core/purpose"
	"chrysagon/core/refusal"
	"chrysagon/render"
	"chrysagon/store"

	"gorm.io/gorm"
)

// letter writes a letter of a follow-up as it is published, for one person, as of now.
func (r *Room) letter(ctx context.Context, base ports.Letter, p store.Posting, list mailing.List, who store.Contact, shop store.Shop) (ports.Letter, followups.Standing, error) {
	page, err := r.live(ctx, *p.LetterID)
	if err != nil {
		return base, followups.Standing{}, err
	}
	if page.ID == "" {
		return base, followups.Standing{Why: "the letter is not published"}, nil
	}
	f, err := r.Facts.FactsFor(ctx, r.Render.Registry.Schema().Names(page.Manuscript), factbook.Buyer{Visitor: followups.SightOf(who.ID), Email: who.Email, Zone: followups.Zone(who.Zone, shop.Zone).String()})
	if err != nil {
		return base, followups.Standing{}, err
	}
	wishes := r.Audience.Wishes(shop.SealKey, who.ID, list.ID)
	drawn, err := r.Written(page, f, render.Addressed{Posting: p.ID, Name: who.Name, Why: list.Why, From: base.FromName, Wishes: wishes, Counts: shop.CountOpens})
	if err != nil {
		return base, followups.Standing{}, err
	}
	base.Subject, base.HTML, base.Text = drawn.Subject, drawn.HTML, drawn.Text
	return base, followups.Standing{}, nil
}

// Written draws a letter as of now.
func (r *Room) Written(page publishing.EditionPage, f facts.Facts, to render.Addressed) (render.Letter, error) {
	return r.Render.Letter(render.Input{
		Page: page.Manuscript, Title: page.Title, Description: page.Description, Facts: f, Moment: r.Store.Now(), Origin: r.Origins.Shop,
	}, to)
}

// live is a letter as it is published; of no ID where it is not.
func (r *Room) live(ctx context.Context, letterID string) (publishing.EditionPage, error) {
	var edition string
	err := r.Store.On(ctx).Raw("SELECT coalesce(c.live_edition_id, '') FROM pages p JOIN campaigns c ON c.id = p.campaign_id WHERE p.id = ?", letterID).Scan(&edition).Error
	if err != nil {
		return publishing.EditionPage{}, fmt.Errorf("look for a letter: %w", err)
	}
	if edition == "" {
		return publishing.EditionPage{}, nil
	}
	e, err := r.Publishing.Edition(ctx, edition)
	if err != nil {
		return publishing.EditionPage{}, err
	}
	page, _ := e.Page(letterID)
	return page, nil
}

// Trial sends a letter as it is drafted to the store's own address, once.
func (r *Room) Trial(ctx context.Context, pageID, to string) error {
	d, err := r.Drafts.Draft(ctx, pageID)
	if err != nil {
		return err
	}
	shop, err := r.Store.Shop(ctx)
	if err != nil {
		return err
	}
	if r.Ports.Post == nil {
		return refusal.Of(refusal.ErrConflict, "No mail server is set, so nothing can be sent.")
	}
	f, err := r.Facts.FactsFor(ctx, r.Render.Registry.Schema().Names(d.Tree), factbook.Buyer{})
	if err != nil {
		return err
	}
	in := render.Input{Page: d.Tree, Title: d.Title, Description: d.Description, Facts: f, Moment: r.Store.Now(), Origin: r.Origins.Shop}
	as := render.Addressed{Why: "This is a trial, sent to yourself from the desk.", Sent: true}
	if purpose.Of(d.Purpose).Order != "" { // of an order that is made up
		in.Proof, as.Order = true, "1000"
	}
	drawn, err := r.Render.Letter(in, as)
	if err != nil {
		return err
	}
	return r.Mail.Send(ctx, ports.Letter{ID: store.NewID(), FromName: shop.Name, From: shop.ContactEmail, To: to, Subject: drawn.Subject, Text: drawn.Text, HTML: drawn.HTML})
}

// Clicked notes that somebody came by a letter, the first time; one that was not sent is none.
// Deadlines of their own that began with a letter go on in their browser.
func (r *Room) Clicked(ctx context.Context, postingID, visitor string) error {
	err := r.Store.In(ctx, func(tx *gorm.DB) error {
		var whose []string
		err := tx.Raw("UPDATE postings SET clicked_at = coalesce(clicked_at, ?) WHERE id = ? AND sent_at IS NOT NULL RETURNING contact_id", r.Store.Now(), postingID).Scan(&whose).Error
		if err != nil || len(whose) == 0 || visitor == "" {
			return err
		}
		return tx.Exec(`INSERT INTO sightings (visitor, deadline_id, first_seen, email) SELECT ?, deadline_id, first_seen, email FROM sightings WHERE visitor = ? AND email <> ''
			ON CONFLICT (visitor, deadline_id) DO UPDATE SET email = CASE WHEN sightings.email = '' THEN EXCLUDED.email ELSE sightings.email END`, visitor, followups.SightOf(whose[0])).Error
	})
	if err != nil {
		return fmt.Errorf("note who came by a letter: %w", err)
	}
	return nil
}

// Opened notes that the picture of a letter was loaded, the first time, where the owner has
// switched that on. It is a guess: programs load pictures that nobody sees, and keep others.
func (r *Room) Opened(ctx context.Context, postingID string) error {
	err := r.Store.On(ctx).Exec("UPDATE postings SET opened_at = coalesce(opened_at, ?) WHERE id = ? AND sent_at IS NOT NULL AND (SELECT count_opens FROM store)", r.Store.Now(), postingID).Error
	if err != nil {
		return fmt.Errorf("note that a letter was looked at: %w", err)
	}
	return nil
}

// CountOpens switches the pictures on or off that tell when letters are looked at.
func (r *Room) CountOpens(ctx context.Context, on bool) error {
	return r.Store.On(ctx).Exec("UPDATE store SET count_opens = ?", on).Error
}
