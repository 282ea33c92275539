package main

import (
	"encoding/json"

	"github.com/spf13/cobra"
)

// computation makes a command that reads JSON from standard input and writes
// JSON to standard output. Bad input ends with code 2 and its place and reason.
func computation[In, Out any](use, short, long string, compute func(In) (Out, error)) *cobra.Command {
	return &cobra.Command{
		Use: use, Short: short, Long: long, Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			var in In
			if err := reader.Read(c.InOrStdin(), &in); err != nil {
				return badInput{err}
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

// usage makes an error of how a command was called one of what was handed in.
func usage(check cobra.PositionalArgs) cobra.PositionalArgs {
	return func(c *cobra.Command, args []string) error {
		if err := check(c, args); err != nil {
			return badInput{err}
		}
		return nil
	}
}
