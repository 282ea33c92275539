package postroom

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"chrysagon/app/factbook"
	"chrysagon/app/followups"
	"chrysagon/app/mail"
	"chrysagon/app/ports"
	"chrysagon/core/mailing"
	"chrysagon/core/offer"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"gorm.io/gorm"
)

// gift hands out what a list gives: a file, a code of their own, or both.
func (r *Room) gift(ctx context.Context, base ports.Letter, list mailing.List, who store.Contact, shop store.Shop) (ports.Letter, followups.Standing, error) {
	db := r.Store.On(ctx)
	var says []string
	if list.Gives != "" {
		file, err := factbook.File(db, list.Gives)
		if err != nil && !errors.Is(err, refusal.ErrNotFound) {
			return base, followups.Standing{}, err
		}
		if err == nil {
			base.Subject = file.Name + ", from " + base.FromName
			says = append(says, fmt.Sprintf("Here is “%s”, as you asked:\n\n%s", file.Name, r.Origins.Shop+file.Path))
		}
	}
	if list.Code != "" {
		code, name, err := ownCode(db, list.Code, base.ID)
		if err != nil {
			return base, followups.Standing{}, err
		}
		if code != "" {
			if base.Subject == "" {
				base.Subject = "Your code, from " + base.FromName
			}
			says = append(says, fmt.Sprintf("This code is yours alone, for one order: %s\n\nIt brings you “%s”. Type it in at the checkout.", code, name))
		}
	}
	if len(says) == 0 {
		return base, followups.Standing{Why: "what it hands out is gone"}, nil
	}
	base.Text = fmt.Sprintf("%s\n\n%s\nFewer letters, or none: %s\n\n%s\n%s\n", strings.Join(says, "\n\n"), list.Why, r.Audience.Wishes(shop.SealKey, who.ID, list.ID), shop.LegalName, shop.LegalAddress)
	base.HTML = mail.PlainHTML(base.Text)
	return base, followups.Standing{}, nil
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
