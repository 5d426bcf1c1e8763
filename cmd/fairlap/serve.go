package main

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"runtime/debug"
	"time"

	"github.com/spf13/cobra"

	"fairlap/internal/api"
	"fairlap/internal/app"
	"fairlap/internal/app/company"
	"fairlap/internal/demo"
	"fairlap/internal/localdb"
	"fairlap/internal/store"
	"fairlap/web"
)

// shutdownGrace is how long requests under way may take when the server ends.
const shutdownGrace = 5 * time.Second

func newLog() *slog.Logger { return slog.New(slog.NewJSONHandler(os.Stderr, nil)) }

func openStore(ctx context.Context, url string) (*store.Store, error) {
	if url == "" {
		return nil, errors.New("no database: give --database-url or FAIRLAP_DATABASE_URL")
	}
	return store.Open(ctx, url)
}

func serveCommand() *cobra.Command {
	var url, address, photos, tiles string
	var secure bool
	cmd := &cobra.Command{
		Use: "serve", Short: "Serve the company's record", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			st, err := openStore(cmd.Context(), url)
			if err != nil {
				return err
			}
			defer st.Close()
			if err := st.Migrate(cmd.Context()); err != nil {
				return err
			}
			if photos != "" {
				if err := st.KeepPhotosIn(photos); err != nil {
					return err
				}
			}
			return listen(cmd, address, st, app.New(st, time.Now, company.World{Tiles: tiles}), secure, tiles, nil)
		},
	}
	cmd.Flags().StringVar(&url, "database-url", "", "PostgreSQL address")
	cmd.Flags().StringVar(&address, "listen", "127.0.0.1:8080", "address to listen on")
	cmd.Flags().StringVar(&photos, "photo-dir", "", "folder for pictures; without one they are kept in the database")
	cmd.Flags().StringVar(&tiles, "map-tiles", "", "address of a map's tiles, like https://tiles.example/{z}/{x}/{y}.png; without one the streets alone are drawn")
	cmd.Flags().BoolVar(&secure, "secure-cookie", true, "send the session cookie over HTTPS only")
	return cmd
}

// collectAt is how far the heap grows before it is collected, percent: what is kept
// of thousands of pools is large and still, and walking it through while somebody
// waits for the week costs them 20 ms.
const collectAt = 400

// listen serves until the command's context ends.
func listen(
	cmd *cobra.Command,
	address string,
	st *store.Store,
	svc *app.Rooms,
	secure bool,
	tiles string,
	ready func(url string),
) error {
	dist, err := fs.Sub(web.Dist, "dist")
	if err != nil {
		return fmt.Errorf("the built front end: %w", err)
	}
	handler, _ := api.New(
		svc,
		api.Options{
			Version:  version,
			Assets:   dist,
			Log:      newLog(),
			Secure:   secure,
			Sessions: st.Pool,
			Tiles:    tiles,
		},
	)
	l, err := net.Listen("tcp", address)
	if err != nil {
		return fmt.Errorf("listening: %w", err)
	}
	server := &http.Server{
		Handler:           handler,
		ReadHeaderTimeout: 10 * time.Second,
		ReadTimeout:       30 * time.Second,
		IdleTimeout:       2 * time.Minute,
	}
	if os.Getenv("GOGC") == "" {
		debug.SetGCPercent(collectAt)
	}
	go keepWarm(cmd.Context(), svc)
	failed := make(chan error, 1)
	go func() { failed <- server.Serve(l) }()
	url := "http://" + l.Addr().String()
	fmt.Fprintln(cmd.OutOrStdout(), "Fair Lap is at", url)
	if ready != nil {
		ready(url)
	}
	select {
	case err := <-failed:
		return fmt.Errorf("serving: %w", err)
	case <-cmd.Context().Done():
	}
	ctx, cancel := context.WithTimeout(context.Background(), shutdownGrace)
	defer cancel()
	if err := server.Shutdown(ctx); err != nil {
		return fmt.Errorf("ending: %w", err)
	}
	return nil
}

// keepWarm works due work out on every new hour, so that nobody waits for it, and
// takes away what the company keeps no longer. A failure is left to whoever asks next.
func keepWarm(ctx context.Context, svc *app.Rooms) {
	for {
		if err := svc.Standing.Warm(ctx); err != nil && ctx.Err() == nil {
			newLog().Warn("working due work out ahead", "error", err)
		}
		if err := svc.Office.Retain(ctx); err != nil && ctx.Err() == nil {
			newLog().Warn("taking away what is kept no longer", "error", err)
		}
		next := time.Now().Truncate(time.Hour).Add(time.Hour + time.Second)
		select {
		case <-ctx.Done():
			return
		case <-time.After(time.Until(next)):
		}
	}
}

