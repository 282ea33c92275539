package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"reflect"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// whole are inputs in which every sort of member stands; each is spoilt at one
// place after another.
var whole = map[string]string{
	"quote": `{"currency": "EUR", "zone": "Europe/Lisbon", "moment": "2026-11-23T12:00:00Z", "floor_percent": "20",
		"goods": [{"id": "kite", "name": "Kite", "price": {"minor": 6800, "currency": "EUR"}, "cost": {"minor": 2900, "currency": "EUR"}, "weight_grams": 620, "tags": ["night"], "form": "physical",
			"condition": "returned", "attributes": {"wingspan": 180, "night": true, "skill": "easy"}, "received": "2026-09-01T00:00:00Z", "stock": 4}],
		"offers": [{"id": "o", "kind": "steps", "class": "n", "steps": [{"from": 2, "percent": "10"}], "products": ["kite"], "codes": [{"code": "FROST", "max_uses": 3, "used": 1}], "only": "page", "countries": ["PT"]},
			{"id": "p", "kind": "percent_off", "percent": 12.5, "alone": true, "windows": [{"ends": "2026-12-01T00:00:00Z"}], "min_subtotal": {"minor": 5, "currency": "EUR"}, "min_quantity": 1,
			 "shelf": {"all": [{"field": "condition", "is": ["returned"]}, {"field": "price", "at_most": 8000}]}},
			{"id": "s", "kind": "set", "amount": {"minor": 5, "currency": "EUR"}, "parts": [{"product_id": "kite", "quantity": 2}]},
			{"id": "b", "kind": "buy_get", "buy": 2, "get": 1, "max_uses": 4, "first_order": true}],
		"cart": [{"product_id": "kite", "quantity": 2, "via": "page"}], "codes": ["frost"], "context": {"country": "PT", "uses": {"o": 1}, "first_order": true},
		"tax": {"included": true, "rates": [{"country": "PT", "percent": 23}]},
		"shipping": {"zones": [{"id": "home", "countries": ["PT"], "by": "weight", "up_to": 9000, "steps": [{"from": 0, "price": {"minor": 390, "currency": "EUR"}}]}]}}`,
	"deadline": `{"kind": "repeating", "zone": "Europe/Lisbon", "moment": "2026-11-23T12:00:00Z", "start": "2026-01-01T10:00", "rule": "FREQ=WEEKLY", "runs_seconds": 60, "visitor": {"zone": "UTC"}, "list_occurrences": 3}`,
	"shelf": `{"currency": "EUR", "zone": "UTC", "moment": "2026-11-23T12:00:00Z", "attributes": [{"name": "wingspan", "type": "number", "unit": "cm"}],
		"goods": [{"id": "gull", "price": {"minor": 2900, "currency": "EUR"}, "now": {"minor": 2000, "currency": "EUR"}, "sold": {"30": 4}}],
		"shelf": {"rule": {"any": [{"field": "price", "at_least": 5}, {"none": [{"field": "tag", "is": ["x"]}]}]}, "order": [{"by": "price", "down": true}], "limit": 4, "pinned": ["gull"]}}`,
	"ledger": `{"currency": "EUR", "zone": "UTC", "moment": "2026-11-25T12:00:00Z", "setting": {"regime": "us_former_price", "young": "none"},
		"entries": [{"since": "2026-01-01T00:00:00Z", "price": 6800, "list": 6800}, {"since": "2026-11-20T00:00:00Z", "price": 5100}]}`,
	"season": `{"year": 2026, "zone": "Europe/Lisbon", "countries": ["PT"], "campaigns": [{"id": "frost", "goods": ["ember"], "from": {"day": "black_friday", "offset": -10}, "to": {"date": "2026-11-30"}}],
		"last_orders": [{"arrive_by": {"day": "christmas_eve"}, "handling": 1, "transit": 3, "from": "PT", "to": "PT"}]}`,
	"route": `{"currency": "EUR", "entrance": "sales", "steps": [{"id": "sales", "name": "Sales", "visitors": 400}, {"id": "bag", "visitors": 20}, {"id": "thanks"}],
		"routes": [{"from": "sales", "outcome": "buys", "to": "bag", "taken": 20, "worth": {"minor": 5100, "currency": "EUR"}}, {"from": "bag", "outcome": "yes", "to": "thanks", "percent": 30}],
		"paths": {"funnel": {"steps": [{"id": "sales", "kind": "sales", "name": "Sales"}], "routes": [{"from": "sales", "outcome": "bought", "to": "thanks", "when": [{"kind": "again", "not": true}]}]}, "about": {"sales": {"sells": "ember", "price": 5100}}, "linked": ["sales"]}}`,
	"rehearse": `{"visitors": 20, "seed": 7, "comes": [{"of": "sales", "share": 1}], "who": {"bump": 0.5, "countries": [{"of": "PT", "share": 2}]},
		"funnel": {"steps": [{"id": "sales", "kind": "sales", "name": "Night flight"}, {"id": "thanks", "kind": "thank_you", "name": "Thank you"}], "routes": [{"from": "sales", "outcome": "bought", "fork": [{"to": "thanks", "share": 3}]}]},
		"about": {"sales": {"sells": "ember", "price": 5100}}, "rates": [{"step": "sales", "outcome": "bought", "rate": 0.05}]}`,
}

