// Command chrysagon is the whole program: the studio, the shopfront, the
// stand-ins, and one command for each computation.
package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"os/signal"
	"syscall"

	"github.com/spf13/cobra"
)

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	code := 0
	if err := root().ExecuteContext(ctx); err != nil {
		code = exitCode(err)
	}
	stop()
	os.Exit(code)
}

// badInput is an error of what was handed in, which ends with code 2.
type badInput struct{ err error }

func (b badInput) Error() string { return b.err.Error() }
func (b badInput) Unwrap() error { return b.err }

func exitCode(err error) int {
	var ran *exec.ExitError
	if errors.As(err, &ran) && ran.ExitCode() > 0 {
		return ran.ExitCode()
	}
	fmt.Fprintln(os.Stderr, "chrysagon: "+err.Error())
	var bad badInput
	if errors.As(err, &bad) {
		return 2
	}
	return 1
}

func root() *cobra.Command {
	r := &cobra.Command{
		Use:           "chrysagon",
		Short:         "Makes promotional sales pages, joins them into funnels, and takes the orders",
		SilenceUsage:  true,
		SilenceErrors: true,
	}
	r.Version = version()
	r.SetVersionTemplate("chrysagon {{.Version}}\n")
	r.AddCommand(demoCommand(), initCommand(), serveCommand(), settingsCommand(), migrateCommand(), resetCommand(), clusterCommand(), formatsCommand())
	r.AddCommand(computations()...)
	for _, c := range r.Commands() { // a wrong call is bad input, whichever command it is of
		if c.Args == nil {
			c.Args = cobra.NoArgs
		}
		if len(c.Commands()) == 0 && c.Name() != "with-cluster" {
			c.Args = usage(c.Args)
		}
	}
	r.SetFlagErrorFunc(func(_ *cobra.Command, err error) error { return badInput{err} })
	r.Args = usage(cobra.NoArgs)
	r.RunE = func(c *cobra.Command, _ []string) error { return c.Help() }
	return r
}
