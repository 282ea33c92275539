// Package news passes on what the database tells of changes.
package news

import (
	"context"
	"fmt"
	"log/slog"
	"strings"
	"sync"
	"time"

	"chrysagon/store"

	pgx "github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgxlisten"
)

// Hub hands what the database tells to those who listen in this program.
type Hub struct {
	Log   *slog.Logger
	Store *store.Store

	mu        sync.Mutex
	listeners map[*Listener]bool
	hearing   bool              // what the database tells is heard
	count     uint64            // of what was told
	told      uint64            // the last of which was of something that pages show
	pages     map[string]uint64 // when each page was last told of, by that count
}

// Age grows whenever something that pages show has changed, as far as that is told;
// changes of one page's own draft are left out. While the database is not heard,
// nobody knows: heard is false, and nothing that was read may be kept.
func (h *Hub) Age(except string) (age uint64, heard bool) {
	h.mu.Lock()
	defer h.mu.Unlock()
	age = h.told
	for id, at := range h.pages {
		if id != except {
			age = max(age, at)
		}
	}
	return age, h.hearing
}

// Topic is what a change is about. Of one page it is "page:" and its ID.
type Topic string

// The topics of which the database tells.
const (
	FactsChanged Topic = "facts" // something a page shows
	SaleMade     Topic = "sale"
	pageChanged  Topic = "page:" // and the page's ID
)

// Page is the ID of the page that a topic is about.
func (t Topic) Page() (string, bool) { return strings.CutPrefix(string(t), string(pageChanged)) }

// News is something that was told: its topic and, of a page, its revision.
type News struct {
	Topic Topic
	What  string
}

// Listener hears of changes. News of one topic that was not taken yet gives way
// to the next of that topic, so that a slow listener misses repetitions and
// never the last word of any.
type Listener struct {
	hub    *Hub
	ready  chan struct{}
	mu     sync.Mutex
	order  []Topic
	unread map[Topic]News
}

// Subscribe makes a listener, which hears until it is closed or the program
// ends.
func (h *Hub) Subscribe() *Listener {
	l := &Listener{hub: h, ready: make(chan struct{}, 1), unread: map[Topic]News{}}
	h.mu.Lock()
	defer h.mu.Unlock()
	if h.listeners == nil {
		h.listeners = map[*Listener]bool{}
	}
	h.listeners[l] = true
	return l
}

// Ready tells when there is news to take; it is closed when the program ends.
func (l *Listener) Ready() <-chan struct{} { return l.ready }

// Take gives the news since the last time, in the order in which each topic
// was first told of.
func (l *Listener) Take() []News {
	l.mu.Lock()
	defer l.mu.Unlock()
	out := make([]News, len(l.order))
	for i, t := range l.order {
		out[i] = l.unread[t]
	}
	l.order = nil
	clear(l.unread)
	return out
}

// Close ends listening.
func (l *Listener) Close() {
	l.hub.mu.Lock()
	defer l.hub.mu.Unlock()
	delete(l.hub.listeners, l)
}

func (l *Listener) hear(n News) {
	l.mu.Lock()
	defer l.mu.Unlock()
	if _, known := l.unread[n.Topic]; !known {
		l.order = append(l.order, n.Topic)
	}
	l.unread[n.Topic] = n
	select {
	case l.ready <- struct{}{}:
	default: // it is told already
	}
}

// Hush ends every subscription, so that open streams end when the program does.
func (h *Hub) Hush() {
	h.mu.Lock()
	defer h.mu.Unlock()
	for l := range h.listeners {
		close(l.ready)
	}
	h.listeners = nil
}

// FactsChanged tells that something pages show is another.
func (h *Hub) FactsChanged() { h.pass(News{Topic: FactsChanged}) }

func (h *Hub) pass(n News) {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.count++
	if id, isPage := n.Topic.Page(); !isPage {
		if n.Topic == FactsChanged {
			h.told = h.count
		}
	} else {
		if h.pages == nil {
			h.pages = map[string]uint64{}
		}
		h.pages[id] = h.count
	}
	for l := range h.listeners {
		l.hear(n)
	}
}

func (h *Hub) hears(it bool) {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.hearing = it
}

// newsOf reads what the database says: a topic, and of a page its revision.
func newsOf(said string) News {
	if of, isPage := strings.CutPrefix(said, string(pageChanged)); isPage {
		id, revision, _ := strings.Cut(of, ":")
		return News{pageChanged + Topic(id), revision}
	}
	return News{Topic: Topic(said)}
}

// Listen passes on what the database tells until the context ends. Whenever
// the connection was lost, everything counts as changed.
func (h *Hub) Listen(ctx context.Context) {
	l := pgxlisten.Listener{
		Connect: func(ctx context.Context) (*pgx.Conn, error) {
			conn, err := h.Store.Pool.Acquire(ctx)
			if err != nil {
				return nil, fmt.Errorf("reach the database: %w", err)
			}
			return conn.Hijack(), nil
		},
		LogError: func(ctx context.Context, err error) {
			h.hears(false)
			if ctx.Err() == nil {
				h.Log.Warn("not hearing of changes; trying again", "error", err)
			}
		},
		ReconnectDelay: time.Second,
	}
	l.Handle("chrysagon", heard{h})
	_ = l.Listen(ctx) // ends with the context only, as an error that is told above
}

// heard takes what the database tells.
type heard struct{ *Hub }

// HandleBacklog is called once the database is heard, again or for the first time.
func (h heard) HandleBacklog(context.Context, string, *pgx.Conn) error {
	h.FactsChanged()
	h.hears(true)
	return nil
}

// HandleNotification passes one on.
func (h heard) HandleNotification(_ context.Context, n *pgconn.Notification, _ *pgx.Conn) error {
	h.pass(newsOf(n.Payload))
	return nil
}
