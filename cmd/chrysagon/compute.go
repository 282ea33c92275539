package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/offer"

	"github.com/spf13/cobra"
)

// computation makes a command that reads JSON from standard input and writes
// JSON to standard output. Bad input ends with code 2 and its place and reason.
func computation[In, Out any](use, short, long string, compute func(In) (Out, error)) *cobra.Command {
	return &cobra.Command{
		Use: use, Short: short, Long: long, Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			var in In
			dec := json.NewDecoder(io.LimitReader(c.InOrStdin(), 64<<20))
			dec.DisallowUnknownFields()
			if err := dec.Decode(&in); err != nil {
				return badInput{fmt.Errorf("standard input: %w", plain(err))}
			}
			if dec.More() {
				return badInput{errors.New("standard input: something follows after the first JSON value")}
			}
			out, err := compute(in)
			if err != nil {
				return badInput{err}
			}
			enc := json.NewEncoder(c.OutOrStdout())
			enc.SetIndent("", "  ")
			enc.SetEscapeHTML(false)
			return enc.Encode(out)
		},
	}
}

func plain(err error) error {
	var kind *json.UnmarshalTypeError
	switch {
	case errors.Is(err, io.EOF):
		return errors.New("it is empty; hand in one JSON value")
	case errors.As(err, &kind):
		return fmt.Errorf("%s: a %s cannot stand here", kind.Field, kind.Value)
	}
	return err
}

func quoteCommand() *cobra.Command {
	return computation("quote", "Price a cart (JSON in, JSON out)", `Reads goods, offers, a cart and a moment, and answers what a buyer pays and why.
Amounts are whole minor units. Windows are closed at their start and open at
their end.

Example:
  chrysagon quote <<'END'
  {"currency": "EUR", "zone": "Europe/Lisbon", "moment": "2026-11-23T12:33:00Z",
   "goods":  [{"id": "ember", "name": "Ember 180", "price": {"minor": 6800, "currency": "EUR"}, "stock": 40, "form": "physical"}],
   "offers": [{"id": "week", "name": "Lantern week", "kind": "percent_off", "percent": "25", "product_id": "ember",
               "starts": "2026-11-20T00:00:00Z", "ends": "2026-11-27T23:59:00Z"}],
   "cart":   [{"product_id": "ember", "quantity": 1, "via": "page"}]}
  END`, offer.Compute)
}

type deadlineIn struct {
	Local  string    `json:"local"`
	Zone   string    `json:"zone"`
	Moment time.Time `json:"moment"`
}

type deadlineOut struct {
	At      time.Time     `json:"at"`
	Written string        `json:"written"`
	Left    deadline.Left `json:"left"`
}

func deadlineCommand() *cobra.Command {
	return computation("deadline", "Resolve a deadline and what is left (JSON in, JSON out)", `Reads a local date and time with its zone, and answers the moment it means,
written out, and how much is left at another moment. A local time that a clock
change skips moves forward by the gap; one that comes twice means the first.

Example:
  chrysagon deadline <<'END'
  {"local": "2026-11-27T23:59", "zone": "Europe/Lisbon", "moment": "2026-11-23T12:33:00Z"}
  END`, func(in deadlineIn) (deadlineOut, error) {
		at, err := deadline.Resolve(in.Local, in.Zone)
		if err != nil {
			return deadlineOut{}, fmt.Errorf("local or zone: %w", err)
		}
		if in.Moment.IsZero() {
			return deadlineOut{}, errors.New("moment: missing; write it like 2026-11-23T12:33:00Z")
		}
		return deadlineOut{At: at, Written: deadline.Written(at, in.Zone), Left: deadline.Until(at, in.Moment)}, nil
	})
}
