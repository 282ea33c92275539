package main

import (
	"fmt"
	"os"
	"os/exec"

	"chrysagon/store/cluster"

	"github.com/spf13/cobra"
)

// clusterCommand runs another program beside a PostgreSQL server that is only
// there for it: tests and measurements.
func clusterCommand() *cobra.Command {
	var data string
	var durable bool
	c := &cobra.Command{
		Use:   "with-cluster -- PROGRAM [ARGUMENT...]",
		Short: "Run a program beside a PostgreSQL server of its own, named to it by TEST_DATABASE_URL",
		Args:  cobra.MinimumNArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			server, err := cluster.Start(c.Context(), cluster.Options{Data: data, Forget: !durable})
			if err != nil {
				return fmt.Errorf("start the database server: %w", err)
			}
			run := exec.CommandContext(c.Context(), args[0], args[1:]...) //nolint:gosec // the caller's own program
			run.Stdin, run.Stdout, run.Stderr = os.Stdin, os.Stdout, os.Stderr
			run.Env = append(os.Environ(), "TEST_DATABASE_URL="+server.URL("postgres"))
			err = run.Run()
			if stopped := server.Stop(); err == nil {
				err = stopped
			}
			return err
		},
	}
	c.Flags().StringVar(&data, "data", ".data/test", "folder of the server")
	c.Flags().BoolVar(&durable, "durable", false, "write to disk as a real server does (for measurements)")
	return c
}
