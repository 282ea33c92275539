package server

import (
	"context"
	"crypto/rand"
	"fmt"
	"net"
	"slices"
	"time"

	"chrysagon/gateway/bookclient"
	"chrysagon/gateway/loopback"
	"chrysagon/gateway/smtp"
	"chrysagon/gateway/tillclient"
	"chrysagon/standin/book"
	"chrysagon/standin/letterbox"
	"chrysagon/standin/till"
	"chrysagon/web"
)

// StandIns are the services that can be run in place of real ones, to try the
// program out: a till that charges test cards, a letterbox that keeps every mail,
// and a book of appointments. Each shows what it keeps to anybody who asks.
var StandIns = []string{"till", "letterbox", "book"}

// at is the address of a host below localhost.
func at(host string, port int) string { return fmt.Sprintf("http://%s:%d", host, port) }

// standIns sets up those that are to be run.
func (s *Server) standIns(ctx context.Context, o Options, assets *web.Assets) error {
	set := map[string]func(context.Context, Options, *web.Assets) error{"till": s.withTill, "letterbox": s.withLetterbox, "book": s.withBook}
	for _, name := range StandIns {
		if !slices.Contains(o.StandIns, name) {
			continue
		}
		if err := set[name](ctx, o, assets); err != nil {
			return err
		}
	}
	return nil
}

func (s *Server) withTill(ctx context.Context, o Options, assets *web.Assets) error {
	a, key := s.App, rand.Text()
	a.Origins.Till = at("till.localhost", o.Port)
	a.Payments = &tillclient.Client{Origin: a.Origins.Till, Key: key, HTTP: loopback.Client(o.TillPatience)}
	s.Till = &till.Ledger{Store: a.Store, Clock: o.Clock, Origin: a.Origins.Till, Shop: o.Shop}
	s.Hooks = &till.Hooks{Ledger: s.Till, URL: at(nameOf(o.Shop), o.Port) + "/hooks/till", Secret: a.WebhookSecret, HTTP: loopback.To(o.Port, 10*time.Second)}
	pages := &till.Server{Ledger: s.Till, Assets: assets, Key: key, Hang: o.Hang, Forms: o.Forms}
	s.parts[nameOf(a.Origins.Till)] = part{handle: pages.App().Handler(), most: 64 << 10}
	return s.Till.Migrate(ctx)
}

func (s *Server) withLetterbox(ctx context.Context, o Options, assets *web.Assets) error {
	a := s.App
	a.Origins.Letterbox = at("letterbox.localhost", o.Port)
	s.box = &letterbox.Box{Store: a.Store, Clock: o.Clock, Assets: assets}
	s.parts[nameOf(a.Origins.Letterbox)] = part{handle: s.box.App().Handler(), most: otherBytes}
	var err error
	if s.post, err = net.Listen("tcp", "127.0.0.1:0"); err != nil {
		return fmt.Errorf("find a port for the letterbox: %w", err)
	}
	if a.Post == nil {
		if a.Post, err = smtp.New(smtp.Server{Address: s.post.Addr().String()}); err != nil {
			return err
		}
	}
	return s.box.Migrate(ctx)
}

func (s *Server) withBook(ctx context.Context, o Options, assets *web.Assets) error {
	a := s.App
	a.Origins.Book = at("book.localhost", o.Port)
	diary := &book.Book{Store: a.Store, Clock: o.Clock, Assets: assets, Key: rand.Text()}
	a.Book = &bookclient.Client{Origin: a.Origins.Book, Key: diary.Key, HTTP: loopback.Client(2 * time.Second)}
	s.parts[nameOf(a.Origins.Book)] = part{handle: diary.App().Handler(), most: 16 << 10}
	return diary.Migrate(ctx)
}
