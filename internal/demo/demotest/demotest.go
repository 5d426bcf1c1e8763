// Package demotest gives tests a real PostgreSQL with the demo town in it: one
// server a test program, one database a test.
package demotest

import (
	"context"
	"fmt"
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"fairlap/internal/app"
	"fairlap/internal/demo/stage"
	"fairlap/internal/store"
)

var open *stage.Stage

// Now is when the tests' town is: 10:42 on the day of stage.Day.
func Now() time.Time {
	d := stage.Day
	return time.Date(d.Year(), d.Month(), d.Day(), 10, 42, 0, 0, d.Location())
}

// Main runs a package's tests with a server beside them; call it from TestMain.
func Main(m *testing.M) {
	var err error
	if open, err = stage.Open(context.Background(), Now()); err != nil {
		fmt.Fprintln(os.Stderr, "starting PostgreSQL for the tests:", err)
		os.Exit(1)
	}
	code := m.Run()
	open.Close()
	os.Exit(code)
}

// Empty is a migrated database with nothing in it.
func Empty(t testing.TB) *store.Store {
	c, err := open.Empty()
	require.NoError(t, err)
	t.Cleanup(c.Drop)
	return c.Store
}

// Fixture is a demo town of a test's own.
type Fixture struct {
	Store   *store.Store
	Service *app.Rooms
	URL     string // of its database
}

// Town is a demo town of a test's own, standing at Now.
func Town(t testing.TB) Fixture {
	c, err := open.Town()
	require.NoError(t, err)
	t.Cleanup(c.Drop)
	return Fixture{c.Store, app.New(c.Store, Now, c.World), c.URL}
}
