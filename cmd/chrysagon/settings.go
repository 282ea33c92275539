package main

import (
	"fmt"
	"os"
	"runtime/debug"
	"text/tabwriter"

	"chrysagon/internal/server"

	"github.com/spf13/cobra"
)

// built is the revision this program was built from, and its day; make says it.
var built string

// version says which program this is.
func version() string {
	if built != "" {
		return built
	}
	if info, ok := debug.ReadBuildInfo(); ok {
		return info.Main.Version
	}
	return "of an unknown revision"
}

func settingsCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "settings",
		Short: "List what can be set by environment variables, and how it is set now",
		RunE: func(c *cobra.Command, _ []string) error {
			if _, err := server.FromEnv(); err != nil {
				return badInput{err}
			}
			w := tabwriter.NewWriter(c.OutOrStdout(), 0, 4, 2, ' ', 0)
			for _, s := range server.Settings {
				now := os.Getenv(s.Name)
				switch {
				case now == "":
					now = "(" + s.Default + ")"
				case s.Secret:
					now = "(set; not shown)"
				}
				if _, err := fmt.Fprintf(w, "%s\t%s\t%s\n", s.Name, now, s.Means); err != nil {
					return err
				}
			}
			return w.Flush()
		},
	}
}