func demoCommand() *cobra.Command {
	var url, address, dir, at string
	var seed uint64
	cmd := &cobra.Command{
		Use: "demo", Short: "Serve the made-up town of Pellam Ridge on a database of its own", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			ctx := cmd.Context()
			now := time.Now()
			if at != "" {
				var err error
				if now, err = time.Parse(time.DateOnly, at); err != nil {
					return fmt.Errorf("--now: type the day like 2026-11-24: %w", err)
				}
				now = now.Add(18 * time.Hour) // the same day in the town
			}
			if url == "" {
				if dir == "" {
					dir = filepath.Join(os.TempDir(), fmt.Sprintf("fairlap-town-%d", os.Getuid()))
				}
				// The town is dated from the day it is loaded: each start is a fresh one.
				if err := clearDemo(dir); err != nil {
					return err
				}
				db, err := localdb.Start(ctx, localdb.Options{Dir: filepath.Join(dir, "db")})
				if err != nil {
					return err
				}
				defer db.Stop()
				url = db.URL
			}
			st, err := openStore(ctx, url)
			if err != nil {
				return err
			}
			defer st.Close()
			if err := st.Migrate(ctx); err != nil {
				return err
			}
			clock := demo.Clock(now)
			world, err := demo.Load(ctx, st, seed, clock())
			if err != nil {
				return err
			}
			return listen(cmd, address, st, app.New(st, clock, world), false, "", func(string) {
				fmt.Fprintln(cmd.OutOrStdout(), "This is a demo: sign in there by role, no password. Ctrl-C ends it.")
			})
		},
	}
	cmd.Flags().StringVar(&url, "database-url", "", "PostgreSQL address; without one the demo starts its own")
	cmd.Flags().StringVar(&address, "listen", "127.0.0.1:8080", "address to listen on")
	cmd.Flags().StringVar(&dir, "demo-dir", "", "folder of the demo's own database")
	cmd.Flags().StringVar(&at, "now", "", "day the town stands on, like 2026-11-24")
	cmd.Flags().Uint64Var(&seed, "seed", 1, "number the town follows from")
	return cmd
}

// demosMark is the file by which a demo knows a folder that it made.
const demosMark = "fairlap-demo"

// clearDemo empties the folder of an earlier demo and marks it. Whatever else a folder
// holds is not a demo's to delete.
func clearDemo(dir string) error {
	held, err := os.ReadDir(dir)
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return fmt.Errorf("looking into the demo's folder: %w", err)
	}
	mark := filepath.Join(dir, demosMark)
	if _, err := os.Lstat(mark); err != nil && len(held) > 0 {
		return fmt.Errorf("--demo-dir: %s holds files that no demo made: name an empty folder, or a new one", dir)
	}
	if err := os.RemoveAll(dir); err != nil {
		return fmt.Errorf("clearing the last demo: %w", err)
	}
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return fmt.Errorf("making the demo's folder: %w", err)
	}
	if err := os.WriteFile(mark, []byte("A demo of Fair Lap made this folder and deletes it when it starts again.\n"), 0o644); err != nil {
		return fmt.Errorf("marking the demo's folder: %w", err)
	}
	return nil
}

func migrateCommand() *cobra.Command {
	var url string
	cmd := &cobra.Command{
		Use: "migrate", Short: "Bring the database's schema up to date", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			st, err := openStore(cmd.Context(), url)
			if err != nil {
				return err
			}
			defer st.Close()
			return st.Migrate(cmd.Context())
		},
	}
	cmd.Flags().StringVar(&url, "database-url", "", "PostgreSQL address")
	return cmd
}

func openapiCommand() *cobra.Command {
	return &cobra.Command{
		Use: "openapi", Short: "Print the HTTP contract (OpenAPI 3.1)", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			_, contract := api.New(app.New(nil, time.Now, company.World{}), api.Options{Version: "1"})
			text, err := contract.OpenAPI().YAML()
			if err != nil {
				return fmt.Errorf("writing the contract: %w", err)
			}
			_, err = cmd.OutOrStdout().Write(text)
			return err
		},
	}
}
