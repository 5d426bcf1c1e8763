// Command fairlap serves Fair Lap and keeps its database.
package main

import (
	"context"
	"fmt"
	"os"
	"os/signal"
	"strings"
	"syscall"

	"github.com/spf13/cobra"
	"github.com/spf13/pflag"
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
		PersistentPreRunE: func(cmd *cobra.Command, _ []string) error { return fromEnvironment(cmd) },
	}
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
		schemaCommand(),
		&cobra.Command{
			Use: "version", Short: "Print the version", Args: cobra.NoArgs,
			Run: func(cmd *cobra.Command, _ []string) { fmt.Fprintln(cmd.OutOrStdout(), version) },
		},
	)
	cmd.AddCommand(keeping()...)
	return cmd
}

const envPrefix = "FAIRLAP_"

// fromEnvironment fills flags that were not given from FAIRLAP_* variables of
// the same name. A variable that no command knows is an error.
func fromEnvironment(cmd *cobra.Command) error {
	known := map[string]bool{}
	for _, c := range cmd.Root().Commands() {
		c.Flags().VisitAll(func(f *pflag.Flag) { known[envName(f.Name)] = true })
	}
	for _, kv := range os.Environ() {
		name, _, _ := strings.Cut(kv, "=")
		if strings.HasPrefix(name, envPrefix) && !known[name] {
			return fmt.Errorf("the variable %s is not known", name)
		}
	}
	var err error
	cmd.Flags().VisitAll(func(f *pflag.Flag) {
		if v, ok := os.LookupEnv(envName(f.Name)); ok && !f.Changed && err == nil {
			if e := cmd.Flags().Set(f.Name, v); e != nil {
				err = fmt.Errorf("%s: %w", envName(f.Name), e)
			}
		}
	})
	return err
}

func envName(flag string) string {
	return envPrefix + strings.ToUpper(strings.ReplaceAll(flag, "-", "_"))
}
