package audience

import (
	"context"
	"fmt"

	"gorm.io/gorm"
)

// takenAtOnce is how many of them are taken up at once.
const takenAtOnce = 200

// TakeUp puts those on their lists who agreed to it in a checkout.
func (a *Audience) TakeUp(ctx context.Context) error {
	for {
		var taken int
		err := a.Store.In(ctx, func(tx *gorm.DB) error {
			var rows []Joining
			err := tx.Raw(`DELETE FROM agreed WHERE (visitor, list_id) IN (SELECT visitor, list_id FROM agreed WHERE due_at <= ? ORDER BY due_at, visitor LIMIT ? FOR UPDATE SKIP LOCKED)
				RETURNING list_id, email, name, zone, consent, coalesce(page_id, '') AS page_id, coalesce(edition_id, '') AS edition_id, source, at`, a.Store.Now(), takenAtOnce).Scan(&rows).Error
			if err != nil {
				return err
			}
			taken = len(rows)
			for _, j := range rows {
				if err := a.Join(tx, j); err != nil {
					return err
				}
			}
			return nil
		})
		if err != nil {
			return fmt.Errorf("take up who agreed to letters: %w", err)
		}
		if taken < takenAtOnce {
			return nil
		}
	}
}
