package app

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"

	"chrysagon/core/manuscript"
	"chrysagon/core/publish"
	"chrysagon/store"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Draft is a page being written.
type Draft struct {
	store.Page
	Tree manuscript.Page
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
	return a.draftOf(row)
}

// draftOf reads a stored page. Trees are never changed in place, so one that was
// read before is read no second time.
func (a *App) draftOf(row store.Page) (Draft, error) {
	d := Draft{Page: row}
	if known, ok := a.trees.Load(row.ID); ok {
		if k, ok := known.(readTree); ok && bytes.Equal(k.raw, row.Manuscript) {
			d.Tree = k.tree
			return d, nil
		}
	}
	var err error
	if d.Tree, err = a.Render.Registry.Schema().Parse(row.Manuscript); err != nil {
		return d, fmt.Errorf("read the manuscript of %q: %w", row.Name, err)
	}
	if len(row.Manuscript) > 0 {
		if a.kept.Add(1) > keptTrees {
			a.trees.Clear()
			a.kept.Store(1)
		}
		a.trees.Store(row.ID, readTree{bytes.Clone(row.Manuscript), d.Tree})
	}
	return d, nil
}

// keptTrees is how many readings are kept before all are let go: enough for a
// season at hand, and no more memory than that.
const keptTrees = 256

// readTree is a manuscript as it is stored, and as it was read.
type readTree struct {
	raw  []byte
	tree manuscript.Page
}

// Edit carries out a command on a page. A run of typing in one field is kept
// as one change, so that undo takes back words and not letters.
func (a *App) Edit(ctx context.Context, userID, pageID string, c manuscript.Command, joins bool) (Draft, error) {
	if c.Empties() {
		return Draft{}, refuse(ErrInvalid, "That would have taken everything off the page, so nothing was changed. Remove the bands one by one, or make a new page.")
	}
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
			return notKept(err)
		}
		d.Tree = next
		if piece, ok := next.Piece(c.Piece); ok && c.Op == manuscript.SetField && c.Value != nil {
			c.Value = piece.Fields[c.Field] // as it is kept, which is not always as it was typed
		}
		if err := tx.Where("page_id = ? AND undone AND user_id = ?", pageID, userID).Delete(&store.Change{}).Error; err != nil {
			return err
		}
		return a.remember(tx, userID, pageID, c, inverse, joins)
	})
}

// notKept tells a writer why a change was refused.
func notKept(err error) error {
	var fault manuscript.Fault
	if errors.As(err, &fault) {
		return refuse(ErrInvalid, "%s", fault.Say())
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
		if back, err = stillBack(last.Inverse, inverse); err != nil {
			return err
		}
		return tx.Model(&store.Change{}).Where("page_id = ? AND seq = ?", pageID, last.Seq).
			Updates(map[string]any{"command": command, "inverse": back, "at": a.Now()}).Error
	}
	return tx.Create(&store.Change{
		PageID: pageID, Seq: last.Seq + 1, At: a.Now(), UserID: userID, Command: command, Inverse: back,
	}).Error
}

// stillBack is what takes back a change that was gone on with: to what was there
// before it, from what it has come to.
func stillBack(raw store.JSON, inverse manuscript.Command) (store.JSON, error) {
	var first manuscript.Command
	if err := json.Unmarshal(raw, &first); err != nil {
		return nil, fmt.Errorf("read a change: %w", err)
	}
	first.Was = inverse.Was
	return json.Marshal(first)
}

// continues tells whether a command goes on with the last change: the same
// writer, in the same field, or at the same value of a look.
func continues(last store.Change, userID string, c manuscript.Command) bool {
	var before manuscript.Command
	if last.UserID != userID || json.Unmarshal(last.Command, &before) != nil {
		return false
	}
	if before.Op != c.Op {
		return false
	}
	switch c.Op { //nolint:exhaustive // no other runs of one kind are one step
	case manuscript.SetField:
		return before.Piece == c.Piece && before.Field == c.Field
	case manuscript.SetPage:
		return before.Field == c.Field
	case manuscript.SetBand:
		return before.ID == c.ID && before.Field == c.Field
	case manuscript.Dress: // one value nudged on
		return len(c.Looks) == 1 && len(before.Looks) == 1 && c.Looks[0].ID == before.Looks[0].ID && len(c.Looks[0].Set) == 1 &&
			slices.Equal(slices.Sorted(maps.Keys(c.Looks[0].Set)), slices.Sorted(maps.Keys(before.Looks[0].Set)))
	}
	return false
}

// namingOf is what a page is called and where it is found.
func namingOf(d Draft) publish.Naming {
	return publish.Naming{Name: d.Name, Address: d.Address, Title: d.Title, Description: d.Description}
}

// change locks a page, lets do change its tree, and stores it under the next
// revision.
func (a *App) change(ctx context.Context, pageID string, do func(*gorm.DB, *Draft) error) (Draft, error) {
	var d Draft
	err := a.Store.In(ctx, func(tx *gorm.DB) error {
		row, err := one[store.Page](tx.Clauses(clause.Locking{Strength: "UPDATE"}).Where("id = ?", pageID), "There is no such page.")
		if err != nil {
			return err
		}
		if d, err = a.draftOf(row); err != nil {
			return err
		}
		d.Tree.Naming = namingOf(d)
		if err := do(tx, &d); err != nil {
			return err
		}
		n := d.Tree.Naming
		d.Tree.Naming = publish.Naming{}
		d.Name, d.Address, d.Title, d.Description = n.Name, n.Address, n.Title, n.Description
		if d.Manuscript, err = json.Marshal(d.Tree); err != nil {
			return fmt.Errorf("write the manuscript: %w", err)
		}
		d.Revision++
		err = tx.Model(&store.Page{}).Where("id = ?", pageID).
			Updates(map[string]any{"manuscript": d.Manuscript, "revision": d.Revision, "name": n.Name, "address": n.Address, "title": n.Title, "description": n.Description}).Error
		if isDuplicate(err) {
			return refuse(ErrConflict, "Another page already has the address /%s. Choose another.", n.Address)
		}
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
	Groups    []Choice
}

// BandChoices lists deadlines, the campaign's pages and groups.
func (a *App) BandChoices(ctx context.Context, campaignID string) (BandChoices, error) {
	var b BandChoices
	err := a.db(ctx).Raw("SELECT id, name FROM deadlines ORDER BY at NULLS LAST, name LIMIT 200").Scan(&b.Deadlines).Error
	if err == nil {
		err = a.db(ctx).Raw("SELECT id, name FROM pages WHERE campaign_id = ? AND aside_at IS NULL ORDER BY name", campaignID).Scan(&b.Pages).Error
	}
	if err == nil {
		err = a.db(ctx).Raw("SELECT id, name FROM goods_groups ORDER BY name LIMIT 200").Scan(&b.Groups).Error
	}
	return b, err
}
