package api

import (
	"context"
	"fmt"
	"net/http"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/judge"
	"fairlap/internal/app/access"
	"fairlap/internal/app/route"
	"fairlap/internal/archive"
)

// A server with more work than it can do says so, and when to come again; reading goes on.
func TestTooMuchWorkAtOnceIsSentAwayAndReadingGoesOn(t *testing.T) {
	w := serve(t)
	tech := w.as("technician")
	var lap route.LapView
	tech.get("/api/v1/lap", &lap)
	leave, ok := w.line.Enter(context.Background(), time.Minute) // the one place is taken
	require.True(t, ok)
	waits := make(chan func())
	for range lineOfTests - 1 { // and many wait for it
		go func() {
			leave, _ := w.line.Enter(context.Background(), time.Minute)
			waits <- leave
		}()
	}
	require.Eventually(t, func() bool { return w.line.Inside() == lineOfTests }, 5*time.Second, time.Millisecond)
	found := judge.Findings{Readings: []judge.TypedReading{{Speed: "2400", Tank: "14"}}, Signs: map[string]bool{}}
	var p problemBody
	assert.Equal(
		t,
		http.StatusServiceUnavailable,
		tech.do("POST", "/api/v1/stops/"+lap.Stops[0].ID+"/diagnosis", found, &p),
	)
	res, err := tech.http.Post(
		w.server.URL+"/api/v1/stops/"+lap.Stops[0].ID+"/diagnosis",
		"application/json",
		strings.NewReader("{}"),
	)
	require.NoError(t, err)
	defer res.Body.Close()
	assert.Equal(t, http.StatusServiceUnavailable, res.StatusCode)
	assert.Equal(t, "2", res.Header.Get("Retry-After"))
	assert.Contains(t, p.Detail, "Too many people")
	assert.Equal(t, http.StatusOK, tech.do("GET", "/api/v1/pools/"+lap.Stops[0].PoolID, nil, nil))
	leave()
	for range lineOfTests - 1 {
		(<-waits)()
	}
	assert.Equal(t, http.StatusOK, tech.do("POST", "/api/v1/stops/"+lap.Stops[0].ID+"/diagnosis", found, nil))
}

// Before a server ends it says so to whoever sends requests to it, and goes on answering.
func TestAServerThatIsGoingSaysSo(t *testing.T) {
	w := serve(t)
	c := w.nobody()
	assert.Equal(t, http.StatusOK, c.do("GET", "/readyz", nil, nil))
	w.going.Store(true)
	res, err := http.Get(w.server.URL + "/readyz")
	require.NoError(t, err)
	defer res.Body.Close()
	assert.Equal(t, http.StatusServiceUnavailable, res.StatusCode)
	assert.True(t, res.Close, "its connections end with their answers")
	assert.Equal(t, http.StatusOK, c.do("GET", "/healthz", nil, nil))
	assert.Equal(t, http.StatusOK, w.as("technician").do("GET", "/api/v1/lap", nil, nil))
}

// Somebody who tries an account from many places slows strangers down: who signed in from their
// own place before still does, with the right password.
func TestAFloodOfTriesLocksNobodyOut(t *testing.T) {
	w := serve(t)
	password := "a long enough secret"
	w.other() // a person of that password
	ctx := context.Background()
	office := w.town.Service.Office
	require.NoError(t, office.MayTry(ctx, "other", "192.0.2.1"))
	_, err := office.SignIn(ctx, "other", password, "")
	require.NoError(t, err)
	require.NoError(t, office.Came(ctx, "other", "192.0.2.1"))
	refused := 0
	for i := range 200 {
		if office.MayTry(ctx, "OTHER ", fmt.Sprintf("198.51.100.%d", i)) != nil {
			refused++
		}
	}
	assert.GreaterOrEqual(t, refused, 170, "from everywhere together it is as slow as from one place")
	var soon access.TooSoon
	assert.ErrorAs(t, office.MayTry(ctx, "other", "203.0.113.7"), &soon)
	assert.Positive(t, soon.Wait)
	assert.NoError(t, office.MayTry(ctx, "other", "192.0.2.1"), "their own place is not held up")
	for range 40 {
		err = office.MayTry(ctx, "somebody", "192.0.2.9")
	}
	assert.ErrorAs(t, err, &soon)
}

// Archives that somebody reads slowly hold no connection to the database, and are two at most.
func TestAnArchiveThatIsReadSlowlyHoldsNobodyUp(t *testing.T) {
	w := serve(t)
	owner, ctx := w.as("owner"), context.Background()
	one, err := w.town.Service.Exchange.ExportArchive(ctx)
	require.NoError(t, err)
	two, err := w.town.Service.Exchange.ExportArchive(ctx)
	require.NoError(t, err)
	assert.Zero(t, w.town.Store.Pool.Stat().AcquiredConns(), "written out, and not read yet")
	res, err := owner.http.Get(w.server.URL + "/api/v1/archive")
	require.NoError(t, err)
	defer res.Body.Close()
	assert.Equal(t, http.StatusServiceUnavailable, res.StatusCode)
	assert.Equal(t, "60", res.Header.Get("Retry-After"))
	rows, sealed, err := archive.Verify(one)
	require.NoError(t, err)
	assert.True(t, sealed)
	assert.Greater(t, rows, 3000)
	require.NoError(t, one.Close())
	require.NoError(t, two.Close())
	_, err = os.Stat(two.Name())
	assert.ErrorIs(t, err, os.ErrNotExist, "nothing of it stays")
	assert.Equal(t, http.StatusOK, owner.do("GET", "/api/v1/archive", nil, nil), "whoever has read leaves their place")
}
