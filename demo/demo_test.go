package demo_test

import (
	"context"
	"strings"
	"testing"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/demo"
	"chrysagon/internal/testkit"
	"chrysagon/store"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The demo store is loaded once: begun anew the next day it is as its owner left it,
// with its deadline ahead still.
func TestTheDemoIsLoadedOnce(t *testing.T) {
	ctx := context.Background()
	s := testkit.DB(t)
	count := func(table string) (n int64) {
		require.NoError(t, s.DB.Raw("SELECT count(*) FROM "+table).Scan(&n).Error)
		return n
	}
	require.NoError(t, s.DB.Exec("UPDATE products SET name = 'Renamed' WHERE id = 'gull'").Error)
	before := map[string]int64{}
	for _, table := range []string{"products", "variants", "offers", "pages", "orders", "pictures", "events"} {
		before[table] = count(table)
		assert.Positive(t, before[table], table)
	}
	next := testkit.Start.AddDate(0, 0, 1)
	require.NoError(t, demo.Load(ctx, s, next))
	for table, n := range before {
		assert.Equal(t, n, count(table), table)
	}
	assert.Equal(t, int64(1), count("products WHERE name = 'Renamed'"))
	var at time.Time
	require.NoError(t, s.DB.Raw("SELECT at FROM deadlines ORDER BY at DESC LIMIT 1").Scan(&at).Error)
	assert.True(t, at.After(next))
}

// The season's opt-in page hands out what it promises, and its paths are sound.
func TestTheSeasonKeepsItsPromise(t *testing.T) {
	shop := testkit.OpenSeason(t)
	b := shop.Browser()
	b.Get("/seven-knots")
	require.Contains(t, []string{"/first-gust", "/ask-the-wind"}, b.SignUp("knots@example.org").Location)
	assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM leads WHERE email = 'knots@example.org' AND gives = 'seven-knots'"))
	f, err := factbook.File(shop.Store.DB, "seven-knots")
	require.NoError(t, err)
	assert.Contains(t, b.Get(f.Path).Body, "SEVEN KNOTS")
	require.NoError(t, demo.Season(t.Context(), shop.Store, "http://elsewhere.example/", testkit.Start), "laid once")
	assert.Equal(t, int64(8), shop.Number("SELECT count(*) FROM steps WHERE campaign_id = 'frost-lanterns'"))
}

// Opened at once, or loaded and given its paths later, the demo tells the same story.
func TestTheStoryIsTheSameHoweverItIsOpened(t *testing.T) {
	const lamps = "http://lamps.example/"
	ctx := context.Background()
	told := func(s *store.Store) (out []string) {
		for _, sql := range []string{
			"SELECT w::text FROM walk_hours w ORDER BY 1", "SELECT concat_ws(' ', at, kind, visitor, page_id, step_id, edition_id, name, to_step, source) FROM events ORDER BY 1",
			"SELECT c::text FROM link_clicks c ORDER BY 1", "SELECT concat_ws(' ', visitor, begun_at, source, landing) FROM walks ORDER BY 1",
		} {
			var rows []string
			require.NoError(t, s.DB.Raw(sql).Scan(&rows).Error)
			require.NotEmpty(t, rows, sql)
			out = append(out, strings.Join(rows, "\n"))
		}
		return out
	}
	late, once := testkit.DB(t), testkit.Empty(t)
	require.NoError(t, demo.Season(ctx, late, lamps, testkit.Start))
	require.NoError(t, demo.Open(ctx, once, lamps, testkit.Start))
	assert.Equal(t, told(late), told(once))
}
