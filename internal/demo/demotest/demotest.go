// Package demotest gives tests a real PostgreSQL with the demo town in it: one
// server a test program, one database a test.
package demotest

import (
	"context"
	"fmt"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"fairlap/internal/app"
	"fairlap/internal/demo/stage"
	"fairlap/internal/store"
)

var open *stage.Stage

// Now is when the tests' town is: 10:42 on the day of stage.Day.
func Now() time.Time { return now }

var now = stage.Now()

// written is the day that the tests are written as of.
var written = time.Date(2026, 11, 24, 0, 0, 0, 0, time.UTC)

// On is a day of a test, like 2026-11-24, on the calendar of the day that the tests run as of.
func On(day string) string {
	at, err := time.Parse(time.DateOnly, day)
	if err != nil {
		panic(err)
	}
	now := time.Date(Now().Year(), Now().Month(), Now().Day(), 0, 0, 0, 0, time.UTC)
	return now.Add(at.Sub(written)).Format(time.DateOnly)
}

// At is a moment of a test by the town's clock, like 2026-11-24 10:42, as On gives its day.
func At(moment string) time.Time {
	day, clock, _ := strings.Cut(moment, " ")
	at, err := time.ParseInLocation("2006-01-02 15:04:05", On(day)+" "+clock, Now().Location())
	if err != nil {
		panic(err)
	}
	return at
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
