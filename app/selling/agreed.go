package selling

import (
	"fmt"
	"time"

	"gorm.io/gorm"
)

// UnfinishedAfter is how long after what was typed last a checkout is taken for left, so
// that who agreed in it to letters is on their list.
const UnfinishedAfter = time.Hour

// agree keeps that a buyer agreed to the letters of the list that a checkout names, until the
// list takes them up; or that they do not, where they took the tick away again.
func agree(tx *gorm.DB, in PayInput, c Checkout, values map[string]string, at, due time.Time) error {
	list := c.Sale.List
	if list == "" || in.Visitor == "" {
		return nil
	}
	if values["consent"] == "" {
		return tx.Exec("DELETE FROM agreed WHERE visitor = ? AND list_id = ?", in.Visitor, list).Error
	}
	err := tx.Exec(`INSERT INTO agreed (visitor, list_id, email, name, zone, consent, page_id, edition_id, source, at, due_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
		ON CONFLICT (visitor, list_id) DO UPDATE SET email = excluded.email, name = excluded.name, zone = excluded.zone, consent = excluded.consent,
			page_id = excluded.page_id, edition_id = excluded.edition_id, source = excluded.source, at = excluded.at, due_at = excluded.due_at`,
		in.Visitor, list, values["email"], values["name"], in.Values["zone"], values["consent"], in.Live.Page.ID, in.Live.Edition.ID, in.Values["link"], at, due).Error
	if err != nil {
		return fmt.Errorf("keep who agreed to letters: %w", err)
	}
	return nil
}
