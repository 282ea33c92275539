package audience

import (
	"fmt"

	"chrysagon/app/followups"
	"chrysagon/core/purpose"
	"chrysagon/pieces/all"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// owed is a kind of an order's own mails: in the owner's words, or in the plain ones.
type owed struct {
	purpose.Purpose
	Template string
	Letter   string // ID of the page that writes it; empty: the plain words go out
	Live     bool   // its letter is published, so that it goes out
}

// owed lists the mails of orders with the letters of the campaign that write them.
func (p *Place) owed(c fiber.Ctx) ([]owed, error) {
	var rows []struct {
		ID, Purpose string
		Live        bool
	}
	err := p.Store.On(c).Raw(`SELECT p.id, p.purpose, live.id IS NOT NULL AS live FROM pages p JOIN campaigns c ON c.id = p.campaign_id `+followups.Published+`
		WHERE p.campaign_id = ? AND p.by_mail AND p.purpose <> 'letter' AND p.aside_at IS NULL ORDER BY p.created_at, p.id`, frame.AtHand(c)).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("read the mails of orders: %w", err)
	}
	var out []owed
	for _, t := range all.OrderMails() {
		one := owed{Purpose: purpose.Of(t.Purpose), Template: t.Name}
		for _, r := range rows {
			if r.Purpose == t.Purpose {
				one.Letter, one.Live = r.ID, r.Live
			}
		}
		out = append(out, one)
	}
	return out, nil
}
