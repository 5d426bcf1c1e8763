package main

import (
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"fairlap/internal/app"
	"fairlap/internal/app/company"
	"fairlap/internal/clock"
	"fairlap/internal/store"
)

func recoverCommand() *cobra.Command {
	var where database
	var login, at string
	cmd := where.flags(&cobra.Command{
		Use: "recover", Short: "Make a one-time link for somebody who forgot their password or lost their authenticator", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			if login == "" {
				return errors.New("give --login")
			}
			st, err := where.open(cmd.Context())
			if err != nil {
				return err
			}
			defer st.Close()
			link, err := app.New(st, clock.Now, company.World{}).Office.Recover(cmd.Context(), strings.ToLower(login))
			if errors.Is(err, store.ErrNotFound) {
				return fmt.Errorf("nobody here signs in as %s", login)
			}
			if err != nil {
				return err
			}
			fmt.Fprintf(
				cmd.OutOrStdout(),
				"%s/invited/%s\nGood once, until %s. Nothing changes before it is used.\n",
				strings.TrimSuffix(at, "/"),
				link.Secret,
				link.Until.Format(time.RFC1123),
			)
			return nil
		},
	})
	cmd.Flags().StringVar(&login, "login", "", "whose")
	cmd.Flags().StringVar(&at, "at", "", "where the server is reached, like https://pools.example")
	return cmd
}
