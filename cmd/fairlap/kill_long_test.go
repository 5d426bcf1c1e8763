//go:build long

package main

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/judge"
	"fairlap/internal/app/route"
	"fairlap/internal/app/visit"
	"fairlap/internal/localdb"
	"fairlap/internal/store"
)

// The server is killed outright in the middle of saves; after a restart every
// visit that it acknowledged is on record, once.
func TestKilledInTheMiddleOfSavesLosesNothingAcknowledged(t *testing.T) {
	ctx := context.Background()
	bin := filepath.Join(t.TempDir(), "fairlap")
	build := exec.Command("go", "build", "-o", bin, ".")
	out, err := build.CombinedOutput()
	require.NoError(t, err, string(out))
	db, err := localdb.Start(ctx, localdb.Options{}) // durable: fsync on
	require.NoError(t, err)
	defer db.Stop()

	p := start(t, bin, db.URL)
	defer func() { _ = p.cmd.Process.Kill() }()
	c := signIn(t, p.url)
	res, err := c.Get(p.url + "/api/v1/lap")
	require.NoError(t, err)
	var lap route.LapView
	require.NoError(t, json.NewDecoder(res.Body).Decode(&lap))
	res.Body.Close()

	var mu sync.Mutex
	acknowledged, tried := map[uuid.UUID]bool{}, map[uuid.UUID]visit.VisitDraft{}
	var wg sync.WaitGroup
	killed := make(chan struct{})
	for w := range 4 {
		wg.Add(1)
		go func() {
			defer wg.Done()
			for i := 0; ; i++ {
				select {
				case <-killed:
					return
				default:
				}
				d := visit.VisitDraft{
					ID:        uuid.Must(uuid.NewV7()),
					StopID:    uuid.MustParse(lap.Stops[(w+i)%9].ID),
					ArrivedAt: lap.StartsAt,
					ClosedAt:  lap.StartsAt.Add(time.Minute),
					Findings: judge.Findings{
						Readings: []judge.TypedReading{{Speed: "2400", Tank: "12"}},
						Signs:    map[string]bool{},
					},
					Works: []visit.Work{},
					Note:  fmt.Sprint(w, i),
				}
				b, _ := json.Marshal(d)
				mu.Lock()
				tried[d.ID] = d
				mu.Unlock()
				res, err := c.Post(p.url+"/api/v1/visits", "application/json", bytes.NewReader(b))
				if err != nil {
					return
				}
				res.Body.Close()
				if res.StatusCode == http.StatusOK {
					mu.Lock()
					acknowledged[d.ID] = true
					mu.Unlock()
				}
			}
		}()
	}
	require.Eventually(
		t,
		func() bool { mu.Lock(); defer mu.Unlock(); return len(acknowledged) > 25 },
		60*time.Second,
		5*time.Millisecond,
	)
	require.NoError(t, p.cmd.Process.Signal(syscall.SIGKILL))
	_ = p.cmd.Wait()
	close(killed)
	wg.Wait()

	p = start(t, bin, db.URL)
	c = signIn(t, p.url)
	// A phone that had no answer sends again; that may not double anything.
	for id, d := range tried {
		if acknowledged[id] {
			continue
		}
		b, _ := json.Marshal(d)
		res, err := c.Post(p.url+"/api/v1/visits", "application/json", bytes.NewReader(b))
		require.NoError(t, err)
		assert.Equal(t, http.StatusOK, res.StatusCode)
		res.Body.Close()
	}
	st, err := store.Open(ctx, db.URL)
	require.NoError(t, err)
	defer st.Close()
	for id := range tried {
		var n, readings int
		require.NoError(t, st.Pool.QueryRow(ctx, "select count(*) from visits where id = $1", id).Scan(&n))
		require.NoError(
			t,
			st.Pool.QueryRow(ctx, "select count(*) from visit_readings where visit_id = $1", id).Scan(&readings),
		)
		assert.Equal(t, 1, n, "%s, acknowledged: %v", id, acknowledged[id])
		assert.Equal(t, 1, readings, "a visit is kept whole")
	}
	t.Logf("%d acknowledged before the kill, %d tried; all there once", len(acknowledged), len(tried))
	require.NoError(t, p.cmd.Process.Signal(os.Interrupt))
	assert.NoError(t, p.cmd.Wait(), "Ctrl-C ends it cleanly")
}

// process is the real binary, serving.
type process struct {
	cmd *exec.Cmd
	url string
}

func start(t *testing.T, bin, database string) *process {
	cmd := exec.Command(bin, "demo", "--database-url", database, "--listen", "127.0.0.1:0")
	cmd.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGKILL}
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, cmd.Start())
	lines := bufio.NewScanner(out)
	require.True(t, lines.Scan(), "the server said nothing")
	_, url, ok := strings.Cut(lines.Text(), " at ")
	require.True(t, ok, lines.Text())
	go func() {
		for lines.Scan() {
		}
	}()
	return &process{cmd, url}
}

func signIn(t *testing.T, url string) *http.Client {
	jar, _ := cookiejar.New(nil)
	c := &http.Client{Jar: jar, Timeout: 20 * time.Second}
	res, err := c.Post(url+"/api/v1/demo/sign-in", "application/json", strings.NewReader(`{"role":"technician"}`))
	require.NoError(t, err)
	require.Equal(t, http.StatusOK, res.StatusCode)
	res.Body.Close()
	return c
}
