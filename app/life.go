package app

import (
	"context"
	"runtime/debug"
	"sync"
)

// life is how long work goes on that nobody waits for.
type life struct {
	once sync.Once
	ctx  context.Context
	end  context.CancelFunc
	work sync.WaitGroup
}

func (l *life) begin() {
	l.once.Do(func() { l.ctx, l.end = context.WithCancel(context.Background()) })
}

// Life ends when the program does.
func (a *App) Life() context.Context {
	a.life.begin()
	return a.life.ctx
}

// Background does work that outlives the request that asked for it.
func (a *App) Background(work func()) {
	a.life.begin()
	a.life.work.Go(func() {
		defer func() {
			if p := recover(); p != nil { // one fault must not end the program for everybody
				a.Log.Error("work in the background panicked", "panic", p, "stack", string(debug.Stack()))
			}
		}()
		work()
	})
}

// EndLife stops what goes on in the background and waits for it. A transaction
// under way is given up as a whole.
func (a *App) EndLife() {
	a.life.begin()
	a.life.end()
	a.life.work.Wait()
}
