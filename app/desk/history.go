package desk

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"chrysagon/app/drafts"
	"chrysagon/core/manuscript"
	"chrysagon/store"
)

// Past is one change of a page: who made it, when, and what it was.
type Past struct {
	At     time.Time
	Who    string
	What   string
	Undone bool // it was taken back
}

// historyShown is how many changes a history shows.
const historyShown = 200

// History lists a page's changes, the newest first.
func (desk *Desk) History(ctx context.Context, d drafts.Draft) ([]Past, error) {
	var rows []struct {
		At      time.Time
		Name    string
		Command store.JSON
		Undone  bool
	}
	err := desk.Store.On(ctx).Raw(`SELECT c.at, coalesce(u.name, '') AS name, c.command, c.undone FROM changes c LEFT JOIN users u ON u.id = c.user_id
		WHERE c.page_id = ? ORDER BY c.seq DESC LIMIT ?`, d.ID, historyShown).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("read the history: %w", err)
	}
	list := make([]Past, len(rows))
	for i, r := range rows {
		var c manuscript.Command
		if err := json.Unmarshal(r.Command, &c); err != nil {
			return nil, fmt.Errorf("read a change: %w", err)
		}
		list[i] = Past{At: r.At, Who: r.Name, What: desk.Render.Registry.Schema().Tell(d.Tree, c), Undone: r.Undone}
	}
	return list, nil
}
