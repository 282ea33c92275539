package testkit

import (
	"context"
	"log/slog"
	"net/http"
	"sync"
	"testing"

	"chrysagon/app"
	"chrysagon/app/ports"
	"chrysagon/app/queue"
	"chrysagon/core/appointment"
	"chrysagon/core/order"
	"chrysagon/core/origin"
	"chrysagon/pieces/all"
	"chrysagon/render"
	"chrysagon/store"
	"chrysagon/web"

	"github.com/stretchr/testify/require"
)

// Cases are the use cases on a database with the demo store, and fakes of what they
// ask of outside services: the step between a database and a whole program.
type Cases struct {
	*app.App
	Store *store.Store
	Clock *Clock
	Till  *FakeTill
	Post  *FakePost
	Book  *FakeBook
	t     testing.TB
}

// Use joins them for a test. No job is worked on, unless the test does it.
func Use(t testing.TB) *Cases {
	t.Helper()
	s := DB(t)
	assets, err := web.Open()
	require.NoError(t, err)
	registry, err := all.Registry()
	require.NoError(t, err)
	jobs, err := queue.NewQueue(s)
	require.NoError(t, err)
	c := &Cases{Clock: &Clock{now: Start}, Till: &FakeTill{}, Post: &FakePost{}, Book: &FakeBook{}, t: t}
	c.Store = s.By(c.Clock.Now)
	c.App = app.New(app.With{
		Store: c.Store, Render: render.New(registry, assets), Queue: jobs, Log: slog.New(slog.DiscardHandler),
		Ports:   &ports.Ports{Payments: c.Till, Post: c.Post, Book: c.Book},
		Origins: &origin.Origins{Studio: "http://studio.example", Shop: "http://shop.example"},
	})
	return c
}

// Number reads one number from the database.
func (c *Cases) Number(query string, args ...any) int64 {
	c.t.Helper()
	var n int64
	require.NoError(c.t, c.Store.Pool.QueryRow(context.Background(), query, args...).Scan(&n))
	return n
}

// Exec changes the database.
func (c *Cases) Exec(query string, args ...any) {
	c.t.Helper()
	_, err := c.Store.Pool.Exec(context.Background(), query, args...)
	require.NoError(c.t, err)
}

// FakeTill answers as it is told, and keeps what it was asked.
type FakeTill struct {
	mu      sync.Mutex
	Refuses string // why; empty: it approves
	Fails   error  // instead of an answer
	Charges []ports.ChargeRequest
	Refunds []ports.RefundRequest
}

// Charge is [ports.Payments].
func (f *FakeTill) Charge(_ context.Context, r ports.ChargeRequest) (ports.ChargeAnswer, error) {
	f.mu.Lock()
	defer f.mu.Unlock()
	f.Charges = append(f.Charges, r)
	return f.answer(r.Key), f.Fails
}

// Conclude is [ports.Payments].
func (f *FakeTill) Conclude(_ context.Context, key string) (ports.ChargeAnswer, error) {
	f.mu.Lock()
	defer f.mu.Unlock()
	return f.answer(key), f.Fails
}

func (f *FakeTill) answer(key string) ports.ChargeAnswer {
	if f.Refuses != "" {
		return ports.ChargeAnswer{Key: key, State: order.Refused, Message: f.Refuses}
	}
	return ports.ChargeAnswer{Key: key, TillID: "till-" + key, State: order.Charged, KeptToken: "kept"}
}

// Refund is [ports.Payments].
func (f *FakeTill) Refund(_ context.Context, r ports.RefundRequest) (ports.RefundAnswer, error) {
	f.mu.Lock()
	defer f.mu.Unlock()
	f.Refunds = append(f.Refunds, r)
	if f.Refuses != "" {
		return ports.RefundAnswer{State: order.RefundRefused, Message: f.Refuses}, f.Fails
	}
	return ports.RefundAnswer{State: order.Refunded}, f.Fails
}

// Told is [ports.Payments]: nothing it is told is believed.
func (*FakeTill) Told(http.Header, []byte) (ports.ChargeAnswer, error) {
	return ports.ChargeAnswer{}, ports.ErrForged
}

// FakePost keeps letters.
type FakePost struct {
	mu      sync.Mutex
	Fails   error
	Letters []ports.Letter
}

// Send is [ports.Post].
func (f *FakePost) Send(_ context.Context, l ports.Letter) error {
	f.mu.Lock()
	defer f.mu.Unlock()
	if f.Fails == nil {
		f.Letters = append(f.Letters, l)
	}
	return f.Fails
}

// FakeBook has the times it is given.
type FakeBook struct {
	mu    sync.Mutex
	Times []appointment.Slot
	Taken map[string]ports.Booking
	Fails error
}

// Free is [ports.Appointments].
func (f *FakeBook) Free(context.Context, int, int, string) ([]appointment.Slot, error) {
	f.mu.Lock()
	defer f.mu.Unlock()
	return f.Times, f.Fails
}

// Take is [ports.Appointments].
func (f *FakeBook) Take(_ context.Context, key string, b ports.Booking) error {
	f.mu.Lock()
	defer f.mu.Unlock()
	if f.Taken == nil {
		f.Taken = map[string]ports.Booking{}
	}
	f.Taken[key] = b
	return f.Fails
}
