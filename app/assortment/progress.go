package assortment

import (
	"context"
	"fmt"
	"time"

	"chrysagon/core/refusal"
	"chrysagon/store"
)

// Progress is how far an import has come.
type Progress struct {
	Step        string // in words
	Total, Done int64  // rows
	Failed      string // why it was given up; nothing was changed
	Batch       string // ID, once it is done
	At          time.Time
}

// silence is how long an import may say nothing before it is taken for dead: the
// longest of its steps takes far less.
const silence = 3 * time.Minute

// ImportUnderway tells how far an import is, in whichever program it runs.
func (g *Assortment) ImportUnderway(ctx context.Context, id string) (Progress, error) {
	var p Progress
	err := g.Store.On(ctx).Raw(`SELECT p.step, p.total, p.done, p.failed, coalesce(i.batch_id, '') AS batch, p.at
		FROM import_progress p JOIN imports i ON i.id = p.import_id WHERE p.import_id = ?`, id).Scan(&p).Error
	switch {
	case err != nil:
		return p, fmt.Errorf("read an import's progress: %w", err)
	case p.At.IsZero():
		return p, refusal.Of(refusal.ErrNotFound, "This import is not under way. Look at the file again.")
	case p.Failed == "" && p.Batch == "" && g.Store.Now().Sub(p.At) > silence:
		p.Failed = "The program that applied this file has stopped. Nothing was changed. Apply it again."
	}
	return p, nil
}

// BeginImport marks an import as under way. It tells whether it is now: one that
// another press of the button began goes on alone.
func (g *Assortment) BeginImport(ctx context.Context, id string) (bool, error) {
	now := g.Store.Now()
	done := g.Store.On(ctx).Exec(`INSERT INTO import_progress (import_id, step, at) VALUES (?, ?, ?)
		ON CONFLICT (import_id) DO UPDATE SET step = EXCLUDED.step, at = EXCLUDED.at, total = 0, done = 0, failed = ''
		WHERE import_progress.failed <> '' OR import_progress.at < ?`, id, "Beginning", now, now.Add(-silence))
	if done.Error != nil {
		return false, fmt.Errorf("begin an import: %w", done.Error)
	}
	return done.RowsAffected > 0, nil
}

// FailImport notes why an import was given up.
func (g *Assortment) FailImport(ctx context.Context, id, why string) error {
	return g.progressed(ctx, id, map[string]any{"failed": why})
}

// at says which step an import is at.
func (g *Assortment) at(ctx context.Context, id, step string, total int) error {
	return g.progressed(ctx, id, map[string]any{"step": step, "total": total})
}

// progressed notes how far an import is; outside its transaction, so that it is seen.
func (g *Assortment) progressed(ctx context.Context, id string, now map[string]any) error {
	now["at"] = g.Store.Now()
	return g.Store.On(ctx).Model(&store.ImportProgress{}).Where("import_id = ?", id).Updates(now).Error
}
