package publishing

import (
	"context"
	"fmt"

	"chrysagon/core/manuscript"
	"chrysagon/store"
)

// NoteKinds writes down what pieces of each kind show on a live page, as the kinds say:
// the database notes by it what each live page sells and shows.
func (publisher *Publisher) NoteKinds(ctx context.Context) error {
	var kinds, whats []string
	for name, kind := range publisher.Render.Registry.Schema() {
		if what := showsOf(kind.Traits); what != "" {
			kinds, whats = append(kinds, name), append(whats, what)
		}
	}
	err := publisher.Store.On(ctx).Exec(`WITH now AS (SELECT * FROM unnest(?::text[], ?::text[]) AS n(kind, what)),
			gone AS (DELETE FROM piece_shows WHERE kind NOT IN (SELECT kind FROM now))
		INSERT INTO piece_shows SELECT kind, what FROM now
		ON CONFLICT (kind) DO UPDATE SET what = EXCLUDED.what WHERE piece_shows.what <> EXCLUDED.what`,
		store.TextArray(kinds), store.TextArray(whats)).Error
	if err != nil {
		return fmt.Errorf("note what kinds of piece show: %w", err)
	}
	return nil
}

// showsOf is what a piece of these traits shows; "" where links need not find it.
func showsOf(t manuscript.Traits) string {
	switch {
	case t.Takes == manuscript.TakesOrder:
		return "checkout"
	case t.Shows:
		return "product"
	case t.Stands:
		return "shelf"
	case t.Books:
		return "appointment"
	}
	return ""
}
