package app

import (
	"context"
	"fmt"
	"sync"
	"time"
)

// Topic is what a change is about.
type Topic string

// The topics of which the database tells.
const (
	FactsChanged Topic = "facts" // something a page shows
	SaleMade     Topic = "sale"
)

// hub hands what the database tells to those who listen in this program.
type hub struct {
	mu        sync.Mutex
	listeners map[chan Topic]bool
}

// Subscribe hears of changes until the returned function is called or the
// program ends, when the channel is closed. A listener
// that is slow misses repetitions, never the last word: one is always kept.
func (a *App) Subscribe() (<-chan Topic, func()) {
	c := make(chan Topic, 16)
	a.hub.mu.Lock()
	defer a.hub.mu.Unlock()
	if a.hub.listeners == nil {
		a.hub.listeners = map[chan Topic]bool{}
	}
	a.hub.listeners[c] = true
	return c, func() {
		a.hub.mu.Lock()
		defer a.hub.mu.Unlock()
		delete(a.hub.listeners, c)
	}
}

// Hush ends every subscription, so that open streams end when the program does.
func (a *App) Hush() {
	a.hub.mu.Lock()
	defer a.hub.mu.Unlock()
	for c := range a.hub.listeners {
		close(c)
	}
	a.hub.listeners = nil
}

func (a *App) tell(t Topic) {
	a.hub.mu.Lock()
	defer a.hub.mu.Unlock()
	for c := range a.hub.listeners {
		select {
		case c <- t:
		default:
		}
	}
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
	a.tell(FactsChanged)
	for {
		n, err := conn.Conn().WaitForNotification(ctx)
		if err != nil {
			return fmt.Errorf("wait for changes: %w", err)
		}
		a.tell(Topic(n.Payload))
	}
}
