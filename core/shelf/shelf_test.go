package shelf_test

import (
	"encoding/json"
	"fmt"
	"testing"
	"time"

	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/shelf"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var sight = shelf.Sight{Moment: time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC), Zone: time.UTC}

func entry(id string, minor int64, change func(*shelf.Entry)) shelf.Entry {
	e := shelf.Entry{Product: goods.Product{ID: id, Name: id, Category: "Kites", Price: money.Of(minor, "EUR"), Stock: 3}}
	if change != nil {
		change(&e)
	}
	return e
}

func rack() []shelf.Entry {
	lines := func(n string, min, max string) func(*shelf.Entry) {
		return func(e *shelf.Entry) {
			e.Attributes = map[string]goods.Value{"lines": goods.NumberOf(n), "wind_min": goods.NumberOf(min), "wind_max": goods.NumberOf(max)}
		}
	}
	old := func(days int, c goods.Condition) func(*shelf.Entry) {
		return func(e *shelf.Entry) { e.Received, e.Condition = sight.Moment.AddDate(0, 0, -days), c }
	}
	return []shelf.Entry{
		entry("dual", 7000, lines("2", "1", "4")), entry("quad", 18000, lines("4", "2", "5")), entry("single", 2900, lines("1", "2", "4")), entry("storm", 9000, lines("2", "5", "8")),
		entry("back", 8000, old(20, goods.Returned)), entry("shown", 8001, old(90, goods.ExDemo)), entry("stood", 4000, old(91, goods.New)),
		entry("reel", 1400, func(e *shelf.Entry) { e.Category = "Reels"; e.Condition = goods.Returned }),
	}
}

func read(t *testing.T, text string) shelf.Shelf {
	t.Helper()
	var s shelf.Shelf
	require.NoError(t, json.Unmarshal([]byte(text), &s))
	require.NoError(t, s.Validate())
	return s
}

func ids(list []shelf.Entry) []string {
	out := []string{}
	for _, e := range list {
		out = append(out, e.ID)
	}
	return out
}

// The three pages of the job, their sentences, and shelves by hand and with pins.
func TestShelves(t *testing.T) {
	units := map[string]goods.Attribute{"wind_min": {Label: "Wind from", Unit: "bft"}}
	for _, c := range []struct{ json, sentence, picked string }{
		{`{"rule": {"all": [{"field": "category", "is": ["kites"]}, {"field": "condition", "is": ["returned", "ex-demo"]}, {"field": "price", "at_most": 8000}]}}`,
			"Goods in category kites and whose condition is returned or ex-demo and with a price of at most €80.00.", "[back]"},
		{`{"rule": {"all": [{"field": "attribute", "name": "lines", "is": [2, 4]}, {"field": "attribute", "name": "wind_min", "at_most": 2}]}, "order": [{"by": "price", "down": true}]}`,
			"Goods with lines 2 or 4 and with wind from at most 2 bft, ordered by price, greatest first.", "[quad dual]"},
		{`{"rule": {"field": "days_in_stock", "at_least": 91}}`, "Goods at least 91 days in stock (more than 90).", "[stood]"},
		{`{"rule": {"any": [{"field": "price", "at_most": 1400}, {"all": [{"field": "price", "at_least": 9000}, {"field": "stock", "at_least": 1}]}]}}`,
			"Goods with a price of at most €14.00 or (with a price of at least €90.00 and with at least 1 piece in stock).", "[quad reel storm]"},
		{`{"rule": {"none": [{"field": "category", "is": ["Kites"]}]}, "pinned": ["storm", "gone"]}`, "Goods not in category Kites, with 2 products pinned first.", "[storm reel]"},
		{`{"by_hand": true, "pinned": ["reel", "dual"]}`, "2 products picked by hand.", "[reel dual]"},
		{`{"rule": {"field": "category", "is": ["kites"]}, "left_out": ["dual"], "pinned": ["dual"], "limit": 2, "order": [{"by": "name", "down": true}]}`,
			"Goods in category kites, with 1 product pinned first, without 1 product left out, ordered by name, greatest first, the first 2.", "[storm stood]"},
		{`{"rule": {"field": "price", "at_least": 8000, "at_most": 8001}}`, "Goods with a price of from €80.00 to €80.01.", "[back shown]"},
		{`{}`, "All goods.", "[back dual quad reel shown single stood storm]"},
		{`{"rule": {"field": "tag", "is": []}}`, "Goods tagged none that exists.", "[]"},
	} {
		s := read(t, c.json)
		assert.Equal(t, c.sentence, s.Sentence("EUR", units))
		assert.Equal(t, c.picked, fmt.Sprint(ids(s.Pick(rack(), sight))), c.sentence)
	}
}

func TestPromotionalPricesSavingsAndSales(t *testing.T) {
	list := []shelf.Entry{entry("a", 10000, func(e *shelf.Entry) { e.Now = money.Of(7499, "EUR"); e.Sold = map[int]int64{30: 5} }), entry("b", 10000, nil)}
	for text, want := range map[string]string{
		`{"rule": {"field": "price", "at_most": 7500}}`:                   "[a]",
		`{"rule": {"field": "list_price", "at_most": 7500}}`:              "[]",
		`{"rule": {"field": "saving", "at_least": 2501}}`:                 "[a]",
		`{"rule": {"field": "saving_percent", "at_least": 25}}`:           "[a]",
		`{"rule": {"field": "saving_percent", "at_least": 26}}`:           "[]",
		`{"rule": {"field": "sales", "days": 30, "at_least": 5}}`:         "[a]",
		`{"rule": {"field": "sales", "days": 30, "at_most": 0}}`:          "[b]",
		`{"order": [{"by": "sales", "days": 30}]}`:                        "[b a]",
		`{"rule": {"field": "days_in_stock", "at_most": 9}}`:              "[]",
		`{"rule": {"none": [{"field": "days_in_stock", "at_most": 99}]}}`: "[a b]",
	} {
		assert.Equal(t, want, fmt.Sprint(ids(read(t, text).Pick(list, sight))), text)
	}
}

func TestAnEmptyShelfSaysWhatToLoosen(t *testing.T) {
	s := read(t, `{"rule": {"all": [{"field": "condition", "is": ["returned"]}, {"field": "price", "at_most": 1000}]}}`)
	assert.Contains(t, shelf.Warning(len(s.Pick(rack(), sight))), "Nothing stands on this shelf")
	advice := s.Loosen(rack(), sight, "EUR", nil)
	require.Len(t, advice, 1, "leaving the condition away would let in nothing under 10.00")
	assert.Equal(t, "Make it “with a price of at most €14.00”: 1 product then.", advice[0].Say)
	assert.Equal(t, "rule.all[1]", advice[0].Path)
	s = read(t, `{"rule": {"all": [{"field": "condition", "is": ["returned"]}, {"field": "category", "is": ["Reels"]}]}}`)
	assert.Contains(t, shelf.Warning(len(s.Pick(rack(), sight))), "Only one product")
	assert.Equal(t, "Leave “in category Reels” away: 2 products then.", s.Loosen(rack(), sight, "EUR", nil)[0].Say)
}

func TestShelvesThatCannotBeReadAreRefusedWithTheirPlace(t *testing.T) {
	for text, want := range map[string]string{
		`{"rule": {"all": [{"field": "colour", "is": ["red"]}]}}`:                                   "rule.all[0].field",
		`{"rule": {"all": [{"any": [{"field": "price"}]}]}}`:                                        "rule.all[0].any[0]: bound it",
		`{"rule": {"field": "price", "is": [5]}}`:                                                   "rule.is: price is a number",
		`{"rule": {"field": "attribute", "is": [5]}}`:                                               "rule.name",
		`{"rule": {"field": "sales", "at_least": 5}}`:                                               "rule.days",
		`{"rule": {"field": "added", "since": "soon"}}`:                                             "rule.since",
		`{"rule": {"at_least": 5}}`:                                                                 "rule.field: missing",
		`{"rule": {"field": "price", "at_most": 5, "all": []}}`:                                     "either a group or a condition",
		`{"rule": {"all": [], "any": []}}`:                                                          "either all, any or none",
		`{"order": [{"by": "tag"}]}`:                                                                "order[0].by",
		`{"limit": -1}`:                                                                             "limit",
		`{"rule":{"all":[{"all":[{"all":[{"all":[{"all":[{"all":[{"all":[{"all":[]}]}]}]}]}]}]}]}}`: "deep",
	} {
		var s shelf.Shelf
		require.NoError(t, json.Unmarshal([]byte(text), &s), text)
		assert.ErrorContains(t, s.Validate(), want)
	}
	for _, bad := range []string{`{"a":1}`, `1e99`, `1e-99`, `null`} {
		var v goods.Value
		assert.Error(t, v.UnmarshalJSON([]byte(bad)), bad)
	}
	// A group that nothing can meet must not come back as one that all do.
	never, err := json.Marshal(shelf.Rule{Any: []shelf.Rule{}})
	require.NoError(t, err)
	assert.JSONEq(t, `{"any": []}`, string(never))
}

func TestDaysPassAtMidnightOfTheZone(t *testing.T) {
	lisbon, err := time.LoadLocation("Europe/Lisbon")
	require.NoError(t, err)
	at := shelf.Sight{Moment: time.Date(2026, 7, 1, 22, 59, 0, 0, time.UTC), Zone: lisbon}                   // 23:59 there
	e := entry("a", 1, func(e *shelf.Entry) { e.Received = time.Date(2026, 6, 30, 23, 30, 0, 0, time.UTC) }) // already 1 July there
	rule := read(t, `{"rule": {"field": "days_in_stock", "at_least": 1}}`)
	assert.False(t, rule.Rule.Meets(e, at))
	next := rule.Changes(at)
	assert.Equal(t, "2026-07-01T23:00:00Z", next.Format(time.RFC3339))
	at.Moment = next
	assert.True(t, rule.Rule.Meets(e, at))
	assert.Zero(t, read(t, `{"rule": {"field": "price", "at_most": 1}}`).Changes(at))
}
