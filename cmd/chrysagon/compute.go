package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"

	"github.com/spf13/cobra"
)

// computation makes a command that reads JSON from standard input and writes
// JSON to standard output. Bad input ends with code 2 and its place and reason.
func computation[In, Out any](use, short, long string, compute func(In) (Out, error)) *cobra.Command {
	return &cobra.Command{
		Use: use, Short: short, Long: long, Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			var in In
			dec := json.NewDecoder(io.LimitReader(c.InOrStdin(), 256<<20))
			dec.DisallowUnknownFields()
			if err := dec.Decode(&in); err != nil {
				return badInput{fmt.Errorf("standard input: %w", plain(err, dec.InputOffset()))}
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

// plain says where in the input the fault is: by the member's name where the
// decoder knows it, by the character where it does not.
func plain(err error, offset int64) error {
	var kind *json.UnmarshalTypeError
	var syntax *json.SyntaxError
	switch {
	case errors.Is(err, io.EOF):
		return errors.New("it is empty; hand in one JSON value")
	case errors.As(err, &kind):
		return fmt.Errorf("%s: a %s cannot stand here", kind.Field, kind.Value)
	case errors.As(err, &syntax):
		return fmt.Errorf("character %d: %w", syntax.Offset, err)
	case errors.Is(err, io.ErrUnexpectedEOF):
		return errors.New("it ends in the middle of the JSON value")
	}
	return fmt.Errorf("before character %d: %w", offset, err)
}
