package app

import (
	"context"
	"fmt"
	"strings"
	"sync"
	"time"
)

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

// hub hands what the database tells to those who listen in this program.
type hub struct {
	mu        sync.Mutex
	listeners map[*Listener]bool
}

// Listener hears of changes. News of one topic that was not taken yet gives way
// to the next of that topic, so that a slow listener misses repetitions and
// never the last word of any.
type Listener struct {
	hub    *hub
	ready  chan struct{}
	mu     sync.Mutex
	order  []Topic
	unread map[Topic]News
}

// Subscribe makes a listener, which hears until it is closed or the program
// ends.
func (a *App) Subscribe() *Listener {
	l := &Listener{hub: &a.hub, ready: make(chan struct{}, 1), unread: map[Topic]News{}}
	a.hub.mu.Lock()
	defer a.hub.mu.Unlock()
	if a.hub.listeners == nil {
		a.hub.listeners = map[*Listener]bool{}
	}
	a.hub.listeners[l] = true
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
func (a *App) Hush() {
	a.hub.mu.Lock()
	defer a.hub.mu.Unlock()
	for l := range a.hub.listeners {
		close(l.ready)
	}
	a.hub.listeners = nil
}

// factsChanged tells that something pages show is another.
func (a *App) factsChanged() { a.pass(News{Topic: FactsChanged}) }

func (a *App) pass(n News) {
	a.hub.mu.Lock()
	defer a.hub.mu.Unlock()
	for l := range a.hub.listeners {
		l.hear(n)
	}
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
func (a *App) Listen(ctx context.Context) {
	for ctx.Err() == nil {
		if err := a.listen(ctx); err != nil && ctx.Err() == nil {
			a.Log.Warn("not hearing of changes; trying again", "error", err)
			select {
			case <-ctx.Done():
			case <-time.After(time.Second):
			}
		}
	}
}

func (a *App) listen(ctx context.Context) error {
	conn, err := a.Store.Pool.Acquire(ctx)
	if err != nil {
		return fmt.Errorf("reach the database: %w", err)
	}
	defer conn.Release()
	if _, err := conn.Exec(ctx, "LISTEN chrysagon"); err != nil {
		return fmt.Errorf("listen for changes: %w", err)
	}
	a.factsChanged()
	for {
		n, err := conn.Conn().WaitForNotification(ctx)
		if err != nil {
			return fmt.Errorf("wait for changes: %w", err)
		}
		a.pass(newsOf(n.Payload))
	}
}
