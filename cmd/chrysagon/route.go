package main

import (
	"chrysagon/core/forecast"
	"chrysagon/core/rehearsal"
	"chrysagon/core/route"
	"chrysagon/core/route/fault"

	"github.com/shopspring/decimal"
	"github.com/spf13/cobra"
)

type routeIn struct {
	Currency     string           `json:"currency"`
	Entrance     string           `json:"entrance"`                      // the step at which visitors come in
	Steps        []forecast.Step  `json:"steps" jsonschema:"minItems=1"` // one without routes is an end
	Routes       []forecast.Route `json:"routes"`
	FloorPercent decimal.Decimal  `json:"floor_percent,omitzero"` // what the store wants to keep of its revenue
	Paths        *fault.Input     `json:"paths,omitempty"`        // a funnel, to be proved
}

type routeOut struct {
	Forecast forecast.Output `json:"forecast"`
	Faults   []fault.Fault   `json:"faults,omitempty"` // of the funnel, the gravest first
	Proved   []string        `json:"proved,omitempty"` // what holds of it
}

func routeCommand() *cobra.Command {
	return computation("route", "Prove a funnel, and forecast what it leads to (JSON in, JSON out)", `Reads steps and the routes between them, with how often each was taken or will be,
and answers for a visitor who comes in: the chance of each end, how often each step
is seen, revenue, what a click may cost, and what a tenth more takers of each route
would bring. Of a funnel under paths it answers what would go wrong on it, and what is
proved: docs/formats/route.md.

Example:
  chrysagon route <<'END'
  {"currency": "EUR", "entrance": "sales",
   "steps":  [{"id": "sales", "visitors": 400}, {"id": "bag", "visitors": 20}, {"id": "thanks"}],
   "routes": [{"from": "sales", "outcome": "bought", "to": "bag", "taken": 20, "worth": {"minor": 5100, "currency": "EUR"}},
              {"from": "bag", "outcome": "accepted", "to": "thanks", "percent": "30", "worth": {"minor": 2380, "currency": "EUR"}},
              {"from": "bag", "outcome": "declined", "to": "thanks", "percent": "70"}],
   "paths": {"funnel": {"steps": [{"id": "sales", "kind": "sales", "name": "Night flight"}, {"id": "bag", "kind": "upsell", "name": "Quiver bag"}],
                        "routes": [{"from": "sales", "outcome": "bought", "to": "bag"}]}}}
  END`, func(in routeIn) (routeOut, error) {
		out, err := forecast.Compute(forecast.Input{Currency: in.Currency, Entrance: in.Entrance, Steps: in.Steps, Routes: in.Routes, FloorPercent: in.FloorPercent})
		if err != nil || in.Paths == nil {
			return routeOut{Forecast: out}, err
		}
		found := fault.Find(*in.Paths)
		return routeOut{out, found, fault.Proved(found)}, nil
	})
}

type rehearseIn struct {
	Funnel   route.Funnel           `json:"funnel"`
	About    map[string]fault.About `json:"about,omitempty"` // what each step sells, and at which price
	Rates    []rehearsal.Rate       `json:"rates"`
	Comes    []rehearsal.Share      `json:"comes" jsonschema:"minItems=1"` // steps at which visitors come in
	Who      rehearsal.Who          `json:"who,omitzero"`
	Visitors int                    `json:"visitors" jsonschema:"minimum=1,maximum=1000000"`
	Seed     int                    `json:"seed,omitempty" jsonschema:"minimum=0"` // the same gives the same walks
}

type rehearseOut struct {
	Walked   rehearsal.Output   `json:"walked"`
	Expected rehearsal.Expected `json:"expected"` // of one visitor, computed
}

func rehearseCommand() *cobra.Command {
	return computation("rehearse", "Let invented visitors walk a funnel (JSON in, JSON out)", `Reads a funnel with how often each outcome comes, and lets visitors walk it by its real
rules, drawn by a seed; and answers what they did, beside what is to be expected of
one: docs/formats/rehearse.md.

Example:
  chrysagon rehearse <<'END'
  {"visitors": 10000, "seed": 7, "comes": [{"of": "sales", "share": 1}],
   "funnel": {"steps": [{"id": "sales", "kind": "sales", "name": "Night flight"}, {"id": "thanks", "kind": "thank_you", "name": "Thank you"}],
              "routes": [{"from": "sales", "outcome": "bought", "to": "thanks"}]},
   "about": {"sales": {"sells": "ember", "price": 5100}},
   "rates": [{"step": "sales", "outcome": "bought", "rate": 0.05}]}
  END`, func(in rehearseIn) (rehearseOut, error) {
		with := rehearsal.Input{Funnel: in.Funnel, About: in.About, Rates: in.Rates, Comes: in.Comes, Who: in.Who}
		expected, err := rehearsal.Expect(with)
		if err != nil {
			return rehearseOut{}, err
		}
		walked, err := rehearsal.Walk(with, in.Visitors, uint64(max(in.Seed, 0)), nil)
		return rehearseOut{walked, expected}, err
	})
}
