// Command bench measures the program against the bar, as ratios within one
// run. It reports; it never fails for being slow. Run it by “make bench”.
package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"os"
	"strings"
	"time"

	"chrysagon/app"
	"chrysagon/demo"
	"chrysagon/internal/server"
	"chrysagon/store"

	"github.com/jackc/pgx/v5"
)

func main() {
	if err := run(context.Background()); err != nil {
		fmt.Fprintln(os.Stderr, "bench:", err)
		os.Exit(1)
	}
}

func run(ctx context.Context) error {
	admin := os.Getenv("TEST_DATABASE_URL")
	if admin == "" {
		return errors.New("TEST_DATABASE_URL is not set: run “make bench”")
	}
	s, err := database(ctx, admin)
	if err != nil {
		return err
	}
	defer s.Close()
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return err
	}
	srv, err := server.New(ctx, s, server.Options{Port: listener.Addr().(*net.TCPAddr).Port, Log: slog.New(slog.DiscardHandler), Forms: 1 << 30, StandIns: server.StandInNames()})
	if err != nil {
		return err
	}
	serving, stop := context.WithCancel(ctx)
	done := make(chan error, 1)
	go func() { done <- srv.Serve(serving, listener) }()
	fmt.Printf("| what | measured | goal |\n|---|---|---|\n")
	if one, named := alone[os.Getenv("BENCH_ONLY")]; named {
		err := one(ctx, srv.App, listener.Addr().String())
		stop()
		return errors.Join(err, <-done)
	}
	if os.Getenv("BENCH_QUICK") == "" {
		if err := quotes(); err != nil {
			fmt.Fprintln(os.Stderr, "bench:", err)
		}
	}
	err = errors.Join(pages(listener.Addr().String(), srv.App.Origins.Shop), orders(ctx, listener.Addr().String(), *srv.App.Origins, admin),
		declined(ctx, srv.App, s, listener.Addr().String(), *srv.App.Origins))
	if os.Getenv("BENCH_QUICK") == "" && err == nil {
		err = goodsMany(ctx, srv.App)
	}
	if os.Getenv("BENCH_QUICK") == "" && err == nil {
		err = walks(ctx, srv.App, listener.Addr().String())
	}
	stop()
	return errors.Join(err, <-done, coldStart())
}

// alone are what BENCH_ONLY measures by itself. Product pages are measured in no other way:
// their numbers are of a store with so many goods and no more.
var alone = map[string]func(ctx context.Context, a *app.App, address string) error{
	"walks":    walks,
	"letters":  lettersMany,
	"people":   peopleMany,
	"products": products,
	"lists": func(ctx context.Context, a *app.App, _ string) error {
		if err := fill(ctx, a.Store, imported, stocked); err != nil {
			return err
		}
		return listsMany(ctx, a)
	},
}

// database makes a fresh database with the demo store.
func database(ctx context.Context, admin string) (*store.Store, error) {
	conn, err := pgx.Connect(ctx, admin)
	if err != nil {
		return nil, err
	}
	defer func() { _ = conn.Close(ctx) }()
	for _, sql := range []string{"DROP DATABASE IF EXISTS bench WITH (FORCE)", "CREATE DATABASE bench"} {
		if _, err := conn.Exec(ctx, sql); err != nil {
			return nil, err
		}
	}
	s, err := store.Open(ctx, strings.Replace(admin, "/postgres?", "/bench?", 1), 24)
	if err != nil {
		return nil, err
	}
	if err := s.Migrate(ctx); err != nil {
		return nil, err
	}
	if err := demo.Load(ctx, s, time.Now()); err != nil {
		return nil, err
	}
	_, err = s.Pool.Exec(ctx, "UPDATE variants SET stock = 1000000")
	return s, err
}

func report(what, measured, goal string, args ...any) {
	fmt.Printf("| %s | %s | %s |\n", what, fmt.Sprintf(measured, args...), goal)
}
