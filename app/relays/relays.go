// Package relays tells other programs of what happens: who is told of what, each message as it
// is sent, each try and what came back.
package relays

import (
	"context"
	"crypto/rand"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/app/ports"
	"chrysagon/core/refusal"
	"chrysagon/core/relay"
	"chrysagon/store"
)

// Keeper keeps them.
type Keeper struct {
	Store *store.Store
	Ports *ports.Ports
}

// SendNews is the job that tells what is due.
type SendNews struct{}

// Kind names the job in the queue.
func (SendNews) Kind() string { return "send_news" }

// noRelay is said of an address that leads to none.
const noRelay = "There is no such program in your list."

// Row is another program with what became of what it was told.
type Row struct {
	relay.Relay
	ID, Secret, ListID, PageID string
	List, Page                 string // their names
	Stopped                    string
	Told, Waits, Failed        int
}

// List lists them, by name.
func (k *Keeper) List(ctx context.Context) ([]Row, error) {
	var rows []struct {
		store.Relay
		List, Page          string
		Told, Waits, Failed int
	}
	err := k.Store.On(ctx).Raw(`SELECT r.*, coalesce(l.name, '') AS list, coalesce(p.name, '') AS page,
			coalesce(t.told, 0) AS told, coalesce(t.waits, 0) AS waits, coalesce(t.failed, 0) AS failed
		FROM relays r LEFT JOIN lists l ON l.id = r.list_id LEFT JOIN pages p ON p.id = r.page_id
		LEFT JOIN (SELECT relay_id, count(done_at) AS told, count(*) FILTER (WHERE done_at IS NULL AND dropped = '') AS waits, count(*) FILTER (WHERE dropped <> '') AS failed
			FROM dispatches GROUP BY relay_id) t ON t.relay_id = r.id ORDER BY r.name, r.id`).Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("read who is told of what happens: %w", err)
	}
	out := make([]Row, len(rows))
	for i, r := range rows {
		out[i] = Row{ID: r.ID, Secret: r.Secret, ListID: factbook.Deref(r.ListID), PageID: factbook.Deref(r.PageID), List: r.List, Page: r.Page, Stopped: r.Stopped, Told: r.Told, Waits: r.Waits, Failed: r.Failed}
		if out[i].Relay, err = read(r.Relay); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// read is what a stored relay says.
func read(r store.Relay) (relay.Relay, error) {
	out := relay.Relay{Name: r.Name, URL: r.URL, Shape: relay.Shape(r.Shape)}
	for _, e := range r.Events {
		out.Events = append(out.Events, relay.Event(e))
	}
	if err := json.Unmarshal(r.Fields, &out.Fields); err != nil {
		return out, fmt.Errorf("read the fields of %q: %w", r.Name, err)
	}
	return out, nil
}

// Save keeps one, a new one where it has no ID; it is told of what happens from then on.
// Faults are said field by field.
func (k *Keeper) Save(ctx context.Context, in Row) (string, map[string]string, error) {
	faults := in.Faults()
	db := k.Store.On(ctx)
	for _, of := range []struct{ field, sql, id string }{{"list", "SELECT count(*) FROM lists WHERE id = ?", in.ListID}, {"page", "SELECT count(*) FROM pages WHERE id = ?", in.PageID}} {
		var n int64
		if err := db.Raw(of.sql, of.id).Scan(&n).Error; err != nil {
			return "", nil, err
		}
		if of.id != "" && n == 0 {
			faults[of.field] = "Choose another; this one is gone."
		}
	}
	if len(faults) > 0 {
		return "", faults, nil
	}
	fields, err := json.Marshal(append([]relay.Field{}, in.Fields...))
	if err != nil {
		return "", nil, fmt.Errorf("write the fields of %q: %w", in.Name, err)
	}
	var events []string
	for _, e := range in.Events {
		events = append(events, string(e))
	}
	if in.ID == "" {
		secret := make([]byte, 24)
		if _, err := rand.Read(secret); err != nil {
			return "", nil, err
		}
		in.ID, in.Secret = store.NewID(), "whsec_"+base64.StdEncoding.EncodeToString(secret)
		err = db.Exec("INSERT INTO relays (id, name, url, secret, events, list_id, page_id, shape, fields, created_at) VALUES (?, ?, ?, ?, ?::text[], nullif(?, ''), nullif(?, ''), ?, ?, ?)",
			in.ID, in.Name, in.URL, in.Secret, store.TextArray(events), in.ListID, in.PageID, in.Shape, string(fields), k.Store.Now()).Error
	} else {
		done := db.Exec("UPDATE relays SET name = ?, url = ?, events = ?::text[], list_id = nullif(?, ''), page_id = nullif(?, ''), shape = ?, fields = ?, stopped = '' WHERE id = ?",
			in.Name, in.URL, store.TextArray(events), in.ListID, in.PageID, in.Shape, string(fields), in.ID)
		if err = done.Error; err == nil && done.RowsAffected == 0 {
			return "", nil, refusal.Of(refusal.ErrNotFound, noRelay)
		}
	}
	if err != nil {
		return "", nil, fmt.Errorf("keep who is told of what happens: %w", err)
	}
	return in.ID, nil, nil
}

// Remove takes one away, with all that it was told.
func (k *Keeper) Remove(ctx context.Context, id string) error {
	done := k.Store.On(ctx).Exec("DELETE FROM relays WHERE id = ?", id)
	if done.Error == nil && done.RowsAffected == 0 {
		return refusal.Of(refusal.ErrNotFound, noRelay)
	}
	return done.Error
}

// Told is one message with its tries.
type Told struct {
	store.Dispatch
	Tried []store.DispatchTry
}

// Says is its body as people read it.
func (t Told) Says() string {
	if t.Kind == "application/x-www-form-urlencoded" {
		return strings.ReplaceAll(t.Body, "&", "\n&")
	}
	return t.Body
}

// shownTold is how many messages are listed.
const shownTold = 50

// Told lists what one was told, the last first.
func (k *Keeper) Told(ctx context.Context, id string) ([]Told, error) {
	db := k.Store.On(ctx)
	var rows []store.Dispatch
	if err := db.Where("relay_id = ?", id).Order("at DESC, id").Limit(shownTold).Find(&rows).Error; err != nil {
		return nil, fmt.Errorf("read what was told: %w", err)
	}
	ids, at := make([]string, len(rows)), map[string]int{}
	out := make([]Told, len(rows))
	for i, r := range rows {
		ids[i], at[r.ID], out[i].Dispatch = r.ID, i, r
	}
	var tries []store.DispatchTry
	if err := db.Where("dispatch_id = ANY(?::text[])", store.TextArray(ids)).Order("at").Find(&tries).Error; err != nil {
		return nil, fmt.Errorf("read what came back: %w", err)
	}
	for _, t := range tries {
		i := at[t.DispatchID]
		out[i].Tried = append(out[i].Tried, t)
	}
	return out, nil
}

// Again sends a message once more, as it was.
func (k *Keeper) Again(ctx context.Context, dispatchID string) error {
	done := k.Store.On(ctx).Exec("UPDATE dispatches SET done_at = NULL, dropped = '', tries = 0, due_at = ? WHERE id = ?", k.Store.Now(), dispatchID)
	if done.Error == nil && done.RowsAffected == 0 {
		return refusal.Of(refusal.ErrNotFound, "There is no such message.")
	}
	return done.Error
}

// How often a message is tried, how long it waits at first, and how many are taken at once.
// The waits double: the last try is some six hours after the first.
const (
	mostTries = 12
	firstWait = 10 * time.Second
	atOnce    = 20
	takenFor  = time.Minute
)

// Deliver sends what is due and returns how many messages were taken.
func (k *Keeper) Deliver(ctx context.Context) (int, error) {
	if k.Ports.Relays == nil {
		return 0, nil
	}
	taken := 0
	for ctx.Err() == nil {
		now := k.Store.Now()
		var due []store.Dispatch
		err := k.Store.On(ctx).Raw(`UPDATE dispatches SET tries = tries + 1, due_at = ? WHERE id IN (
			SELECT t.id FROM dispatches t JOIN relays r ON r.id = t.relay_id WHERE t.done_at IS NULL AND t.dropped = '' AND t.due_at <= ? AND r.stopped = ''
			ORDER BY t.due_at, t.id LIMIT ? FOR UPDATE OF t SKIP LOCKED) RETURNING *`, now.Add(takenFor), now, atOnce).Scan(&due).Error
		if err != nil {
			return taken, fmt.Errorf("take what is to be told: %w", err)
		}
		if len(due) == 0 {
			return taken, nil
		}
		for _, t := range due {
			ok, err := k.tell(ctx, t)
			if err != nil {
				return taken, err
			}
			if ok {
				taken++
			}
		}
	}
	return taken, nil
}

// tell sends one message, and keeps what came of it.
func (k *Keeper) tell(ctx context.Context, t store.Dispatch) (bool, error) {
	db := k.Store.On(ctx)
	row, err := store.One[store.Relay](db.Where("id = ?", t.RelayID), noRelay)
	if err != nil {
		return false, err
	}
	if t.Body == "" {
		if t, err = k.write(db, row, t); err != nil {
			return false, err
		}
		if t.Dropped != "" {
			return false, nil
		}
	}
	now := k.Store.Now()
	got, err := k.Ports.Relays.Tell(ctx, ports.Dispatch{ID: t.ID, URL: row.URL, Secret: row.Secret, Kind: t.Kind, Body: []byte(t.Body), At: now})
	says := got.Says
	if err != nil {
		says = err.Error()
	}
	if len(says) > 500 {
		says = strings.ToValidUTF8(says[:500], "") + " …"
	}
	how := map[string]any{"due_at": now.Add(firstWait << min(t.Tries-1, mostTries))}
	switch {
	case err == nil && got.Status/100 == 2:
		how["done_at"] = now
	case got.Status == 410: // nobody is there any more, as the specification says it
		how["dropped"] = "the other program wants no more"
		if err := db.Exec("UPDATE relays SET stopped = ? WHERE id = ?", "The other program answered that it wants no more (410).", row.ID).Error; err != nil {
			return false, err
		}
	case t.Tries >= mostTries:
		how["dropped"] = fmt.Sprintf("it was not taken in %d tries", t.Tries)
	}
	keep := k.Store.On(context.WithoutCancel(ctx))
	if err := keep.Exec("INSERT INTO dispatch_tries (dispatch_id, at, status, says) VALUES (?, ?, ?, ?) ON CONFLICT DO NOTHING", t.ID, now, got.Status, says).Error; err != nil {
		return false, fmt.Errorf("keep what came back: %w", err)
	}
	if err := keep.Model(&store.Dispatch{}).Where("id = ?", t.ID).Updates(how).Error; err != nil {
		return false, fmt.Errorf("keep what was told: %w", err)
	}
	return how["done_at"] != nil, nil
}
