package main

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"net/http/pprof"
	"net/netip"
	"os"
	"path/filepath"
	"sync/atomic"
	"time"

	"github.com/coreos/go-systemd/v22/daemon"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/spf13/cobra"

	"fairlap/internal/api"
	"fairlap/internal/app"
	"fairlap/internal/app/company"
	"fairlap/internal/clock"
	"fairlap/internal/demo"
	"fairlap/internal/gate"
	"fairlap/internal/localdb"
	"fairlap/internal/queue"
	"fairlap/internal/store"
	"fairlap/web"
)

// demoDrain is how long requests under way may take when a demo ends.
const demoDrain = 5 * time.Second

func newLog() *slog.Logger { return slog.New(slog.NewJSONHandler(os.Stderr, nil)) }

func serveCommand() *cobra.Command {
	var where database
	var how serving
	cmd := where.pictureFlags(&cobra.Command{
		Use: "serve", Short: "Serve the company's record", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			var with []func(*pgxpool.Config)
			if how.traces != "" {
				end, err := traced(how.traces)
				if err != nil {
					return err
				}
				defer func() { _ = end(context.WithoutCancel(cmd.Context())) }()
				with = append(with, store.Traced)
			}
			st, err := where.open(cmd.Context(), with...)
			if err != nil {
				return err
			}
			defer st.Close()
			if err := st.Migrate(cmd.Context()); err != nil {
				return err
			}
			return listen(cmd, st, app.New(st, clock.Now, company.World{Tiles: how.tiles}), how, nil)
		},
	})
	cmd.Flags().StringVar(&how.address, "listen", "127.0.0.1:8080", "address to listen on")
	cmd.Flags().
		StringVar(&how.metrics, "metrics-listen", "", "address to show metrics and profiles at, for whoever keeps the machine alone; without one there are none")
	cmd.Flags().
		StringVar(&how.traces, "trace-to", "", "address to send traces to (OTLP over HTTP, like http://127.0.0.1:4318/v1/traces); without one there are none")
	cmd.Flags().
		StringSliceVar(&how.proxies, "trusted-proxy", nil, "address or range of a proxy that says where requests come from, like 10.0.0.0/8")
	cmd.Flags().
		StringVar(&how.tiles, "map-tiles", "", "address of a map's tiles, like https://tiles.example/{z}/{x}/{y}.png; without one the streets alone are drawn")
	cmd.Flags().
		DurationVar(&how.leave, "leave-wait", 0, "how long to go on serving after being asked to end, until proxies have seen /readyz say so")
	cmd.Flags().DurationVar(&how.drain, "drain", 30*time.Second, "how long what was begun may take to end then")
	cmd.Flags().
		BoolVar(&how.pooler, "pooler", false, "the database is behind a pooler of transactions: ask for jobs instead of listening")
	cmd.Flags().BoolVar(&how.secure, "secure-cookie", true, "send the session cookie over HTTPS only")
	return cmd
}

// serving says where and how to listen.
type serving struct {
	address, metrics, tiles string
	traces                  string
	proxies                 []string
	secure, pooler          bool
	leave, drain            time.Duration
}

// trusted reads the proxies: addresses, or ranges of them.
func (h *serving) trusted() ([]netip.Prefix, error) {
	out := make([]netip.Prefix, 0, len(h.proxies))
	for _, text := range h.proxies {
		p, err := netip.ParsePrefix(text)
		if err != nil {
			at, bad := netip.ParseAddr(text)
			if bad != nil {
				return nil, fmt.Errorf("--trusted-proxy: %q is no address, and no range like 10.0.0.0/8", text)
			}
			p = netip.PrefixFrom(at, at.BitLen())
		}
		out = append(out, p)
	}
	return out, nil
}

// watch shows metrics and profiles on a listener of their own until the server ends.
func watch(address string, m *gate.Metrics) (*http.Server, error) {
	l, err := net.Listen("tcp", address)
	if err != nil {
		return nil, fmt.Errorf("--metrics-listen: %w", err)
	}
	mux := http.NewServeMux()
	mux.Handle("GET /metrics", m.Handler())
	mux.HandleFunc("GET /debug/pprof/", pprof.Index)
	mux.HandleFunc("GET /debug/pprof/profile", pprof.Profile)
	mux.HandleFunc("GET /debug/pprof/trace", pprof.Trace)
	s := &http.Server{Handler: mux, ReadHeaderTimeout: 10 * time.Second}
	go func() { _ = s.Serve(l) }() // it ends with the server
	return s, nil
}

