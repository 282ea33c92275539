package testkit

import (
	"context"
	"log/slog"
	"net/http"
	"sync"
	"testing"

	"chrysagon/app"
	"chrysagon/app/ports"
	"chrysagon/core/appointment"
	"chrysagon/core/order"
	"chrysagon/core/origin"
	"chrysagon/internal/server"
	"chrysagon/store"

	"github.com/stretchr/testify/require"
)

// Cases are the use cases on a database with the demo store, and fakes of what they
// ask of outside services: the step between a database and a whole program.
type Cases struct {
	*app.App
	ground
	Store *store.Store
	Clock *Clock
	Till  *FakeTill
	Post  *FakePost
	Book  *FakeBook
}

// Use joins them for a test. No job is worked on, unless the test does it.
func Use(t testing.TB) *Cases {
	t.Helper()
	c := &Cases{Clock: &Clock{now: Start}, Till: &FakeTill{}, Post: &FakePost{}, Book: &FakeBook{}}
	c.Store = DB(t).By(c.Clock.Now)
	c.ground = ground{c.Store, t}
	a, _, err := server.Join(c.Store, app.With{
		Ports: &ports.Ports{Payments: c.Till, Post: c.Post, Book: c.Book}, Log: slog.New(slog.DiscardHandler),
		Origins: &origin.Origins{Studio: "http://studio.example", Shop: "http://shop.example"},
	})
	require.NoError(t, err)
	c.App = a
	return c
}

// FakeTill answers as it is told, and keeps what it was asked.
type FakeTill struct {
	mu      sync.Mutex
	Refuses string // why; empty: it approves
	Fails   error  // instead of an answer
	Charges []ports.ChargeRequest
	Refunds []ports.RefundRequest
}

// Ways is [ports.Payments].
func (*FakeTill) Ways() []order.Way { return []order.Way{order.ByCard, order.ByAccount} }

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
