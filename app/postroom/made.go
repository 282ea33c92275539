package postroom

import (
	"cmp"
	"context"
	"errors"
	"fmt"

	"chrysagon/app/factbook"
	"chrysagon/app/followups"
	"chrysagon/app/mail"
	"chrysagon/app/ports"
	"chrysagon/core/mailing"
	"chrysagon/core/offer"
	"chrysagon/core/refusal"
	"chrysagon/pieces"
	"chrysagon/pieces/form"
	"chrysagon/render"
	"chrysagon/store"

	"gorm.io/gorm"
)

// gift hands out what a list gives: a file, a code of their own, or both.
func (r *Room) gift(ctx context.Context, base ports.Letter, list mailing.List, who store.Contact, shop store.Shop) (ports.Letter, followups.Standing, error) {
	db := r.Store.On(ctx)
	var says []pieces.Block
	if list.Gives != "" {
		file, err := factbook.File(db, list.Gives)
		if err != nil && !errors.Is(err, refusal.ErrNotFound) {
			return base, followups.Standing{}, err
		}
		if err == nil {
			base.Subject = file.Name + ", from " + base.FromName
			says = append(says, r.Maker.HandsOut(file)...)
		}
	}
	if list.Code != "" {
		code, name, err := ownCode(db, list.Code, base.ID)
		if err != nil {
			return base, followups.Standing{}, err
		}
		if code != "" {
			base.Subject = cmp.Or(base.Subject, "Your code, from "+base.FromName)
			says = append(says, mail.Says("This code is yours alone, for one order:"), pieces.Block{As: pieces.Code, Text: code, Second: "It brings you “" + name + "”. Type it in at the checkout."})
		}
	}
	if len(says) == 0 {
		return base, followups.Standing{Why: "what it hands out is gone"}, nil
	}
	to := render.Addressed{Posting: base.ID, Name: who.Name, Why: list.Why, Wishes: r.Audience.Wishes(shop.SealKey, who.ID, list.ID)}
	made, err := r.Maker.Make(base, shop, to, "Here it is", says...)
	return made, followups.Standing{}, err
}

// confirming asks somebody whether they want the letters of a list.
func (r *Room) confirming(base ports.Letter, list mailing.List, who store.Contact, shop store.Shop) (ports.Letter, error) {
	base.Subject = form.Confirming(base.FromName)
	return r.Maker.Make(base, shop, render.Addressed{Name: who.Name, Why: list.Why, Sent: true}, "One step is left",
		mail.Says("Somebody, we hope you, typed this address on our page. If it was you, open this page and press its button:"),
		mail.Leads("Open the page", r.Audience.Wishes(shop.SealKey, who.ID, list.ID)+"/confirm"),
		mail.Says("If it was not you, do nothing: without the button no letter follows."))
}

// ownCode is the code of an offer for one person, good for one order, and what the offer is
// called: the same at every try to send it. No code: the offer is gone or has ended.
func ownCode(db *gorm.DB, offerID, postingID string) (string, string, error) {
	var names []string
	if err := db.Raw("SELECT name FROM offers WHERE id = ? AND ended_at IS NULL", offerID).Scan(&names).Error; err != nil || len(names) == 0 {
		return "", "", err
	}
	code := offer.CodeOf("GIFT", []byte(postingID)[:min(len(postingID), 12)])
	err := db.Exec("INSERT INTO codes (normal, code, offer_id, max_uses) VALUES (?, ?, ?, 1) ON CONFLICT DO NOTHING", offer.Normal(code), code, offerID).Error
	if err != nil {
		return "", "", fmt.Errorf("make somebody's code: %w", err)
	}
	return code, names[0], nil
}
