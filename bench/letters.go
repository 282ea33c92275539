package main

import (
	"context"
	"fmt"
	"os"
	"runtime"
	"strconv"
	"strings"
	"sync/atomic"
	"time"

	"chrysagon/app"
	"chrysagon/app/audience"
	"chrysagon/core/segment"
	"chrysagon/demo"

	"github.com/valyala/fasthttp"
)

// How many people there are, are brought in from a file, and are written to.
const (
	manyPeople   = 1_000_000
	broughtIn    = 100_000
	manyLetters  = 100_000
	steadyPace   = 50 // letters a second, beside which the shop must keep its rate
	steadyRounds = 5
)

// lettersMany measures people by the million, a file of them, and letters by the hundred
// thousand, which go by SMTP to the letterbox.
func lettersMany(ctx context.Context, a *app.App, address string) error {
	if err := demo.Season(ctx, a.Store, "http://lamps.example/", time.Now()); err != nil {
		return err
	}
	for _, part := range []func() error{
		func() error { return bringIn(ctx, a) },
		func() error { return send(ctx, a, envCount("BENCH_LETTERS", manyLetters)) },
		func() error { return beside(ctx, a, address) },
		func() error { return findMany(ctx, a) },
	} {
		if err := part(); err != nil {
			return err
		}
	}
	return nil
}

// peopleMany measures what of it needs no letters.
func peopleMany(ctx context.Context, a *app.App, _ string) error {
	if err := demo.Season(ctx, a.Store, "http://lamps.example/", time.Now()); err != nil {
		return err
	}
	if err := bringIn(ctx, a); err != nil {
		return err
	}
	return findMany(ctx, a)
}

func envCount(name string, usual int) int {
	if n, err := strconv.Atoi(os.Getenv(name)); err == nil && n > 0 {
		return n
	}
	return usual
}

// bringIn brings people in from a file of addresses.
func bringIn(ctx context.Context, a *app.App) error {
	var file strings.Builder
	file.WriteString("email,name\n")
	for i := range broughtIn {
		fmt.Fprintf(&file, "reader-%d@many.example,Reader %d\n", i, i)
	}
	began := time.Now()
	did, err := a.Audience.Import(ctx, audience.Importing{ListID: "news-of-the-coast", Raw: []byte(file.String()), Consent: "On paper at the harbour fair, June 2026"})
	if err != nil {
		return fmt.Errorf("bring people in: %w", err)
	}
	report(fmt.Sprintf("%d people from a file", did.New), "%s", "under 20 s", time.Since(began).Round(100*time.Millisecond))
	return nil
}

// postTo writes down one letter for each of some people, due now or at a pace from now on.
func postTo(ctx context.Context, a *app.App, count int, pace float64) error {
	_, err := a.Store.Pool.Exec(ctx, `INSERT INTO postings (id, contact_id, kind, list_id, letter_id, due_at)
		SELECT 'b' || substr(md5(random()::text || c.id), 1, 15), c.id, 'letter', m.list_id, 'lanterns-on-the-pier', now() + (row_number() OVER (ORDER BY c.id) / $2::float8) * interval '1 second'
		FROM members m JOIN contacts c ON c.id = m.contact_id WHERE m.list_id = 'news-of-the-coast' AND m.state = 'on' AND c.email LIKE '%@many.example' ORDER BY c.id LIMIT $1`, count, pace)
	return err
}

// send sends letters as fast as they go, and looks at how much memory that takes.
func send(ctx context.Context, a *app.App, count int) error {
	if err := postTo(ctx, a, count, 1e9); err != nil {
		return err
	}
	var heap []uint64
	began := time.Now()
	workers := make(chan error, 4)
	var over atomic.Bool
	for range cap(workers) {
		go func() {
			_, err := a.Postroom.SendDue(ctx)
			workers <- err
		}()
	}
	go func() {
		for !over.Load() {
			var m runtime.MemStats
			runtime.ReadMemStats(&m)
			heap = append(heap, m.HeapInuse)
			time.Sleep(time.Second)
		}
	}()
	for range cap(workers) {
		if err := <-workers; err != nil {
			return err
		}
	}
	took := time.Since(began)
	over.Store(true)
	var sent, distinct int
	if err := a.Store.Pool.QueryRow(ctx, `SELECT count(*), count(DISTINCT message_id) FROM letterbox.messages WHERE receiver LIKE '%@many.example'`).Scan(&sent, &distinct); err != nil {
		return err
	}
	report(fmt.Sprintf("%d letters by SMTP, as fast as they go", count), "%.0f a second; %d arrived, %d Message-IDs", "all of them, once", float64(count)/took.Seconds(), sent, distinct)
	third := len(heap) / 3
	if third > 0 {
		report("memory while they go", "%d MB at most in the first third, %d MB in the last", "flat", most(heap[:third])>>20, most(heap[2*third:])>>20)
	}
	return nil
}