// listen serves until the command's context ends.
func listen(cmd *cobra.Command, st *store.Store, svc *app.Rooms, how serving, ready func(url string)) error {
	dist, err := fs.Sub(web.Dist, "dist")
	if err != nil {
		return fmt.Errorf("the built front end: %w", err)
	}
	proxies, err := how.trusted()
	if err != nil {
		return err
	}
	var going atomic.Bool
	options := api.Options{
		Going:    &going,
		Version:  version,
		Assets:   dist,
		Log:      newLog(),
		Secure:   how.secure,
		Sessions: st.Pool,
		Tiles:    how.tiles,
		Proxies:  proxies,
		Metrics:  gate.NewMetrics(),
		Traced:   how.traces != "",
	}
	quiet := slog.New(
		slog.NewJSONHandler(os.Stderr, &slog.HandlerOptions{Level: slog.LevelWarn}),
	) // a line a job would be many
	jobs, err := queue.New(st.Pool, svc, queue.Options{Log: quiet, Poll: how.pooler})
	if err != nil {
		return err
	}
	options.Jobs = jobs
	for _, state := range queue.States() {
		options.Metrics.Watch(
			"fairlap_jobs",
			"Jobs by how they stand.",
			prometheus.Labels{"state": state},
			func(ctx context.Context) (float64, error) { return jobs.Count(ctx, state) },
		)
	}
	options.Metrics.Watch(
		"fairlap_pools_behind",
		"Pools whose row is behind their record, up to a hundred.",
		nil,
		svc.Standing.Behind,
	)
	handler, _ := api.New(svc, options)
	if how.metrics != "" {
		s, err := watch(how.metrics, options.Metrics)
		if err != nil {
			return err
		}
		defer s.Close()
	}
	l, err := net.Listen("tcp", how.address)
	if err != nil {
		return fmt.Errorf("listening: %w", err)
	}
	server := &http.Server{
		Handler:           handler,
		ReadHeaderTimeout: 10 * time.Second,
		ReadTimeout:       30 * time.Second,
		IdleTimeout:       2 * time.Minute,
	}
	if err := jobs.Start(context.WithoutCancel(cmd.Context())); err != nil {
		return err
	}
	failed := make(chan error, 1)
	go func() { failed <- server.Serve(l) }()
	url := "http://" + l.Addr().String()
	fmt.Fprintln(cmd.OutOrStdout(), "Fair Lap is at", url)
	if ready != nil {
		ready(url)
	}
	if code, err := svc.Office.SetupCode(cmd.Context()); err != nil {
		return err
	} else if code != "" {
		fmt.Fprintf(cmd.OutOrStdout(), "There is no company yet. Open %s and set it up with the code %s\n", url, code)
	}
	if _, err := daemon.SdNotify(false, daemon.SdNotifyReady); err != nil { // nothing where nobody asked
		return fmt.Errorf("saying that requests may come: %w", err)
	}
	select {
	case err := <-failed:
		return fmt.Errorf("serving: %w", err)
	case <-cmd.Context().Done():
	}
	going.Store(true)
	select { // whoever sends requests here looks at /readyz, and stops
	case <-time.After(how.leave):
	case err := <-failed:
		return fmt.Errorf("serving: %w", err)
	}
	ctx, cancel := context.WithTimeout(context.Background(), how.drain)
	defer cancel()
	err = server.Shutdown(ctx)
	if err = errors.Join(err, jobs.Stop(ctx)); err != nil {
		return fmt.Errorf("ending: %w", err)
	}
	return nil
}

func demoCommand() *cobra.Command {
	var url, address, dir, at string
	var open bool
	var seed uint64
	cmd := &cobra.Command{
		Use: "demo", Short: "Serve the made-up town of Pellam Ridge on a database of its own", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			ctx := cmd.Context()
			if !open && !loopback(address) {
				return fmt.Errorf(
					"--listen: at %s anybody on the network could be the demo's owner without a password; say --open to mean that",
					address,
				)
			}
			now := clock.Now()
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
			st, err := store.Open(ctx, url)
			if err != nil {
				return err
			}
			defer st.Close()
			if err := st.Migrate(ctx); err != nil {
				return err
			}
			clock := demo.Clock(demo.Today(now))
			world, err := demo.Load(ctx, st, seed, clock())
			if err != nil {
				return err
			}
			return listen(
				cmd,
				st,
				app.New(st, clock, world),
				serving{drain: demoDrain, address: address},
				func(string) {
					fmt.Fprintln(
						cmd.OutOrStdout(),
						"This is a demo: sign in there by role, no password. Ctrl-C ends it.",
					)
				},
			)
		},
	}
	cmd.Flags().StringVar(&url, "database-url", "", "PostgreSQL address; without one the demo starts its own")
	cmd.Flags().StringVar(&address, "listen", "127.0.0.1:8080", "address to listen on")
	cmd.Flags().BoolVar(&open, "open", false, "let others on the network in, without a password")
	cmd.Flags().StringVar(&dir, "demo-dir", "", "folder of the demo's own database")
	cmd.Flags().StringVar(&at, "now", "", "day the town stands on, like 2026-11-24")
	cmd.Flags().Uint64Var(&seed, "seed", 1, "number the town follows from")
	return cmd
}

// loopback tells whether an address is reached from this machine alone.
func loopback(address string) bool {
	host, _, err := net.SplitHostPort(address)
	at, bad := netip.ParseAddr(host)
	return err == nil && (host == "localhost" || bad == nil && at.IsLoopback())
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
	var where database
	return where.flags(&cobra.Command{
		Use: "migrate", Short: "Bring the database's schema up to date", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			st, err := where.open(cmd.Context())
			if err != nil {
				return err
			}
			defer st.Close()
			return st.Migrate(cmd.Context())
		},
	})
}

func openapiCommand() *cobra.Command {
	return &cobra.Command{
		Use: "openapi", Short: "Print the HTTP contract (OpenAPI 3.1)", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			_, contract := api.New(app.New(nil, clock.Now, company.World{}), api.Options{Version: "1"})
			text, err := contract.OpenAPI().YAML()
			if err != nil {
				return fmt.Errorf("writing the contract: %w", err)
			}
			_, err = cmd.OutOrStdout().Write(text)
			return err
		},
	}
}
