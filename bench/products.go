package main

import (
	"context"
	"fmt"
	"net/http"
	"slices"
	"time"

	"chrysagon/app"
	"chrysagon/core/manuscript"
	"chrysagon/demo"
	"chrysagon/internal/server"

	"github.com/valyala/fasthttp"
)

// published and paged are the goods of which pages go out at once, and among which pages
// are visited.
const (
	published = 5_000
	paged     = 100_000
	visited   = 500
)

// products measures the pages of goods: as many as go out at once, the launch check over
// all of them, and the first visit of each of some among many.
func products(ctx context.Context, a *app.App, address string) error {
	if err := demo.Season(ctx, a.Store, server.Neighbour(80), time.Now()); err != nil {
		return err
	}
	var campaign, page, user string
	if err := a.Store.Pool.QueryRow(ctx, "SELECT campaign_id, p.id, u.id FROM pages p, users u WHERE purpose = 'product' LIMIT 1").Scan(&campaign, &page, &user); err != nil {
		return fmt.Errorf("look for the page of a product: %w", err)
	}
	for _, goods := range []int{published, paged} {
		var have int
		if err := a.Store.Pool.QueryRow(ctx, "SELECT count(*) FROM variants").Scan(&have); err != nil {
			return err
		}
		if err := fill(ctx, a.Store, have, goods); err != nil {
			return err
		}
		if _, err := a.Store.Pool.Exec(ctx, "UPDATE products SET description = '<p>Sewn on the coast, tried in the wind, and mended for as long as it flies.</p>' WHERE description = ''"); err != nil {
			return err
		}
		title := manuscript.Command{Op: manuscript.SetPage, Field: manuscript.Title, Value: fmt.Sprintf("{name}, one of %d", goods)}
		if _, err := a.Desk.Edit(ctx, user, page, title, false); err != nil {
			return fmt.Errorf("change the page of a product: %w", err)
		}
		began := time.Now()
		if _, err := a.Publishing.Publish(ctx, campaign, "Bench"); err != nil {
			return fmt.Errorf("publish: %w", err)
		}
		took := time.Since(began)
		first, err := visit(address, a.Origins.Shop+"/goods/ember-180-with-lantern-and-line")
		if err != nil {
			return err
		}
		report(fmt.Sprintf("%d goods published at once; then the first visit of one", goods), "%s; %s", "under 10 s for 5,000", took.Round(time.Millisecond), first.Round(100*time.Microsecond))
		if goods == published {
			began = time.Now()
			over, err := a.Publishing.CheckGoods(ctx, page, func(int, int) {})
			if err != nil {
				return err
			}
			report("launch check over 5,000 goods, in the background", "%s for %d, %d causes", "none", time.Since(began).Round(10*time.Millisecond), over.Total, len(over.Causes))
		}
	}
	return firstVisits(ctx, a, address)
}

// firstVisits asks for pages that nobody asked for before, one after another.
func firstVisits(ctx context.Context, a *app.App, address string) error {
	rows, err := a.Store.Pool.Query(ctx, "SELECT address FROM (SELECT address, row_number() OVER (ORDER BY id) AS n FROM variants) v WHERE n % $1 = 7 LIMIT $2", paged/visited, visited)
	if err != nil {
		return err
	}
	var all []time.Duration
	var addresses []string
	for rows.Next() {
		var at string
		if err := rows.Scan(&at); err != nil {
			return err
		}
		addresses = append(addresses, at)
	}
	for _, at := range addresses {
		took, err := visit(address, a.Origins.Shop+"/goods/"+at)
		if err != nil {
			return fmt.Errorf("visit %s: %w", at, err)
		}
		all = append(all, took)
	}
	slices.Sort(all)
	at := func(percent int) time.Duration { return all[(len(all)-1)*percent/100].Round(100 * time.Microsecond) }
	report(fmt.Sprintf("first visit of each of %d product pages among 100,000", len(all)), "half under %s, 95%% under %s, all under %s", "under 30 ms", at(50), at(95), at(100))
	return nil
}

func visit(address, uri string) (time.Duration, error) {
	req, resp := fasthttp.AcquireRequest(), fasthttp.AcquireResponse()
	defer fasthttp.ReleaseRequest(req)
	defer fasthttp.ReleaseResponse(resp)
	req.SetRequestURI(uri)
	began := time.Now()
	if err := client(address).Do(req, resp); err != nil {
		return 0, err
	}
	took := time.Since(began)
	if resp.StatusCode() != http.StatusOK && resp.StatusCode() != http.StatusMovedPermanently {
		return took, fmt.Errorf("it answered %d", resp.StatusCode())
	}
	return took, nil
}
