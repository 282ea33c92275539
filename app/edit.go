package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"chrysagon/core/manuscript"
	"chrysagon/store"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Draft is a page being written.
type Draft struct {
	store.Page
	Tree    manuscript.Page
	CanUndo bool
	CanRedo bool
}

// Draft reads a page being written.
func (a *App) Draft(ctx context.Context, pageID string) (Draft, error) {
	return a.draft(a.db(ctx), pageID)
}

func (a *App) draft(db *gorm.DB, pageID string) (Draft, error) {
	row, err := one[store.Page](db.Where("id = ?", pageID), "There is no such page.")
	if err != nil {
		return Draft{}, err
	}
	d, err := a.draftOf(row)
	if err != nil {
		return d, err
	}
	var sides struct{ Undo, Redo bool }
	err = db.Raw(`SELECT EXISTS (SELECT FROM changes WHERE page_id = ? AND NOT undone) AS undo,
		EXISTS (SELECT FROM changes WHERE page_id = ? AND undone) AS redo`, pageID, pageID).Scan(&sides).Error
	d.CanUndo, d.CanRedo = sides.Undo, sides.Redo
	return d, err
}

func (a *App) draftOf(row store.Page) (Draft, error) {
	d := Draft{Page: row}
	var err error
	if d.Tree, err = a.Render.Registry.Schema().Parse(row.Manuscript); err != nil {
		return d, fmt.Errorf("read the manuscript of %q: %w", row.Name, err)
	}
	return d, nil
}

// Edit carries out a command on a page. A run of typing in one field is kept
// as one change, so that undo takes back words and not letters.
func (a *App) Edit(ctx context.Context, userID, pageID string, c manuscript.Command, joins bool) (Draft, error) {
	return a.edit(ctx, userID, pageID, joins, func(manuscript.Page) (manuscript.Command, error) { return c, nil })
}

// edit carries out a command that is made from the page as it stands once
// nobody else can change it; its error leaves the page as it is.
func (a *App) edit(ctx context.Context, userID, pageID string, joins bool, command func(manuscript.Page) (manuscript.Command, error)) (Draft, error) {
	return a.change(ctx, pageID, func(tx *gorm.DB, d *Draft) error {
		c, err := command(d.Tree)
		if err != nil {
			return err
		}
		next, inverse, err := a.Render.Registry.Schema().Apply(d.Tree, c)
		if err != nil {
			return editRefusal(err)
		}
		d.Tree = next
		if err := tx.Where("page_id = ? AND undone", pageID).Delete(&store.Change{}).Error; err != nil {
			return err
		}
		return a.remember(tx, userID, pageID, c, inverse, joins)
	})
}

func editRefusal(err error) error {
	var conflict manuscript.Conflict
	if errors.As(err, &conflict) {
		return refuse(ErrConflict, "Somebody else has just changed the same words; theirs were kept.")
	}
	return refuse(ErrInvalid, "%s", err.Error())
}

func (a *App) remember(tx *gorm.DB, userID, pageID string, c, inverse manuscript.Command, joins bool) error {
	c.Guard, c.Was = false, nil
	command, err := json.Marshal(c)
	if err != nil {
		return fmt.Errorf("write a change: %w", err)
	}
	back, err := json.Marshal(inverse)
	if err != nil {
		return fmt.Errorf("write a change: %w", err)
	}
	var last store.Change
	if err := tx.Where("page_id = ?", pageID).Order("seq DESC").Limit(1).Find(&last).Error; err != nil {
		return err
	}
	if joins && continues(last, userID, c) {
		return tx.Model(&store.Change{}).Where("page_id = ? AND seq = ?", pageID, last.Seq).
			Updates(map[string]any{"command": command, "at": a.Now()}).Error
	}
	return tx.Create(&store.Change{
		PageID: pageID, Seq: last.Seq + 1, At: a.Now(), UserID: userID, Command: command, Inverse: back,
	}).Error
}

