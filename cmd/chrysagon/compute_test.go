package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"io"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/goods"
	"chrysagon/core/manuscript"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/pack"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func run(t *testing.T, name, in string) (string, error) {
	t.Helper()
	return quietly(name, in)
}

// codeOf is the code with which a command ends, without a word on standard error.
func codeOf(err error) int {
	var bad badInput
	if errors.As(err, &bad) {
		return 2
	}
	return 1
}

func quietly(name, in string) (string, error) {
	r := root()
	var out bytes.Buffer
	r.SetArgs([]string{name})
	r.SetIn(strings.NewReader(in))
	r.SetOut(&out)
	err := r.Execute()
	return out.String(), err
}

var example = regexp.MustCompile(`(?s)<<'END'\n(.*)\n  END`)

// The example that --help shows must work as it stands.
func TestTheExamplesInHelpWork(t *testing.T) {
	for name, want := range map[string]string{
		"quote": `"minor": 5100`, "deadline": `"written": "Friday 27 November 2026, 23:59"`, "shelf": `"count": 1`,
		"ledger": `"saving_percent": 25`, "season": `"last_order_day": "2026-12-20"`, "route": `"minor": "290.7"`, "rehearse": `"orders": 0.05`, "followup": `"outcome": "ended"`,
	} {
		cmd, _, err := root().Find([]string{name})
		require.NoError(t, err)
		found := example.FindStringSubmatch(cmd.Long)
		require.Len(t, found, 2, "%s --help shows an example", name)
		out, err := run(t, name, found[1])
		require.NoError(t, err)
		assert.Contains(t, out, want)
		assert.True(t, json.Valid([]byte(out)))
	}
}

