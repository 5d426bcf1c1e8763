package main

import (
	"bufio"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/spf13/cobra"

	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/office"
	"fairlap/internal/clock"
	"fairlap/internal/store"
)

func initCommand() *cobra.Command {
	var where database
	var company, zone, login, name string
	cmd := where.flags(&cobra.Command{
		Use: "init", Short: "Write the company and its owner into an empty database; the password is read from standard input", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			if company == "" || login == "" || name == "" {
				return errors.New("give --company, --login and --name")
			}
			if _, err := time.LoadLocation(zone); err != nil {
				return fmt.Errorf("--time-zone: %w", err)
			}
			line, err := bufio.NewReader(cmd.InOrStdin()).ReadString('\n')
			password := strings.TrimRight(line, "\r\n")
			if err != nil && password == "" {
				return errors.New("type the owner's password on standard input")
			}
			if why := office.Weak(password, login, name, company); why != "" {
				return errors.New(words.Plain.Say(why))
			}
			st, err := where.open(cmd.Context())
			if err != nil {
				return err
			}
			defer st.Close()
			if err := st.Migrate(cmd.Context()); err != nil {
				return err
			}
			if _, err := st.Company(cmd.Context()); !errors.Is(err, store.ErrNotFound) {
				return errors.New("this database already holds a company")
			}
			return st.Insert(
				cmd.Context(),
				&store.Company{ID: 1, Name: company, TimeZone: zone, Settings: json.RawMessage(`{}`), Version: 1},
				&store.User{
					ID:           uuid.Must(uuid.NewV7()),
					Login:        strings.ToLower(login),
					Name:         name,
					Role:         string(access.Owner),
					PasswordHash: office.HashPassword(password),
					Active:       true,
					Version:      1,
					CreatedAt:    clock.Now(),
				},
			)
		},
	})
	cmd.Flags().StringVar(&company, "company", "", "the company's name")
	cmd.Flags().StringVar(&zone, "time-zone", "America/Phoenix", "the company's time zone")
	cmd.Flags().StringVar(&login, "login", "", "the owner's login")
	cmd.Flags().StringVar(&name, "name", "", "the owner's name")
	return cmd
}
