package relay_test

import (
	"encoding/json"
	"fmt"
	"net/url"
	"testing"
	"time"

	"chrysagon/core/relay"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

var at = time.Date(2026, 11, 23, 14, 5, 0, 0, time.UTC)

// A lead elsewhere, as a form would have sent it.
func Example() {
	m := relay.Message{Type: relay.Lead, Timestamp: at, Data: relay.Data{Email: "ines@readers.example", Name: "Ines Falk", List: "The guide"}}
	kind, body, err := m.Body(relay.Form, []relay.Field{{Theirs: "EMAIL", Ours: "email"}, {Theirs: "tag", Words: "kites"}})
	fmt.Println(kind, string(body), err)
	// Output: application/x-www-form-urlencoded EMAIL=ines%40readers.example&tag=kites <nil>
}

// A message has type, timestamp and data, as the Standard Webhooks specification has it, and
// nothing that does not belong to its event.
func TestAMessageSaysWhatHappened(t *testing.T) {
	kind, body, err := relay.Message{Type: relay.Order, Timestamp: at, Data: relay.Data{Email: "ines@example.org", Number: 1042, Total: "51.00", Currency: "EUR", Lines: []relay.Line{{Name: "Ember", SKU: "GK-EMB-180", Quantity: 1, Total: "51.00"}}}}.Body(relay.JSON, nil)
	require.NoError(t, err)
	assert.Equal(t, "application/json", kind)
	assert.JSONEq(t, `{"type": "order.paid", "timestamp": "2026-11-23T14:05:00Z", "data": {"email": "ines@example.org", "number": 1042, "total": "51.00", "currency": "EUR",
		"lines": [{"name": "Ember", "sku": "GK-EMB-180", "quantity": 1, "total": "51.00"}]}}`, string(body))
}

// Whatever a person is called, a form carries it whole, and no more fields than were named.
func TestAFormCarriesWhatWasTyped(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		name, email := rapid.String().Draw(t, "name"), rapid.String().Draw(t, "email")
		m := relay.Message{Type: relay.Lead, Timestamp: at, Data: relay.Data{Email: email, Name: name}}
		_, body, err := m.Body(relay.Form, []relay.Field{{Theirs: "a", Ours: "name"}, {Theirs: "b", Ours: "email"}, {Theirs: "c", Ours: "parcel"}, {Theirs: "d", Ours: "type"}})
		require.NoError(t, err)
		v, err := url.ParseQuery(string(body))
		require.NoError(t, err)
		assert.Len(t, v, 4)
		assert.Equal(t, []string{name, email, "", "lead.created"}, []string{v.Get("a"), v.Get("b"), v.Get("c"), v.Get("d")})
		_, body, err = m.Body(relay.JSON, nil)
		require.NoError(t, err)
		var back relay.Message
		require.NoError(t, json.Unmarshal(body, &back))
		assert.Equal(t, m, back)
	})
}

func TestRelaysAreMendedBeforeTheyAreKept(t *testing.T) {
	good := relay.Relay{Name: "The team", URL: "https://team.example/in?key=1", Events: []relay.Event{relay.Lead, relay.Order}, Shape: relay.JSON}
	assert.Empty(t, good.Faults())
	for field, change := range map[string]func(*relay.Relay){
		"name": func(r *relay.Relay) { r.Name = "" }, "events": func(r *relay.Relay) { r.Events = []relay.Event{"everything"} },
		"shape": func(r *relay.Relay) { r.Shape = "fax" }, "fields": func(r *relay.Relay) { r.Shape, r.Fields = relay.Form, []relay.Field{{Theirs: "x", Ours: "secret"}} },
	} {
		r := good
		change(&r)
		assert.Contains(t, r.Faults(), field)
	}
	for _, address := range []string{"", "team.example", "ftp://team.example", "file:///etc/passwd", "https://", "https://u:p@team.example", "javascript:alert(1)"} {
		r := good
		r.URL = address
		assert.Contains(t, r.Faults(), "url", address)
	}
	for _, e := range relay.Events {
		assert.NotEmpty(t, e.Event.Says())
	}
}