// continues tells whether a command goes on with the last change: the same
// writer, in the same field.
func continues(last store.Change, userID string, c manuscript.Command) bool {
	var before manuscript.Command
	if last.UserID != userID || json.Unmarshal(last.Command, &before) != nil {
		return false
	}
	return c.Op == manuscript.SetField && before.Op == c.Op && before.Piece == c.Piece && before.Field == c.Field
}

// Undo takes the last change back; Redo carries it out again.
func (a *App) Undo(ctx context.Context, pageID string) (Draft, error) {
	return a.step(ctx, pageID, "seq DESC", false)
}

// Redo carries out again what Undo took back last.
func (a *App) Redo(ctx context.Context, pageID string) (Draft, error) {
	return a.step(ctx, pageID, "seq", true)
}

func (a *App) step(ctx context.Context, pageID, order string, undone bool) (Draft, error) {
	return a.change(ctx, pageID, func(tx *gorm.DB, d *Draft) error {
		var ch store.Change
		if err := tx.Where("page_id = ? AND undone = ?", pageID, undone).Order(order).Limit(1).Find(&ch).Error; err != nil {
			return err
		}
		if ch.PageID == "" {
			return refuse(ErrInvalid, "There is nothing more to take back or to repeat.")
		}
		raw := ch.Inverse
		if undone {
			raw = ch.Command
		}
		var c manuscript.Command
		if err := json.Unmarshal(raw, &c); err != nil {
			return fmt.Errorf("read a change: %w", err)
		}
		next, _, err := a.Render.Registry.Schema().Apply(d.Tree, c)
		if err != nil {
			return editRefusal(err)
		}
		d.Tree = next
		return tx.Model(&store.Change{}).Where("page_id = ? AND seq = ?", pageID, ch.Seq).Update("undone", !undone).Error
	})
}

// change locks a page, lets do change its tree, and stores it under the next
// revision.
func (a *App) change(ctx context.Context, pageID string, do func(*gorm.DB, *Draft) error) (Draft, error) {
	var d Draft
	err := a.Store.In(ctx, func(tx *gorm.DB) error {
		var err error
		if d, err = a.draft(tx.Clauses(clause.Locking{Strength: "UPDATE"}).Session(&gorm.Session{}), pageID); err != nil {
			return err
		}
		if err := do(tx, &d); err != nil {
			return err
		}
		if d.Manuscript, err = json.Marshal(d.Tree); err != nil {
			return fmt.Errorf("write the manuscript: %w", err)
		}
		d.Revision++
		err = tx.Model(&store.Page{}).Where("id = ?", pageID).
			Updates(map[string]any{"manuscript": d.Manuscript, "revision": d.Revision}).Error
		if err != nil {
			return err
		}
		d, err = a.draft(tx, pageID)
		return err
	})
	return d, err
}

// Choice is something with a name that can be chosen.
type Choice struct{ ID, Name string }

// BandChoices is what a band's settings choose from.
type BandChoices struct {
	Deadlines []Choice
	Pages     []Choice
	Pictures  []Choice
	Groups    []Choice
}

// BandChoices lists deadlines, the campaign's pages, pictures and groups.
func (a *App) BandChoices(ctx context.Context, campaignID string) (BandChoices, error) {
	var b BandChoices
	err := a.db(ctx).Raw("SELECT id, name FROM deadlines ORDER BY at NULLS LAST, name LIMIT 200").Scan(&b.Deadlines).Error
	if err == nil {
		err = a.db(ctx).Raw("SELECT id, name FROM pages WHERE campaign_id = ? ORDER BY name", campaignID).Scan(&b.Pages).Error
	}
	if err == nil {
		err = a.db(ctx).Raw("SELECT id, name FROM pictures ORDER BY name LIMIT ?", choicesShown).Scan(&b.Pictures).Error
	}
	if err == nil {
		err = a.db(ctx).Raw("SELECT id, name FROM goods_groups ORDER BY name LIMIT 200").Scan(&b.Groups).Error
	}
	return b, err
}
