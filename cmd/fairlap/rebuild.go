package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"fairlap/internal/app"
	"fairlap/internal/app/company"
	"fairlap/internal/clock"
)

func rebuildCommand() *cobra.Command {
	var where database
	var all, counts bool
	cmd := where.flags(&cobra.Command{
		Use: "rebuild", Short: "Work out anew how pools stand, where that is behind their record or of an earlier version", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			st, err := where.open(cmd.Context())
			if err != nil {
				return err
			}
			defer st.Close()
			began := clock.Now()
			if counts {
				if err := st.Recount(cmd.Context()); err != nil {
					return err
				}
			}
			worked, err := app.New(st, clock.Now, company.World{}).Standing.Rebuild(cmd.Context(), all, func(done int) {
				if done%1024 == 0 {
					fmt.Fprintln(cmd.ErrOrStderr(), done, "pools looked at")
				}
			})
			if err != nil {
				return fmt.Errorf("working out how pools stand: %w", err)
			}
			fmt.Fprintf(cmd.OutOrStdout(), "%d pools worked out in %.1f s\n", worked, clock.Since(began).Seconds())
			return nil
		},
	})
	cmd.Flags().BoolVar(&all, "all", false, "every pool, whatever its row says")
	cmd.Flags().
		BoolVar(&counts, "counts", false, "count outcomes, visits and the ends of parts' lives anew first; visits wait meanwhile, a minute for ten million of them")
	return cmd
}
