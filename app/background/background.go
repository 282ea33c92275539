// Package background does work that outlives the request that asked for it.
package background

import (
	"context"
	"log/slog"
	"runtime/debug"
	"sync"
)

// Work is what goes on in the background.
type Work struct {
	Log *slog.Logger

	once  sync.Once
	ctx   context.Context
	end   context.CancelFunc
	going sync.WaitGroup
}

func (w *Work) begin() {
	w.once.Do(func() { w.ctx, w.end = context.WithCancel(context.Background()) })
}

// Life ends when the program does.
func (w *Work) Life() context.Context {
	w.begin()
	return w.ctx
}

// Do does work that nobody waits for.
func (w *Work) Do(work func()) {
	w.begin()
	w.going.Go(func() {
		defer func() {
			if p := recover(); p != nil { // one fault must not end the program for everybody
				w.Log.Error("work in the background panicked", "panic", p, "stack", string(debug.Stack()))
			}
		}()
		work()
	})
}

// End stops what goes on and waits for it. A transaction under way is given up
// as a whole.
func (w *Work) End() {
	w.begin()
	w.end()
	w.going.Wait()
}
