// Command scale builds a company of thousands of pools out of the made-up town, five years of
// weekly visits each, serves it on one core, and tells how quick its pages are and what they
// take.
package main

import (
	"context"
	"fmt"
	"os"
	"os/signal"
	"path/filepath"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"fairlap/internal/app"
	"fairlap/internal/app/company"
	"fairlap/internal/clock"
	"fairlap/internal/demo"
	"fairlap/internal/localdb"
	"fairlap/internal/store"
)

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	var how options
	cmd := &cobra.Command{
		Use: "scale", Short: "Measure Fair Lap at a size", Args: cobra.NoArgs, SilenceUsage: true, SilenceErrors: true,
		RunE: func(cmd *cobra.Command, _ []string) error { return run(cmd.Context(), how) },
	}
	cmd.Flags().IntVar(&how.pools, "pools", 5000, "how many")
	cmd.Flags().
		StringVar(&how.dir, "dir", "", "folder to keep the company in between runs; without one it is thrown away")
	cmd.Flags().StringVar(&how.server, "server", "bin/fairlap", "the built program")
	cmd.Flags().BoolVar(&how.rebuild, "rebuild", true, "work all pools out of the whole record first")
	cmd.Flags().DurationVar(&how.mixed, "mixed", 5*time.Minute, "how long everything is asked at once, for the memory")
	if err := cmd.ExecuteContext(ctx); err != nil {
		fmt.Fprintln(os.Stderr, "scale:", err)
		os.Exit(1)
	}
}

type options struct {
	pools   int
	dir     string
	server  string
	rebuild bool
	mixed   time.Duration
}

func run(ctx context.Context, how options) error {
	if how.dir != "" {
		how.dir = filepath.Join(how.dir, fmt.Sprint(how.pools))
	}
	db, err := localdb.Start(ctx, localdb.Options{Dir: how.dir})
	if err != nil {
		return err
	}
	defer db.Stop()
	st, err := store.Open(ctx, db.URL)
	if err != nil {
		return err
	}
	defer st.Close()
	if err := st.Migrate(ctx); err != nil {
		return err
	}
	var pools int
	if err := st.Pool.QueryRow(ctx, "select count(*) from pools").Scan(&pools); err != nil {
		return err
	}
	now := clock.Now()
	if pools == 0 {
		if _, err := demo.Load(ctx, st, 1, now); err != nil {
			return err
		}
		if err := grow(ctx, st, how.pools); err != nil {
			return err
		}
	}
	began := clock.Now()
	worked, err := app.New(st, clock.Now, company.World{}).Standing.Rebuild(ctx, how.rebuild, nil)
	if err != nil {
		return err
	}
	rebuilt := clock.Since(began)
	if _, err := st.Pool.Exec(ctx, "vacuum analyze"); err != nil {
		return fmt.Errorf("tidying up: %w", err)
	}
	var visits int
	var bytes int64
	if err := st.Pool.QueryRow(ctx, "select count(*), pg_database_size(current_database()) from visits").Scan(&visits, &bytes); err != nil {
		return err
	}
	fmt.Printf("%d visits, %.1f GB on disk\n", visits, float64(bytes)/1e9)
	fmt.Printf(
		"%d pools rebuilt from the whole record in %.1f s (%.1f ms each)\n",
		worked,
		rebuilt.Seconds(),
		rebuilt.Seconds()*1000/float64(max(1, worked)),
	)
	return measure(ctx, st, db.URL, how)
}