func TestBadInputEndsWithTwoAndItsPlace(t *testing.T) {
	for _, c := range []struct{ command, in, place string }{
		{"quote", ``, "standard input: it is empty"},
		{"quote", `{`, "standard input"},
		{"quote", `{"currency":"EUR","surprise":1}`, "surprise: there is no such member here"},
		{"quote", `{"Currency":"EUR"}`, "Currency: there is no such member here"},
		{"quote", `{"currency":"EUR","currency":"EUR"}`, "currency: it stands there twice"},
		{"quote", `{"currency":"EUR","cart":null}`, "cart: null cannot stand here"},
		{"quote", `{"currency":"EUR","zone":"caf` + "\xe9" + `"}`, "not text in UTF-8"},
		{"quote", `{"cart":[{"product_id":"x","quantity":1},{"product_id":"x","quantity":"2"}]}`, "cart[1].quantity: text cannot stand here; it must be a whole number"},
		{"quote", `{"cart":[{"product_id":"x","quantity":1.5}]}`, "cart[0].quantity: 1.5; it must be a whole number"},
		{"quote", `{"cart":[{"product_id":"x","quantity":0}]}`, "cart[0].quantity: 0; it must be from 1 to 10000"},
		{"quote", `{"cart":[{"product_id":"x","quantity":1,"via":"mail"}]}`, `cart[0].via: "mail"; it must be page, bump or upsell`},
		{"quote", `{"cart":[{"quantity":1}]}`, "cart[0].product_id: missing"},
		{"quote", `{"goods":[{"id":"a","form":"phisical","price":{"minor":1,"currency":"EUR"}}]}`, `goods[0].form: "phisical"; it must be physical, digital or bookable`},
		{"quote", `{"goods":[{"id":"a","price":{"currency":"EUR"}}]}`, "goods[0].price.minor: missing"},
		{"quote", `{"currency":"EUR","moment":"2026-11-23T12:00:00Z","goods":[],"cart":[],"context":{"country":"de"}}`, `context.country: "de" is not a country's two capital letters`},
		{"quote", `{"currency":"EUR","moment":"2026-11-23T12:00:00Z","goods":[],"cart":[],"offers":[{"id":"o","kind":"percent_off","percent":5,"buy":2}]}`, "offers[0].buy: an offer of the kind percent_off has none; it takes percent"},
		{"quote", `{"currency":"EUR"} x`, "something follows"},
		{"quote", `[1]`, "a list cannot stand here"},
		{"quote", `{"currency":5}`, "currency: a number cannot stand here"},
		{"quote", `{"currency":"EUR","moment":"2026-11-23T12:00:00Z","goods":[],"cart":[{"product_id":"x","quantity":1}]}`, "cart[0].product_id"},
		{"quote", `{} {}`, "something follows"},
		{"deadline", `{"local":"2026-11-27T23:59","zone":"Lisbon","moment":"2026-11-23T12:00:00Z"}`, "not a time zone"},
		{"deadline", `{"local":"tomorrow","zone":"UTC","moment":"2026-11-23T12:00:00Z"}`, "not a date and time"},
		{"deadline", `{"local":"2026-11-27T23:59","zone":"UTC"}`, "moment: missing"},
		{"deadline", `{"kind":"span","zone":"UTC","moment":"2026-11-23T12:00:00Z"}`, "span: must be"},
		{"quote", `{"currency":"EUR","moment":"yesterday"}`, `moment: "yesterday"; it must be a moment`},
		{"shelf", `{"currency":"EUR","moment":"2026-11-23T12:00:00Z","shelf":{"rule":{"field":"shape","is":["round"]}},"goods":[]}`, "shelf.rule.field"},
		{"shelf", `{"currency":"EUR","moment":"2026-11-23T12:00:00Z","goods":[{"id":"a","price":{"minor":1,"currency":"USD"}}],"shelf":{}}`, "goods[0].price"},
		{"ledger", `{"currency":"EUR","moment":"2026-11-23T12:00:00Z","entries":[{"price":5}],"zone":"UTC"}`, "entries[0].since"},
		{"season", `{"year":2026,"zone":"UTC","countries":["Moon"]}`, "countries[0]"},
		{"route", `{"currency":"EUR","entrance":"x","steps":[{"id":"a"}],"routes":[]}`, "entrance"},
		{"rehearse", `{"visitors":1,"comes":[{"of":"x","share":1}],"funnel":{"steps":[],"routes":[]},"rates":[]}`, "comes[0].of"},
		{"rehearse", `{"visitors":1,"comes":[{"of":"x","share":1}],"funnel":{"steps":[],"routes":[]},"rates":[{"step":"x","outcome":"bought","rate":1.5}]}`, "rates[0].rate"},
		{"followup", `{"followup":{"begins":{"what":"joined"},"steps":[]},"history":[],"zone":"Lisbon"}`, "zone"},
		{"followup", `{"followup":{"begins":{"what":"left"},"steps":[]},"history":[],"zone":"UTC"}`, "followup"},
		{"rehearse", `{"visitors":0,"comes":[{"of":"x","share":1}],"funnel":{"steps":[],"routes":[]},"rates":[]}`, "visitors"},
	} {
		_, err := run(t, c.command, c.in)
		require.ErrorContains(t, err, c.place)
		assert.Equal(t, 2, exitCode(err))
	}
}

func TestAWrongCallEndsWithTwo(t *testing.T) {
	for _, args := range [][]string{{"quote", "surprise"}, {"quote", "--surprise"}, {"surprise"}, {"--surprise"}, {"check"}, {"migrate", "surprise"}, {"serve", "--surprise"}} {
		r := root()
		r.SetArgs(args)
		r.SetOut(io.Discard)
		r.SetErr(io.Discard)
		err := r.Execute()
		require.Error(t, err, args)
		assert.Equal(t, 2, codeOf(err), args)
	}
}