func most(of []uint64) (n uint64) {
	for _, x := range of {
		n = max(n, x)
	}
	return n
}

// beside holds the rate of a shop's page while letters go at a steady pace against that
// without, in turns.
func beside(ctx context.Context, a *app.App, address string) error {
	req := fasthttp.AcquireRequest()
	req.SetRequestURI(a.Origins.Shop + "/night-flight")
	req.Header.SetCookie("visitor", "abcdefghijklmnopqrstuvwxyz")
	c := client(address)
	var quiet, busy []float64
	for range steadyRounds {
		if _, err := a.Store.Pool.Exec(ctx, "DELETE FROM postings WHERE sent_at IS NULL"); err != nil {
			return err
		}
		n, err := hammer(c, req)
		if err != nil {
			return err
		}
		quiet = append(quiet, n)
		if err := postTo(ctx, a, 1000, steadyPace); err != nil {
			return err
		}
		if n, err = hammer(c, req); err != nil {
			return err
		}
		busy = append(busy, n)
	}
	report(fmt.Sprintf("shop pages while %d letters go out each second", steadyPace), "%.2f of the rate without", "at least 0.9", median(busy)/median(quiet))
	return nil
}

// findMany finds people by sentences among a million.
func findMany(ctx context.Context, a *app.App) error {
	for _, sql := range []string{
		`INSERT INTO contacts (id, email, name, first_at) SELECT 'many-' || i, 'many-' || i || '@million.example', 'Reader ' || i, now() - i * interval '30 seconds' FROM generate_series(1, ` + strconv.Itoa(manyPeople) + `) i ON CONFLICT DO NOTHING`,
		`INSERT INTO members (list_id, contact_id, state, consent, asked_at, on_at) SELECT CASE i % 3 WHEN 0 THEN 'the-guide' ELSE 'news-of-the-coast' END, 'many-' || i, 'on', 'Yes.', now() - i * interval '30 seconds', now() - i * interval '30 seconds' FROM generate_series(1, ` + strconv.Itoa(manyPeople) + `) i ON CONFLICT DO NOTHING`,
		`INSERT INTO postings (id, contact_id, kind, list_id, letter_id, due_at, sent_at, clicked_at) SELECT 'many-' || i, 'many-' || i, 'letter', 'the-guide', 'two-bridles', now(), now() - i * interval '20 seconds', CASE WHEN i % 4 = 0 THEN now() - i * interval '19 seconds' END FROM generate_series(1, ` + strconv.Itoa(manyPeople/2) + `) i ON CONFLICT DO NOTHING`,
		"ANALYZE contacts, members, postings, orders, order_lines",
	} {
		if _, err := a.Store.Pool.Exec(ctx, sql); err != nil {
			return fmt.Errorf("make a million people: %w", err)
		}
	}
	for name, rule := range map[string]segment.Rule{
		"everybody":                         {},
		"who are on a list":                 {All: []segment.Clause{{Did: segment.OnList, Of: "the-guide"}}},
		"who bought one and not another":    {All: []segment.Clause{{Did: segment.Bought, Of: "ember"}, {Did: segment.Bought, Of: "quiver", Not: true}}},
		"who clicked nothing for 60 days":   {All: []segment.Clause{{Did: segment.Clicked, Not: true, Days: 60}}},
		"who were sent, and did not click":  {All: []segment.Clause{{Did: segment.Sent}, {Did: segment.Clicked, Not: true}}},
		"who are on a list and not another": {All: []segment.Clause{{Did: segment.OnList, Of: "news-of-the-coast"}, {Did: segment.OnList, Of: "the-guide", Not: true}}},
		"known for a week, ordered twice":   {All: []segment.Clause{{Did: segment.Known, Days: 7}, {Did: segment.Ordered, AtLeast: 2}}},
	} {
		found := 0
		took, err := middle(5, func() error {
			_, n, err := a.Audience.People(ctx, "", rule)
			found = n
			return err
		})
		if err != nil {
			return err
		}
		report("people among a million, "+name, "%s for %d", "under 100 ms", took.Round(100*time.Microsecond), found)
	}
	return nil
}
