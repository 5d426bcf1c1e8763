package main

import (
	"fmt"
	"time"

	"github.com/spf13/cobra"

	"fairlap/internal/app"
	"fairlap/internal/app/company"
)

func rebuildCommand() *cobra.Command {
	var url string
	var all bool
	cmd := databaseFlag(&cobra.Command{
		Use: "rebuild", Short: "Work out anew how pools stand, where that is behind their record or of an earlier version", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			st, err := openStore(cmd.Context(), url)
			if err != nil {
				return err
			}
			defer st.Close()
			began := time.Now()
			worked, err := app.New(st, time.Now, company.World{}).Standing.Rebuild(cmd.Context(), all, func(done int) {
				if done%1024 == 0 {
					fmt.Fprintln(cmd.ErrOrStderr(), done, "pools looked at")
				}
			})
			if err != nil {
				return fmt.Errorf("working out how pools stand: %w", err)
			}
			fmt.Fprintf(cmd.OutOrStdout(), "%d pools worked out in %.1f s\n", worked, time.Since(began).Seconds())
			return nil
		},
	}, &url)
	cmd.Flags().BoolVar(&all, "all", false, "every pool, whatever its row says")
	return cmd
}
