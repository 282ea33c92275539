package desk

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"

	"chrysagon/app/drafts"
	"chrysagon/core/manuscript"
	"chrysagon/core/publish"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Edit carries out a command on a page. A run of typing in one field is kept
// as one change, so that undo takes back words and not letters.
func (desk *Desk) Edit(ctx context.Context, userID, pageID string, c manuscript.Command, joins bool) (drafts.Draft, error) {
	if c.Empties() {
		return drafts.Draft{}, refusal.Of(refusal.ErrInvalid, "That would have taken everything off the page, so nothing was changed. Remove the bands one by one, or make a new page.")
	}
	return desk.edit(ctx, userID, pageID, joins, func(manuscript.Page) (manuscript.Command, error) { return c, nil })
}

// edit carries out a command that is made from the page as it stands once
// nobody else can change it; its error leaves the page as it is.
func (desk *Desk) edit(ctx context.Context, userID, pageID string, joins bool, command func(manuscript.Page) (manuscript.Command, error)) (drafts.Draft, error) {
	return desk.change(ctx, pageID, func(tx *gorm.DB, d *drafts.Draft) (*store.Change, error) {
		c, err := command(d.Tree)
		if err != nil {
			return nil, err
		}
		next, inverse, err := desk.Render.Registry.Schema().Apply(d.Tree, c)
		if err != nil {
			return nil, notKept(err)
		}
		d.Tree = next
		if piece, ok := next.Piece(c.Piece); ok && c.Op == manuscript.SetField && c.Value != nil {
			c.Value = piece.Fields[c.Field] // as it is kept, which is not always as it was typed
		}
		return desk.remember(tx, userID, pageID, c, inverse, joins)
	})
}

// notKept tells a writer why a change was refused.
func notKept(err error) error {
	var fault manuscript.Fault
	if errors.As(err, &fault) {
		return refusal.Of(refusal.ErrInvalid, "%s", fault.Say())
	}
	return refusal.Of(refusal.ErrInvalid, "%s", err.Error())
}

// remember is the change as it will be kept: one more, or the last one gone on with.
func (desk *Desk) remember(tx *gorm.DB, userID, pageID string, c, inverse manuscript.Command, joins bool) (*store.Change, error) {
	c.Guard, c.Was = false, nil
	command, err := json.Marshal(c)
	if err != nil {
		return nil, fmt.Errorf("write a change: %w", err)
	}
	back, err := json.Marshal(inverse)
	if err != nil {
		return nil, fmt.Errorf("write a change: %w", err)
	}
	var last struct {
		store.Change
		Top int64 // of all numbers that were given
	}
	err = tx.Raw(`SELECT t.top, c.* FROM (SELECT coalesce(max(seq), 0) AS top FROM changes WHERE page_id = @page) t
		LEFT JOIN LATERAL (SELECT * FROM changes WHERE page_id = @page AND NOT (undone AND user_id = @user) ORDER BY seq DESC LIMIT 1) c ON true`,
		sql.Named("page", pageID), sql.Named("user", userID)).Scan(&last).Error
	if err != nil {
		return nil, fmt.Errorf("read the last change: %w", err)
	}
	seq := last.Top + 1
	if joins && continues(last.Change, userID, c) {
		seq = last.Seq
		if back, err = stillBack(last.Inverse, inverse); err != nil {
			return nil, err
		}
	}
	return &store.Change{PageID: pageID, Seq: seq, At: desk.Store.Now(), UserID: userID, Command: command, Inverse: back}, nil
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

// change locks a page, lets do change its tree, and stores it under the next
// revision, with the change that do returns, if any.
func (desk *Desk) change(ctx context.Context, pageID string, do func(*gorm.DB, *drafts.Draft) (*store.Change, error)) (drafts.Draft, error) {
	var d drafts.Draft
	err := desk.Store.In(ctx, func(tx *gorm.DB) error {
		row, err := store.One[store.Page](tx.Clauses(clause.Locking{Strength: "UPDATE"}).Where("id = ?", pageID), "There is no such page.")
		if err != nil {
			return err
		}
		if d, err = desk.Drafts.DraftOf(row); err != nil {
			return err
		}
		d.Tree.Naming = drafts.NamingOf(d)
		made, err := do(tx, &d)
		if err != nil {
			return err
		}
		n := d.Tree.Naming
		d.Tree.Naming = publish.Naming{}
		d.Name, d.Address, d.Title, d.Description = n.Name, n.Address, n.Title, n.Description
		if d.Manuscript, err = json.Marshal(d.Tree); err != nil {
			return fmt.Errorf("write the manuscript: %w", err)
		}
		d.Revision++
		err = write(tx, d, made)
		if store.IsDuplicate(err) {
			return refusal.Of(refusal.ErrConflict, "Another page already has the address /%s. Choose another.", n.Address)
		}
		return err
	})
	if err != nil {
		return d, err
	}
	err = desk.Drafts.Stand(ctx, &d) // before d is answered with: what it stands for belongs to it
	return d, err
}

// write stores a page, and the change that made it so. What its writer had taken back
// is forgotten then: it can be repeated no more. A key typed does this, so it is one
// statement.
func write(tx *gorm.DB, d drafts.Draft, made *store.Change) error {
	page := `UPDATE pages SET manuscript = @manuscript, revision = @revision, name = @name, address = @address, title = @title, description = @description WHERE id = @page`
	values := map[string]any{
		"page": d.ID, "manuscript": string(d.Manuscript), "revision": d.Revision, "name": d.Name, "address": d.Address, "title": d.Title, "description": d.Description,
	}
	if made != nil {
		page = `WITH gone AS (DELETE FROM changes WHERE page_id = @page AND undone AND user_id = @user),
			kept AS (INSERT INTO changes (page_id, seq, at, user_id, command, inverse) VALUES (@page, @seq, @at, @user, @command, @inverse)
				ON CONFLICT (page_id, seq) DO UPDATE SET command = EXCLUDED.command, inverse = EXCLUDED.inverse, at = EXCLUDED.at) ` + page
		values["user"], values["seq"], values["at"] = made.UserID, made.Seq, made.At
		values["command"], values["inverse"] = string(made.Command), string(made.Inverse)
	}
	return tx.Exec(page, values).Error
}
