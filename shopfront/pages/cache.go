package pages

import (
	"context"
	"sync"
	"sync/atomic"
	"time"

	"chrysagon/app/events"
	"chrysagon/app/news"
	"chrysagon/internal/wire"

	"github.com/valyala/fasthttp"
)

// entry is one drawn page, ready to be sent.
type entry struct {
	html       []byte
	best       atomic.Pointer[packed]
	packing    atomic.Bool
	tag        string // entity tag, weak: it goes out compressed or not
	headers    [][2][]byte
	until      time.Time
	generation uint64
	seen       events.Event // that somebody sees it
	listed     bool         // it shows a list in pages: its address has more views than this one
}

// holds tells whether the page is still true at a moment.
func (e *entry) holds(moment time.Time) bool {
	return e.until.IsZero() || moment.Before(e.until)
}

// Cache keeps drawn pages by address until the moment at which they change by
// themselves, or until anything they show is changed. It is never polled and
// never stale: a page drawn from facts read before a change is not kept.
type Cache struct {
	pages      sync.Map // address -> *entry
	generation atomic.Uint64
	kept       atomic.Int64 // put in since it was empty
}

// keptAtMost bounds the pages that are kept, and with them the memory: some 50 KB each.
const keptAtMost = 4000

func (k *Cache) get(address string, moment time.Time) *entry {
	found, ok := k.pages.Load(address)
	if !ok {
		return nil
	}
	e, ok := found.(*entry)
	if !ok || e.generation != k.generation.Load() || !e.holds(moment) {
		return nil
	}
	return e
}

// put keeps a page drawn from facts read in a generation.
func (k *Cache) put(address string, e *entry, generation uint64) {
	e.generation = generation
	if generation != k.generation.Load() {
		return
	}
	if k.kept.Add(1) > keptAtMost { // many goods, looked at one by one: what is asked for again is soon there again
		k.pages.Clear()
		k.kept.Store(1)
	}
	k.pages.Store(address, e)
}

// forget makes every page count as changed.
func (k *Cache) forget() {
	k.generation.Add(1)
	k.pages.Clear()
	k.kept.Store(0)
}

// keptHeaders are the headers a kept page is sent with, beside those that
// depend on the browser.
func keptHeaders(policy string) [][2][]byte {
	var list [][2][]byte
	for _, pair := range [][2]string{
		{"Content-Security-Policy", policy},
		{"X-Content-Type-Options", "nosniff"},
		{"Referrer-Policy", "strict-origin-when-cross-origin"},
		{"Cache-Control", "private, no-cache"},
		{"Vary", "Accept-Encoding"},
	} {
		list = append(list, [2][]byte{[]byte(pair[0]), []byte(pair[1])})
	}
	return list
}

func newEntry(html []byte) *entry {
	return &entry{
		html: html,
		tag:  "W/" + wire.TagOf(html),
	}
}

// packed is a page in as few bytes as it can be sent.
type packed struct{ gzip, brotli []byte }

// pack packs a page as small as it can be, which takes longer than to draw it: so whoever
// comes first does not wait for it, and it is done for pages that somebody comes to again.
func (e *entry) pack() {
	e.best.Store(&packed{
		gzip:   fasthttp.AppendGzipBytesLevel(nil, e.html, fasthttp.CompressBestCompression),
		brotli: fasthttp.AppendBrotliBytesLevel(nil, e.html, fasthttp.CompressBrotliBestCompression),
	})
}

// in is the page in an encoding, in the fewest bytes that are ready.
func (e *entry) in(encoding wire.Encoding) []byte {
	best := e.best.Load()
	switch {
	case encoding == wire.Brotli && best != nil:
		return best.brotli
	case encoding == wire.Brotli:
		return fasthttp.AppendBrotliBytesLevel(nil, e.html, wire.QuickBrotli)
	case encoding == wire.Gzip && best != nil:
		return best.gzip
	case encoding == wire.Gzip:
		return fasthttp.AppendGzipBytesLevel(nil, e.html, wire.QuickGzip)
	}
	return e.html
}

// Follow empties the cache whenever something a page shows has changed.
func (p *Pages) Follow(ctx context.Context) {
	changes := p.News.Subscribe()
	defer changes.Close()
	for {
		select {
		case <-ctx.Done():
			return
		case _, open := <-changes.Ready():
			if !open {
				return
			}
			for _, n := range changes.Take() {
				if n.Topic == news.FactsChanged {
					p.Forget()
				}
			}
		}
	}
}

// Forget makes every kept page count as changed.
func (p *Pages) Forget() { p.cache.forget() }
