package relays_test

import (
	"context"
	"encoding/json"
	"errors"
	"testing"
	"time"

	"chrysagon/app/audience"
	"chrysagon/app/ports"
	"chrysagon/app/relays"
	"chrysagon/core/refusal"
	"chrysagon/core/relay"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/gorm"
)

// ear is another program that answers as it is told.
type ear struct {
	heard  []ports.Dispatch
	status int
	fails  error
}

func (e *ear) Tell(_ context.Context, t ports.Dispatch) (ports.Answered, error) {
	if e.fails != nil {
		return ports.Answered{}, e.fails
	}
	e.heard = append(e.heard, t)
	return ports.Answered{Status: e.status, Says: "heard"}, nil
}

func (e *ear) types(t *testing.T) (out []string) {
	t.Helper()
	for _, h := range e.heard {
		var m relay.Message
		require.NoError(t, json.Unmarshal(h.Body, &m))
		out = append(out, string(m.Type)+" "+m.Data.Email)
	}
	return out
}

func use(t *testing.T) (*testkit.Cases, *ear) {
	t.Helper()
	c := testkit.UseLists(t)
	e := &ear{status: 200}
	c.Ports.Relays = e
	return c, e
}

func every() (out []relay.Event) {
	for _, e := range relay.Events {
		out = append(out, e.Event)
	}
	return out
}

func save(t *testing.T, c *testkit.Cases, r relays.Row) string {
	t.Helper()
	r.Name, r.URL, r.Shape = "The team", "https://team.example/in", relay.JSON
	id, faults, err := c.Relays.Save(context.Background(), r)
	require.NoError(t, err)
	require.Empty(t, faults)
	return id
}

func join(t *testing.T, c *testkit.Cases, list, email string) {
	t.Helper()
	require.NoError(t, c.Store.In(context.Background(), func(tx *gorm.DB) error {
		return c.Audience.Join(tx, audience.Joining{ListID: list, Email: email, Name: "Ines Falk", PageID: "seven-knots", Consent: "Yes.", Source: "poster", At: c.Clock.Now()})
	}))
}

func deliver(t *testing.T, c *testkit.Cases) {
	t.Helper()
	_, err := c.Relays.Deliver(context.Background())
	require.NoError(t, err)
}

// Each kind of news, as it happens, told once; a lead never before they agreed.
func TestEachNewsIsToldOnce(t *testing.T) {
	c, e := use(t)
	save(t, c, relays.Row{Relay: relay.Relay{Events: every()}})
	join(t, c, "the-guide", "ines@readers.example")
	deliver(t, c)
	assert.Empty(t, e.heard, "they have not confirmed it")
	c.Exec("UPDATE members SET state = 'on', on_at = $1", c.Clock.Now())
	deliver(t, c)
	deliver(t, c)
	assert.Equal(t, []string{"lead.created ines@readers.example"}, e.types(t))
	var m relay.Message
	require.NoError(t, json.Unmarshal(e.heard[0].Body, &m))
	assert.Equal(t, "The guide", m.Data.List)
	assert.Equal(t, "poster", m.Data.Source)
	assert.Contains(t, m.Data.Consent, "Yes.")
	assert.Equal(t, testkit.Start, m.Timestamp)

	e.heard = nil
	c.Exec("UPDATE members SET state = 'off', off_at = $1", c.Clock.Now())
	// A form that puts nobody on a list, and an appointment.
	c.Exec(`INSERT INTO leads (id, kind, email, name, page_id, piece_id, consent, at) VALUES ('l1', 'newsletter', 'bo@readers.example', 'Bo', 'night-flight', 'x', 'Write to me.', $1)`, c.Clock.Now())
	c.Exec(`INSERT INTO leads (id, kind, email, name, page_id, piece_id, at, slot_at, slot_minutes) VALUES ('l2', 'appointment', 'cy@readers.example', 'Cy', 'night-flight', 'y', $1, $2, 45)`, c.Clock.Now(), c.Clock.Now().Add(48*time.Hour))
	c.Exec(`INSERT INTO leads (id, kind, email, name, page_id, piece_id, message, at) VALUES ('l3', 'message', 'di@readers.example', 'Di', 'night-flight', 'z', 'Hello', $1)`, c.Clock.Now())
	deliver(t, c)
	assert.ElementsMatch(t, []string{"contact.unsubscribed ines@readers.example", "lead.created bo@readers.example", "booking.created cy@readers.example"}, e.types(t))

	// An order that is paid, its parcel and its refund.
	e.heard = nil
	id := c.Text("SELECT id FROM orders WHERE state = 'paid' ORDER BY id LIMIT 1")
	c.Exec("CREATE TABLE was AS SELECT * FROM orders WHERE id = $1", id)
	c.Exec("UPDATE orders SET state = 'paying', paid_at = NULL, number = NULL, handling = NULL WHERE id = $1", id)
	c.Exec("UPDATE orders o SET state = 'paid', paid_at = w.paid_at, number = w.number, handling = w.handling, email = 'ed@readers.example' FROM was w WHERE o.id = w.id")
	c.Exec("INSERT INTO parcels (id, order_id, carrier, number, sent_at, sent_by) VALUES ('p1', $1, 'Coast Post', 'CP1', $2, 'Marta')", id, c.Clock.Now())
	c.Exec("INSERT INTO refunds (id, order_id, asked_at, asked_by, restock, mail) VALUES ('r1', $1, $2, 'Marta', false, false)", id, c.Clock.Now())
	c.Exec("INSERT INTO refund_parts (refund_id, payment_id, key, state, amount_minor, tax_minor) SELECT 'r1', id, 'k1', 'asked', 500, 0 FROM payments WHERE order_id = $1 LIMIT 1", id)
	c.Exec("UPDATE refund_parts SET state = 'refunded', settled_at = $1 WHERE refund_id = 'r1'", c.Clock.Now())
	deliver(t, c)
	assert.ElementsMatch(t, []string{"order.paid ed@readers.example", "shipment.sent ed@readers.example", "refund.made ed@readers.example"}, e.types(t))
	for _, h := range e.heard {
		require.NoError(t, json.Unmarshal(h.Body, &m))
		assert.NotZero(t, m.Data.Number)
		assert.Equal(t, "EUR", m.Data.Currency)
		switch m.Type {
		case relay.Order:
			assert.NotEmpty(t, m.Data.Lines)
		case relay.Refund:
			assert.Equal(t, "5.00", m.Data.Refunded)
		case relay.Shipment:
			assert.Equal(t, "CP1", m.Data.Parcel)
		default:
			t.Fatal(m.Type)
		}
	}
	assert.Zero(t, c.Number("SELECT count(*) FROM dispatches WHERE done_at IS NULL"))
}

