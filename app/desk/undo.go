package desk

import (
	"context"
	"encoding/json"
	"fmt"

	"chrysagon/app/drafts"
	"chrysagon/core/manuscript"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"gorm.io/gorm"
)

// CanStep tells whether somebody has something on a page to take back, and
// something to repeat.
func (desk *Desk) CanStep(ctx context.Context, userID, pageID string) (undo, redo bool, err error) {
	var s struct{ Undo, Redo bool }
	err = desk.Store.On(ctx).Raw(`SELECT EXISTS (SELECT FROM changes WHERE page_id = @page AND user_id = @user AND NOT undone) AS undo,
		EXISTS (SELECT FROM changes WHERE page_id = @page AND user_id = @user AND undone) AS redo`,
		map[string]any{"page": pageID, "user": userID}).Scan(&s).Error
	return s.Undo, s.Redo, err
}

// Undo takes back the last change that somebody made of a page, and leaves what
// others wrote since. Redo carries out again what Undo took back last.
func (desk *Desk) Undo(ctx context.Context, userID, pageID string) (drafts.Draft, error) {
	return desk.change(ctx, pageID, func(tx *gorm.DB, d *drafts.Draft) (*store.Change, error) {
		return nil, desk.step(tx, userID, d, step{order: "seq DESC", say: "There is nothing more of yours to take back."})
	})
}

// Redo carries out again what Undo took back last.
func (desk *Desk) Redo(ctx context.Context, userID, pageID string) (drafts.Draft, error) {
	return desk.change(ctx, pageID, func(tx *gorm.DB, d *drafts.Draft) (*store.Change, error) {
		return nil, desk.step(tx, userID, d, step{order: "seq", undone: true, say: "There is nothing more of yours to repeat."})
	})
}

// step is one way through somebody's changes.
type step struct {
	order  string
	undone bool
	say    string // when there is nothing more
}

// stepsTried is how many changes are looked at for one that can be taken back:
// others may have changed what stood there.
const stepsTried = 100

func (desk *Desk) step(tx *gorm.DB, userID string, d *drafts.Draft, way step) error {
	var list []store.Change
	err := tx.Scopes(store.OfPage(d.ID)).Where("user_id = ? AND undone = ?", userID, way.undone).Order(way.order).Limit(stepsTried).Find(&list).Error
	if err != nil {
		return fmt.Errorf("read the changes: %w", err)
	}
	if len(list) == 0 {
		return refusal.Of(refusal.ErrInvalid, "%s", way.say)
	}
	for _, ch := range list {
		stepped, err := desk.steppedOn(tx, d, ch)
		if stepped || err != nil {
			return err
		}
	}
	return refusal.Of(refusal.ErrInvalid, "Others have changed since what you changed before, so it stays as it is.")
}

// steppedOn takes one change back, or carries it out again; false when nothing
// of it is left.
func (desk *Desk) steppedOn(tx *gorm.DB, d *drafts.Draft, ch store.Change) (bool, error) {
	made, back := ch.Command, ch.Inverse
	if ch.Undone {
		made, back = ch.Inverse, ch.Command
		if len(ch.Again) > 0 {
			back = ch.Again
		}
	}
	var done, inverse manuscript.Command
	if err := json.Unmarshal(made, &done); err != nil {
		return false, fmt.Errorf("read a change: %w", err)
	}
	if err := json.Unmarshal(back, &inverse); err != nil {
		return false, fmt.Errorf("read a change: %w", err)
	}
	others, err := othersSince(tx, ch)
	if err != nil {
		return false, err
	}
	schema := desk.Render.Registry.Schema()
	c, left := schema.Back(d.Tree, done, inverse, others)
	if !left {
		return false, nil
	}
	next, again, err := schema.Apply(d.Tree, c)
	if err != nil {
		return false, nil //nolint:nilerr // what it changed is gone: the change before it is tried
	}
	d.Tree = next
	set := map[string]any{"undone": !ch.Undone}
	if !ch.Undone {
		if set["again"], err = json.Marshal(again); err != nil {
			return false, fmt.Errorf("write a change: %w", err)
		}
	}
	return true, tx.Model(&store.Change{}).Scopes(store.OfPage(ch.PageID)).Where("seq = ?", ch.Seq).Updates(set).Error
}

// othersSince are the changes that others made after one, as far as they stand.
func othersSince(tx *gorm.DB, ch store.Change) ([]manuscript.Command, error) {
	var rows []store.JSON
	err := tx.Model(&store.Change{}).Scopes(store.OfPage(ch.PageID)).Where("seq > ? AND user_id <> ? AND NOT undone", ch.Seq, ch.UserID).
		Order("seq").Limit(5000).Pluck("command", &rows).Error
	if err != nil {
		return nil, fmt.Errorf("read what others changed: %w", err)
	}
	list := make([]manuscript.Command, len(rows))
	for i, raw := range rows {
		if err := json.Unmarshal(raw, &list[i]); err != nil {
			return nil, fmt.Errorf("read a change: %w", err)
		}
	}
	return list, nil
}
