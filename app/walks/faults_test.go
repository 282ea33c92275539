package walks_test

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"testing"
	"time"

	"chrysagon/app/ports"
	"chrysagon/core/fork"
	"chrysagon/core/route"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// dying is a till whose answer never comes from one call on: the program was killed
// between what it stored and what it heard.
type dying struct {
	ports.Payments
	from  int // the call at which it dies; beyond all: never
	calls int
}

var errKilled = errors.New("killed")

func (d *dying) Charge(ctx context.Context, r ports.ChargeRequest) (ports.ChargeAnswer, error) {
	answer, err := d.Payments.Charge(ctx, r)
	if d.calls++; d.calls >= d.from {
		return ports.ChargeAnswer{}, errKilled
	}
	return answer, err
}

func (d *dying) Conclude(ctx context.Context, key string) (ports.ChargeAnswer, error) {
	if d.calls >= d.from {
		return ports.ChargeAnswer{}, errKilled
	}
	return d.Payments.Conclude(ctx, key)
}

// Killed between accepted and charged at each place of a chain: once the program runs
// again the buyer goes on where they were, each charge was made once, and each outcome
// is counted once.
func TestKilledAtEachPlaceOfAChain(t *testing.T) {
	for place, name := range []string{"at the checkout", "at the upsell", "at the downsell"} {
		shop := testkit.OpenSeason(t)
		before := figures(t, shop)
		charged := shop.Number("SELECT count(*) FROM till.charges WHERE state = 'charged'")
		real := shop.App.Payments
		d := &dying{Payments: real, from: 1}
		if place > 0 {
			d.from = 2 // the checkout comes first
		}
		shop.App.Payments = d
		b := shop.Browser()
		path, _ := b.Buy("9200000000000017")["go"].(string)
		token := path[strings.LastIndexAny(path, "/=")+1:]
		step := func(address, do string) testkit.Page {
			page := b.Get("/" + address + "?order=" + token)
			return b.Post("/"+address+"/"+do, url.Values{"order": {token}, "seen": {page.Hidden("seen")}}, "")
		}
		switch place {
		case 0:
			require.True(t, strings.HasPrefix(path, "/orders/"), "%s: they wait: %s", name, path)
		case 1:
			step("quiver-bag", "accept")
		case 2:
			require.Equal(t, http.StatusSeeOther, step("quiver-bag", "decline").Status)
			step("one-kite-sleeve", "accept")
		}
		// The next program asks what became of it.
		shop.App.Payments = real
		shop.Clock.Advance(time.Minute)
		_, err := shop.App.Selling.ReconcilePayments(ctx)
		require.NoError(t, err)
		on := b.Get("/orders/" + token).Location
		want := []string{"/quiver-bag?order=", "/thank-you?order=", "/thank-you?order="}[place]
		assert.Equal(t, want+token, on, name)
		for range 3 {
			b.Get(on)
			if place > 0 {
				step([]string{"", "quiver-bag", "one-kite-sleeve"}[place], "accept") // pressed again
			}
		}
		assert.Equal(t, int64(1+min(place, 1)), shop.Number("SELECT count(*) FROM till.charges WHERE state = 'charged'")-charged, name)
		after := figures(t, shop)
		assert.Equal(t, int64(1), after.Orders-before.Orders, name)
		assert.Equal(t, []int64{5100, 5100 + 2380, 5100 + 1190}[place], after.Revenue-before.Revenue, name)
		if place > 0 {
			id := []string{"", "quiver-bag", "one-kite-sleeve"}[place]
			assert.Equal(t, int64(1), after.Steps[id].Outcomes[route.Accepted]-before.Steps[id].Outcomes[route.Accepted], name)
		}
	}
}

// Fifty visitors walk a funnel that is edited and published while they do: nobody is
// lost, nobody meets an error, and each stays with the share they were given.
func TestAFunnelEditedWhileFiftyWalkIt(t *testing.T) {
	shop := testkit.OpenSeason(t)
	before := figures(t, shop)
	var wait sync.WaitGroup
	stop := make(chan struct{})
	edits := 0
	wait.Add(1)
	go func() {
		defer wait.Done()
		for {
			select {
			case <-stop:
				if edits > 2 { // on a busy machine fifty have walked before it was edited thrice
					return
				}
			default:
			}
			edits++
			c := route.Command{Do: route.LeadTo, From: "seven-knots", Outcome: route.Submitted, Routes: []route.Route{{ID: "two-bridges", Fork: []fork.Share{{To: "first-gust", Share: 1 + edits%7}, {To: "ask-the-wind", Share: 5}}}}}
			if err := shop.App.Routes.Change(ctx, campaign, "marta", c); err == nil {
				_, err = shop.App.Publishing.Publish(ctx, campaign, "Marta")
				assert.NoError(t, err)
			}
			shop.Forget()
		}
	}()
	var walkers sync.WaitGroup
	for i := range 50 {
		walkers.Add(1)
		go func() {
			defer walkers.Done()
			b := shop.Browser()
			b.Get("/seven-knots")
			in := b.SignUp(fmt.Sprintf("walker-%d@example.org", i))
			if !assert.Equal(t, http.StatusSeeOther, in.Status, in.Body) {
				return
			}
			again := b.SignUp(fmt.Sprintf("walker-%d@example.org", i))
			assert.Equal(t, in.Location, again.Location)
			assert.Equal(t, http.StatusOK, b.Get(in.Location).Status)
			on := b.Get(in.Location + "/on/yes")
			assert.Equal(t, "/night-flight", on.Location)
			assert.Equal(t, http.StatusOK, b.Get(on.Location).Status)
		}()
	}
	walkers.Wait()
	close(stop)
	wait.Wait()
	assert.Greater(t, edits, 2)
	after := figures(t, shop)
	assert.Equal(t, int64(50), after.Steps["seven-knots"].Visitors-before.Steps["seven-knots"].Visitors)
	assert.Equal(t, int64(50), after.Steps["night-flight"].Visitors-before.Steps["night-flight"].Visitors)
	assert.Equal(t, int64(50), after.Steps["seven-knots"].Outcomes[route.Submitted]-before.Steps["seven-knots"].Outcomes[route.Submitted])
}