// places lists the paths of every value.
func places(v any, at string) []string {
	out := []string{at}
	switch v := v.(type) {
	case map[string]any:
		for name, one := range v {
			out = append(out, places(one, at+"/"+name)...)
		}
	case []any:
		for i, one := range v {
			out = append(out, places(one, fmt.Sprintf("%s/%d", at, i))...)
		}
	}
	return out
}

// with is a value with something else at a path; nil takes it away.
func with(v any, path []string, put any) any {
	if len(path) == 0 {
		return put
	}
	switch v := v.(type) {
	case map[string]any:
		out := map[string]any{}
		for name, one := range v {
			if name != path[0] {
				out[name] = one
			} else if len(path) > 1 || put != nil {
				out[name] = with(one, path[1:], put)
			}
		}
		return out
	case []any:
		out := []any{}
		for i, one := range v {
			if fmt.Sprint(i) != path[0] {
				out = append(out, one)
			} else if len(path) > 1 || put != nil {
				out = append(out, with(one, path[1:], put))
			}
		}
		return out
	}
	return v
}

// additional stands for a member that no schema names.
type additional struct{}

// A schema and the reader agree on shape, enumerations, ranges and missing
// members: what one refuses the other refuses. What only the program can know (IDs
// that are named, currencies, zones, rules across members: docs/formats/README.md)
// it may refuse beyond that, never the other way. The schema is read by a library
// that the program does not use.
func TestSchemasAndTheProgramAgree(t *testing.T) {
	for name, text := range whole {
		file := "../../docs/formats/" + name + ".in.schema.json"
		compiler := jsonschema.NewCompiler()
		compiler.AssertFormat()
		schema, err := compiler.Compile(file)
		require.NoError(t, err)
		var sound any
		require.NoError(t, json.Unmarshal([]byte(text), &sound))
		require.NoError(t, schema.Validate(sound), name)
		_, err = run(t, name, text)
		require.NoError(t, err, name)
		everywhere := places(sound, "")
		rapid.Check(t, func(t *rapid.T) {
			spoilt := sound
			for range rapid.IntRange(1, 2).Draw(t, "times") {
				at := rapid.SampledFrom(everywhere).Draw(t, "place")
				path := strings.Split(at, "/")[1:]
				put := rapid.SampledFrom([]any{
					nil, additional{}, "", "x", "phisical", "2026-11-23T12:00:00Z", "12.5", -1.0, 0.0, 1.0, 7.0, 1e6, 99999999999999.0, true, map[string]any{}, []any{}, []any{"x"}, json.RawMessage("null"), json.RawMessage("1.5"),
				}).Draw(t, "put")
				if _, ok := put.(additional); ok {
					put = map[string]any{"surprise": 1.0}
				}
				spoilt = with(spoilt, path, put)
			}
			raw, err := json.Marshal(spoilt)
			require.NoError(t, err)
			again, err := jsonschema.UnmarshalJSON(strings.NewReader(string(raw)))
			require.NoError(t, err)
			said, err := quietly(name, string(raw))
			bySchema := schema.Validate(again)
			byReader := reader.Read(bytes.NewReader(raw), reflect.New(reflect.TypeOf(formats[name+".in"])).Interface())
			require.Equal(t, bySchema == nil, byReader == nil, "%s\nschema: %v\nreader: %v", raw, bySchema, byReader)
			if err == nil {
				require.NoError(t, bySchema, "the program took %s", raw)
				require.True(t, json.Valid([]byte(said)))
				return
			}
			require.Equal(t, 2, codeOf(err))
		})
	}
}
