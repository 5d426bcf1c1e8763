// Command fairlap serves Fair Lap and keeps its database.
package main

import (
	"context"
	"fmt"
	"os"
	"os/signal"
	"syscall"
	_ "time/tzdata" // a machine may know no time zones

	"github.com/spf13/cobra"
	_ "golang.org/x/crypto/x509roots/fallback" // nor whom to trust
)

// version is stamped in by make build.
var version = "unstamped"

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if err := root().ExecuteContext(ctx); err != nil {
		fmt.Fprintln(os.Stderr, "fairlap:", err)
		os.Exit(1)
	}
}

func root() *cobra.Command {
	cmd := &cobra.Command{
		Use: "fairlap", Short: "What the pad should have said, what is wrong, and whether to clean today",
		SilenceUsage: true, SilenceErrors: true,
		PersistentPreRunE: func(cmd *cobra.Command, _ []string) error { return settle(cmd) },
		Version:           version,
	}
	cmd.PersistentFlags().
		String(settingsFlag, "", "file of settings, NAME=VALUE a line, like the one that the service reads")
	cmd.AddCommand(
		serveCommand(),
		demoCommand(),
		migrateCommand(),
		initCommand(),
		openapiCommand(),
		solveCommand(),
		diagnoseCommand(),
		planCommand(),
		practiceCommand(),
		procedureCommand(),
		sweepCommand(),
		schemaCommand(),
	)
	cmd.AddCommand(keeping()...)
	return cmd
}
