package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"os"
	"path/filepath"
	"runtime/debug"
	"strings"
	"syscall"
	"time"

	"chrysagon/demo"
	"chrysagon/internal/server"
	"chrysagon/store"
	"chrysagon/store/cluster"

	"github.com/spf13/cobra"
)

func demoCommand() *cobra.Command {
	reload := false
	c := &cobra.Command{
		Use:   "demo",
		Short: "Start everything with the demo store",
		Long: `Starts a PostgreSQL server of its own, loads the demo store and serves it with
all stand-ins. “chrysagon settings” lists what can be set.`,
		Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error { return serve(c.Context(), true, reload) },
	}
	c.Flags().BoolVar(&reload, "reload", false, "open pages of the studio load again by themselves when the program was begun anew")
	return c
}

func serveCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "serve",
		Short: "Serve the store that is in the database; no stand-in is run unless CHRYSAGON_STANDINS names it",
		Args:  cobra.NoArgs,
		RunE:  func(c *cobra.Command, _ []string) error { return serve(c.Context(), false, false) },
	}
}

func migrateCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "migrate",
		Short: "Bring the database up to this program, then end",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			config, err := server.FromEnv()
			if err != nil {
				return err
			}
			s, stop, err := open(c.Context(), config)
			if err != nil {
				return err
			}
			defer stop()
			return s.Migrate(c.Context())
		},
	}
}

// serve runs the program until it is told to stop.
func serve(ctx context.Context, withDemo, reload bool) error {
	config, err := server.FromEnv()
	if err != nil {
		return err
	}
	log := slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: config.Log}))
	listener, err := net.Listen("tcp", fmt.Sprintf("127.0.0.1:%d", config.Port))
	if errors.Is(err, syscall.EADDRINUSE) {
		return fmt.Errorf("port %d is in use by another program; stop that one, or choose another port with PORT", config.Port)
	}
	if err != nil {
		return fmt.Errorf("listen on port %d: %w", config.Port, err)
	}
	s, stop, err := open(ctx, config)
	if err != nil {
		return err
	}
	defer stop()
	if err := s.Migrate(ctx); err != nil {
		return err
	}
	s.Watch.Log, s.Watch.Slow = log, config.Slow
	if config.Profile != 0 {
		if err := server.Profile(ctx, config.Profile); err != nil {
			return err
		}
	}
	if withDemo {
		if err := demo.Open(ctx, s, server.Neighbour(config.Port), time.Now()); err != nil {
			return err
		}
		debug.FreeOSMemory() // what it took to draw and encode the demo's pictures, at a first start, is not needed again
	}
	var stores int64
	if err := s.DB.WithContext(ctx).Model(&store.Shop{}).Count(&stores).Error; err != nil {
		return fmt.Errorf("look for the store: %w", err)
	}
	if stores == 0 {
		return errors.New("the database holds no store yet; make one with “chrysagon init”, or run “chrysagon demo” to try one out")
	}
	o := config.Options()
	o.Log, o.Reload = log, reload
	if withDemo {
		o.Demo, o.Email, o.Password = true, demo.Email, demo.Password
		if len(o.StandIns) == 0 {
			o.StandIns = server.StandInNames()
		}
	}
	srv, err := server.New(ctx, s, o)
	if err != nil {
		return err
	}
	if withDemo && srv.StandIn("till") != nil {
		if err := demo.Charge(ctx, s); err != nil {
			return err
		}
	}
	announce(srv, o)
	return srv.Serve(ctx, listener)
}

// announce says what the program runs with.
func announce(srv *server.Server, o server.Options) {
	origins := srv.App.Origins
	fmt.Printf("\nChrysagon %s is ready.\n\n  Studio     %s\n", version(), origins.Studio)
	if o.Demo {
		fmt.Printf("             sign in as %s, password %s\n", o.Email, o.Password)
	}
	fmt.Printf("  Shop       %s\n", origins.Shop)
	if srv.App.Payments == nil {
		fmt.Println("  Payments   none: pages with a checkout cannot go out")
	}
	if o.Mail.Address != "" {
		fmt.Printf("  Mail       %s\n", o.Mail.Address)
	} else if srv.App.Post == nil {
		fmt.Println("  Mail       none: no mail is sent")
	}
	for _, s := range srv.StandIns() {
		fmt.Printf("  %-10s %s   (stand-in: %s)\n", strings.ToUpper(s.Name[:1])+s.Name[1:], s.Origin, s.Says)
	}
	fmt.Print("\nCtrl+C stops everything.\n")
}

// open reaches the database: the one named, or a server of our own.
func open(ctx context.Context, config server.Config) (*store.Store, func(), error) {
	url, stop := config.DatabaseURL, func() {}
	if url == "" {
		unlock, err := lock(config.Data)
		if err != nil {
			return nil, nil, err
		}
		c, err := cluster.Start(ctx, cluster.Options{Data: config.Data})
		if err != nil {
			return nil, nil, fmt.Errorf("start the database server: %w", err)
		}
		let := keep(ctx, c)
		stop = func() { //nolint:contextcheck // stopping must go on after the context has ended
			let()
			if err := c.Stop(); err != nil {
				fmt.Fprintln(os.Stderr, "chrysagon: stop the database server:", err)
			}
			unlock()
		}
		if err := c.CreateDatabase(ctx, "chrysagon"); err != nil {
			stop()
			return nil, nil, err
		}
		url = c.URL("chrysagon")
	}
	s, err := store.Open(ctx, url, 24)
	if err != nil {
		stop()
		return nil, nil, err
	}
	return s, func() { s.Close(); stop() }, nil
}

// keep has a database server of our own started again should it die. What it
// returns ends that.
func keep(ctx context.Context, c *cluster.Cluster) func() {
	watch, let := context.WithCancel(ctx)
	t, done := time.NewTicker(2*time.Second), make(chan struct{})
	go func() {
		defer close(done)
		c.Keep(watch, t.C, func(err error) {
			if err != nil {
				fmt.Fprintln(os.Stderr, "chrysagon: the database server has died, and does not start yet:", err)
			} else {
				fmt.Fprintln(os.Stderr, "chrysagon: the database server had died; it has been started again")
			}
		})
	}()
	return func() { t.Stop(); let(); <-done }
}

// lock keeps two copies of the program from using one data folder.
func lock(data string) (func(), error) {
	if err := os.MkdirAll(data, 0o755); err != nil { //nolint:gosec // the database server's user must be able to pass through
		return nil, fmt.Errorf("make the data folder: %w", err)
	}
	f, err := os.OpenFile(filepath.Join(data, "lock"), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, fmt.Errorf("lock the data folder: %w", err)
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		_ = f.Close()
		return nil, fmt.Errorf("another copy of Chrysagon is using the data folder %s; stop it, or choose another folder with CHRYSAGON_DATA", data)
	}
	return func() { _ = f.Close() }, nil
}

func resetCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "reset",
		Short: "Forget all data of this data folder or database",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			config, err := server.FromEnv()
			if err != nil {
				return err
			}
			if config.DatabaseURL == "" {
				unlock, err := lock(config.Data)
				if err != nil {
					return err
				}
				defer unlock()
				return cluster.Remove(config.Data)
			}
			s, err := store.Open(c.Context(), config.DatabaseURL, 2)
			if err != nil {
				return err
			}
			defer s.Close()
			_, err = s.Pool.Exec(c.Context(), `DROP SCHEMA IF EXISTS public, till, letterbox, book, receiver CASCADE; CREATE SCHEMA public`)
			return err
		},
	}
}
