package main

import (
	"context"
	"encoding/json"
	"fmt"
	"net/url"
	"time"

	"chrysagon/app"
	"chrysagon/app/factbook"
	"chrysagon/core/manuscript"
	"chrysagon/core/shelf"
)

// listsMany measures what the page of a list reads at a million goods: its goods with their
// prices, how many there are, and the counts of three things that narrow it.
func listsMany(ctx context.Context, a *app.App) error {
	for name, rule := range map[string]string{
		"everything":                    `{"rule": {"all": [{"field": "stock", "at_least": 0}]}, "order": [{"by": "price"}]}`,
		"returned and ex-demo":          `{"rule": {"all": [{"field": "condition", "is": ["returned", "ex-demo"]}]}, "order": [{"by": "price"}]}`,
		"two or four lines, light wind": `{"rule": {"all": [{"field": "attribute", "name": "lines", "is": [2, 4]}, {"field": "attribute", "name": "wind_min", "at_most": 2}]}, "order": [{"by": "price"}]}`,
		"more than 90 days in stock":    `{"rule": {"all": [{"field": "days_in_stock", "at_least": 91}, {"field": "stock", "at_least": 1}]}, "order": [{"by": "price"}]}`,
	} {
		if _, err := a.Store.Pool.Exec(ctx, `INSERT INTO shelves (id, name, shelf) VALUES ('bench', $1, $2) ON CONFLICT (id) DO UPDATE SET name = excluded.name, shelf = excluded.shelf`, name, json.RawMessage(rule)); err != nil {
			return fmt.Errorf("keep a shelf: %w", err)
		}
		names := manuscript.Names{Shelves: []string{"bench"}, Lists: []manuscript.Paged{{Piece: "list", Shelf: "bench", Size: 24, Alone: true, By: []string{"lines", "wind_min", shelf.ByCondition}}}}
		for _, query := range []string{"", "page=50", "in-lines=2", "in-lines=2&in-wind_min=1&by=dear"} {
			asked, err := url.ParseQuery(query)
			if err != nil {
				return fmt.Errorf("read a view: %w", err)
			}
			goods := 0
			took, err := middle(9, func() error {
				f, err := a.Facts.FactsFor(ctx, names, factbook.Buyer{View: shelf.ReadView(asked)})
				if l := f.Shelves["bench"].List; l != nil {
					goods = len(l.Goods)
				}
				return err
			})
			if err != nil {
				return err
			}
			if query == "" {
				query = "first page"
			}
			report("list of 1,000,000 goods, "+name+": "+query, "%s for %d goods", "under 20 ms", took.Round(100*time.Microsecond), goods)
		}
	}
	return nil
}
