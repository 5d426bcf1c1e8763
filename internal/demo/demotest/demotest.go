// Package demotest gives tests a real PostgreSQL with the demo town in it: one
// server a test program, one database a test.
package demotest

import (
	"context"
	"fmt"
	"os"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"fairlap/internal/app"
	"fairlap/internal/demo"
	"fairlap/internal/localdb"
	"fairlap/internal/store"
)

var (
	server  *localdb.DB
	counter atomic.Int64
	empty   = sync.OnceValue(func() error { return template("template_empty", nil) })
	world   app.World
	town    = sync.OnceValue(func() error {
		return template("template_town", func(st *store.Store) (err error) {
			world, err = demo.Load(context.Background(), st, 1, Now())
			return err
		})
	})
)

// Now is when the tests' town stands: 24 November 2026, 10:42.
func Now() time.Time {
	zone, err := time.LoadLocation(demo.Zone)
	if err != nil {
		panic(err)
	}
	return time.Date(2026, 11, 24, 10, 42, 0, 0, zone)
}

// Main runs a package's tests with a server beside them; call it from TestMain.
func Main(m *testing.M) {
	var err error
	if server, err = localdb.Start(context.Background(), localdb.Options{Fast: true}); err != nil {
		fmt.Fprintln(os.Stderr, "starting PostgreSQL for the tests:", err)
		os.Exit(1)
	}
	code := m.Run()
	server.Stop()
	os.Exit(code)
}

func template(name string, fill func(*store.Store) error) error {
	ctx := context.Background()
	if err := server.Create(ctx, name, ""); err != nil {
		return err
	}
	st, err := store.Open(ctx, server.Address(name))
	if err != nil {
		return err
	}
	defer st.Close() // a template must have no connection left
	if err := st.Migrate(ctx); err != nil || fill == nil {
		return err
	}
	return fill(st)
}

func copyOf(t testing.TB, name string) (*store.Store, string) {
	db := fmt.Sprintf("test_%d", counter.Add(1))
	require.NoError(t, server.Create(context.Background(), db, name))
	st, err := store.Open(context.Background(), server.Address(db))
	require.NoError(t, err)
	t.Cleanup(st.Close)
	return st, server.Address(db)
}

// Empty is a migrated database with nothing in it.
func Empty(t testing.TB) *store.Store {
	require.NoError(t, empty())
	st, _ := copyOf(t, "template_empty")
	return st
}

// Fixture is a demo town of a test's own.
type Fixture struct {
	Store   *store.Store
	Service *app.Service
	URL     string // of its database
}

// Town is a demo town of a test's own, standing at Now.
func Town(t testing.TB) Fixture {
	require.NoError(t, town())
	st, url := copyOf(t, "template_town")
	return Fixture{st, app.New(st, Now, world), url}
}
