package server

import (
	"sync"

	"github.com/valyala/fasthttp"
)

// drain counts the requests of people that are under way, so that the program can
// stop taking new ones and finish these while the till still answers.
type drain struct {
	mu     sync.Mutex
	count  int
	closed bool
	empty  chan struct{}
}

// enter lets a request in, unless the program is stopping.
func (d *drain) enter() bool {
	d.mu.Lock()
	defer d.mu.Unlock()
	if d.closed {
		return false
	}
	d.count++
	return true
}

func (d *drain) leave() {
	d.mu.Lock()
	defer d.mu.Unlock()
	if d.count--; d.closed && d.count == 0 {
		close(d.empty)
	}
}

// shut lets nobody in any more. What it returns is closed once nobody is in.
func (d *drain) shut() <-chan struct{} {
	d.mu.Lock()
	defer d.mu.Unlock()
	if !d.closed {
		d.closed, d.empty = true, make(chan struct{})
		if d.count == 0 {
			close(d.empty)
		}
	}
	return d.empty
}

// stopping answers who comes while the program stops.
func stopping(c *fasthttp.RequestCtx) {
	c.Error("The shop is being restarted. Nothing was charged. Try again in a moment.\n", fasthttp.StatusServiceUnavailable)
	c.Response.Header.Set("Retry-After", "5")
	c.SetConnectionClose()
}
