package server

import (
	"context"
	"fmt"
	"net/http"
	"slices"
	"time"

	"chrysagon/gateway/loopback"
	"chrysagon/standin"
	"chrysagon/standin/book"
	"chrysagon/standin/lamps"
	"chrysagon/standin/letterbox"
	"chrysagon/standin/receiver"
	"chrysagon/standin/till"
	"chrysagon/web"
)

// StandIns are the services that can be run in place of real ones, to try the
// program out; a new one is one more line. Each shows what it keeps to anybody who asks.
var StandIns = []standin.StandIn{till.StandIn, letterbox.StandIn, book.StandIn, lamps.StandIn, receiver.StandIn}

// StandInNames are their names.
func StandInNames() []string {
	var out []string
	for _, s := range StandIns {
		out = append(out, s.Name)
	}
	return out
}

// at is the address of a host below localhost.
func at(host string, port int) string { return fmt.Sprintf("http://%s:%d", host, port) }

// Neighbour is the address of the sample page outside.
func Neighbour(port int) string { return at("lamps.localhost", port) + "/" }

// begin begins those that are to be run.
func (s *Server) begin(ctx context.Context, o Options, assets *web.Assets) error {
	for _, kind := range StandIns {
		if !slices.Contains(o.StandIns, kind.Name) {
			continue
		}
		if err := kind.Migrate(ctx, s.App.Store); err != nil {
			return err
		}
		host := kind.Name + ".localhost"
		run, err := kind.Begin(standin.Beside{
			Store: s.App.Store, Assets: assets, Ports: s.App.Ports, Origins: s.App.Origins, Origin: at(host, o.Port),
			Hooks: at(nameOf(o.Shop), o.Port) + "/hooks/", Calls: func(limit time.Duration) *http.Client { return loopback.To(o.Port, limit) },
			Returns: s.returnsAt(), Tick: s.tick, Patience: o.TillPatience, Hang: o.Hang, Forms: o.Forms,
		})
		if err != nil {
			return err
		}
		s.standIns[kind.Name] = run
		s.ran = append(s.ran, Ran{kind.Name, at(host, o.Port), kind.Says})
		for _, name := range append([]string{host}, kind.Hosts...) {
			s.parts[name] = part{handle: run.Handle, most: run.Most}
		}
	}
	return nil
}

// returnsAt is where what mail servers return is taken; empty: nowhere.
func (s *Server) returnsAt() string {
	if s.backAt == nil {
		return ""
	}
	return s.backAt.Addr().String()
}

// StandIn is the inside of one that is run, for tests; nil: it is not run.
func (s *Server) StandIn(name string) any { return s.standIns[name].Inside }

// Ran is a stand-in that is run: where, and what it does with what it is handed.
type Ran struct{ Name, Origin, Says string }

// StandIns are those that are run.
func (s *Server) StandIns() []Ran { return s.ran }