// Only what was chosen is told, of the list and page that were chosen; people of a file are
// no leads.
func TestOnlyWhatWasChosenIsTold(t *testing.T) {
	c, e := use(t)
	c.Exec("UPDATE lists SET confirmed = false")
	id := save(t, c, relays.Row{ListID: "news-of-the-coast", Relay: relay.Relay{Events: []relay.Event{relay.Lead}}})
	join(t, c, "the-guide", "ines@readers.example")
	_, err := c.Audience.Import(context.Background(), audience.Importing{ListID: "news-of-the-coast", Raw: []byte("email\nfile@readers.example\n"), Consent: "On paper, June 2026"})
	require.NoError(t, err)
	deliver(t, c)
	assert.Empty(t, e.heard)
	join(t, c, "news-of-the-coast", "ines@readers.example")
	c.Exec("UPDATE members SET state = 'off', off_at = $1", c.Clock.Now())
	deliver(t, c)
	assert.Equal(t, []string{"lead.created ines@readers.example"}, e.types(t))

	save(t, c, relays.Row{ID: id, PageID: "night-flight", Relay: relay.Relay{Events: []relay.Event{relay.Lead}}})
	join(t, c, "the-guide", "bo@readers.example")
	deliver(t, c)
	assert.Len(t, e.heard, 1, "they came by another page")
	require.NoError(t, c.Relays.Remove(context.Background(), id))
	require.ErrorIs(t, c.Relays.Remove(context.Background(), id), refusal.ErrNotFound)
}

// What is not taken is tried again, with waits that double, under one ID and the same body;
// in the end it is given up, and a press sends it once more.
func TestMessagesAreTriedAgainAndGivenUp(t *testing.T) {
	c, e := use(t)
	ctx := context.Background()
	c.Exec("UPDATE lists SET confirmed = false")
	id := save(t, c, relays.Row{Relay: relay.Relay{Events: every()}})
	e.status = 500
	join(t, c, "the-guide", "ines@readers.example")
	for range 20 {
		deliver(t, c)
		c.Exec("UPDATE contacts SET name = name || 'x'") // what was written once stays
		c.Clock.Advance(7 * time.Hour)
	}
	require.Len(t, e.heard, 12)
	for _, h := range e.heard {
		assert.Equal(t, e.heard[0].ID, h.ID)
		assert.Equal(t, string(e.heard[0].Body), string(h.Body))
		assert.NotEmpty(t, h.Secret)
	}
	told, err := c.Relays.Told(ctx, id)
	require.NoError(t, err)
	require.Len(t, told, 1)
	assert.Len(t, told[0].Tried, 12)
	assert.Equal(t, "it was not taken in 12 tries", told[0].Dropped)
	e.status = 200
	require.NoError(t, c.Relays.Again(ctx, told[0].ID))
	deliver(t, c)
	assert.Equal(t, string(e.heard[0].Body), string(e.heard[12].Body))
	require.ErrorIs(t, c.Relays.Again(ctx, "msg_none"), refusal.ErrNotFound)

	// One that answers nothing; one that wants no more.
	e.fails = errors.New("dial tcp: i/o timeout")
	join(t, c, "news-of-the-coast", "ines@readers.example")
	deliver(t, c)
	e.fails, e.status = nil, 410
	c.Clock.Advance(time.Minute)
	deliver(t, c)
	list, err := c.Relays.List(ctx)
	require.NoError(t, err)
	assert.Contains(t, list[0].Stopped, "wants no more")
	heard := len(e.heard)
	join(t, c, "the-guide", "bo@readers.example")
	deliver(t, c)
	assert.Len(t, e.heard, heard, "it is told nothing more")
	save(t, c, relays.Row{ID: id, Relay: relay.Relay{Events: every()}})
	join(t, c, "the-guide", "cy@readers.example")
	e.status = 204
	deliver(t, c)
	assert.Greater(t, len(e.heard), heard, "until its owner keeps it once more")
}

// Of somebody who was erased before it was told, nothing is.
func TestNothingIsToldOfWhoIsErased(t *testing.T) {
	c, e := use(t)
	c.Exec("UPDATE lists SET confirmed = false")
	save(t, c, relays.Row{Relay: relay.Relay{Events: every()}})
	join(t, c, "the-guide", "ines@readers.example")
	require.NoError(t, c.Audience.Erase(context.Background(), c.Text("SELECT id FROM contacts")))
	deliver(t, c)
	assert.Empty(t, e.heard)
	assert.Equal(t, "what it was about is gone", c.Text("SELECT dropped FROM dispatches"))
}