// The schemas in docs/formats are those of the types that are read and written.
func TestTheSchemasInTheDocsAreUpToDate(t *testing.T) {
	t.Chdir("../..")
	for name, of := range formats {
		want, err := schemaOf(name, of)
		require.NoError(t, err)
		have, err := os.ReadFile("docs/formats/" + name + ".schema.json")
		require.NoError(t, err)
		assert.Equal(t, string(want), string(have), "run make formats")
	}
}

// What the currencies of none, two and three digits come to, through the
// command line.
func TestQuotesInEveryCurrency(t *testing.T) {
	for currency, want := range map[string]string{"JPY": "¥1,334", "EUR": "€13.34", "KWD": "KWD 1.334"} {
		in := strings.ReplaceAll(`{"currency": "X", "moment": "2026-11-23T12:00:00Z", "goods": [{"id": "a", "name": "a", "price": {"minor": 2001, "currency": "X"}}],
			"offers": [{"id": "o", "name": "o", "kind": "percent_off", "percent": 33.3333}], "cart": [{"product_id": "a", "quantity": 1}]}`, "X", currency)
		out, err := run(t, "quote", in)
		require.NoError(t, err)
		var q offer.Quote
		require.NoError(t, json.Unmarshal([]byte(out), &q))
		assert.Equal(t, want, q.Total.String())
	}
}

// A package is checked without a store, as of a moment.
func TestAPackageIsCheckedFromTheCommandLine(t *testing.T) {
	end := time.Date(2026, 11, 27, 23, 59, 0, 0, time.UTC)
	piece := func(id, kind string, f manuscript.Fields) manuscript.Piece {
		return manuscript.Piece{ID: id, Kind: kind, Fields: f}
	}
	raw, err := pack.Write(pack.Package{Page: pack.Page{
		Name: "Night flight", Address: "night-flight", Purpose: "sales", Title: "Ember",
		Manuscript: manuscript.Page{Version: 1, Bands: []manuscript.Band{{ID: "b", Tone: manuscript.Card, Columns: []manuscript.Column{{Width: 1, Pieces: []manuscript.Piece{
			piece("h", "heading", manuscript.Fields{"text": "Fly", "level": "1"}), piece("go", "button", manuscript.Fields{"label": "Order"}), piece("t", "timer", manuscript.Fields{"deadline": "friday"}),
			piece("c", "checkout", manuscript.Fields{"product": "ember", "deadline": "friday", "after": "close"}), piece("l", "legal", manuscript.Fields{}),
		}}}}}},
		Facts: pack.Facts{Currency: "EUR", Zone: "UTC", At: end.Add(-time.Hour), Goods: []goods.Product{{ID: "ember", Name: "Ember", Price: money.Of(6800, "EUR"), Stock: 3}}, Deadlines: []deadline.Deadline{{ID: "friday", Name: "Friday", Zone: "UTC", At: end}}},
	}})
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "page.zip")
	require.NoError(t, os.WriteFile(file, raw, 0o600))
	run := func(args ...string) (checkOut, error) {
		r := root()
		var out bytes.Buffer
		r.SetArgs(append([]string{"check"}, args...))
		r.SetIn(bytes.NewReader(raw))
		r.SetOut(&out)
		err := r.Execute()
		var said checkOut
		if err == nil {
			require.NoError(t, json.Unmarshal(out.Bytes(), &said))
		}
		return said, err
	}
	said, err := run(file)
	require.NoError(t, err)
	assert.Empty(t, said.Findings)
	assert.Equal(t, 2, said.Calls)
	assert.Positive(t, said.FirstView)
	late, err := run("-", "--moment", "2026-12-01T00:00:00Z")
	require.NoError(t, err)
	require.NotEmpty(t, late.Findings)
	assert.Contains(t, late.Findings[0].What, "has passed")
	for _, bad := range [][]string{{"/nowhere.zip"}, {file, "--moment", "soon"}, {"compute_test.go"}} {
		_, err := run(bad...)
		require.Error(t, err)
		assert.Equal(t, 2, exitCode(err), bad)
	}
}
