package main

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"time"

	"github.com/google/uuid"

	"fairlap/core/judge"
	"fairlap/internal/app/route"
	"fairlap/internal/app/visit"
	"fairlap/internal/clock"
	"fairlap/internal/store"
)

// asks is how often each page is asked for.
const asks = 100

// client is somebody at the server.
type client struct {
	http.Client
	url string
}

// ask asks for something and reads the whole of it.
func (c *client) ask(ctx context.Context, method, path string, body any) ([]byte, error) {
	text, err := json.Marshal(body)
	if err != nil {
		return nil, err
	}
	req, err := http.NewRequestWithContext(ctx, method, c.url+path, bytes.NewReader(text))
	if err != nil {
		return nil, err
	}
	req.Header.Set("Content-Type", "application/json")
	res, err := c.Do(req)
	if err != nil {
		return nil, err
	}
	defer res.Body.Close()
	got, err := io.ReadAll(res.Body)
	if err == nil && res.StatusCode >= http.StatusBadRequest {
		err = fmt.Errorf("%s %s: %s: %.200s", method, path, res.Status, got)
	}
	return got, err
}

// signIn waits for the server and signs somebody in.
func signIn(ctx context.Context, url, login string) (*client, error) {
	jar, err := cookiejar.New(nil)
	if err != nil {
		return nil, err
	}
	c := &client{http.Client{Jar: jar, Timeout: time.Minute}, url}
	for range 400 {
		if _, err = c.ask(ctx, http.MethodGet, "/readyz", nil); err == nil {
			break
		}
		time.Sleep(25 * time.Millisecond)
	}
	_, err = c.ask(ctx, http.MethodPost, "/api/v1/sign-in", map[string]string{"login": login, "password": password})
	return c, err
}

// serve starts the built program on one core and gives its address.
func serve(ctx context.Context, how options, db string) (*exec.Cmd, string, error) {
	cmd := exec.CommandContext(
		ctx,
		how.server,
		"serve",
		"--database-url",
		db,
		"--listen",
		"127.0.0.1:0",
		"--secure-cookie=false",
	)
	cmd.Cancel = func() error { return cmd.Process.Signal(syscall.SIGTERM) }
	cmd.Env = append(os.Environ(), "GOMAXPROCS=1")
	cmd.Stderr = io.Discard // a line an answer
	out, err := cmd.StdoutPipe()
	if err != nil {
		return nil, "", err
	}
	if err := cmd.Start(); err != nil {
		return nil, "", fmt.Errorf("starting the server: %w", err)
	}
	text := make([]byte, 200)
	n, err := out.Read(text)
	if err != nil {
		return cmd, "", fmt.Errorf("the server said nothing: %w", err)
	}
	go func() { _, _ = io.Copy(io.Discard, out) }()
	return cmd, regexp.MustCompile(`http://\S+`).FindString(string(text[:n])), nil
}

// memory is what the process holds, MB: now, and at most so far.
func memory(pid int) (now, most float64) {
	text, _ := os.ReadFile(fmt.Sprintf("/proc/%d/status", pid))
	for _, line := range strings.Split(string(text), "\n") {
		f := strings.Fields(line)
		if len(f) < 2 {
			continue
		}
		kb, _ := strconv.ParseFloat(f[1], 64)
		switch f[0] {
		case "VmRSS:":
			now = kb / 1024
		case "VmHWM:":
			most = kb / 1024
		}
	}
	return now, most
}

// question is a page that is asked for, another one each time.
type question struct {
	name string
	path func() string
}

func measure(ctx context.Context, st *store.Store, db string, how options) error {
	var pools []uuid.UUID
	rows, err := st.Pool.Query(ctx, "select id from pools where archived_at is null order by id")
	if err != nil {
		return err
	}
	for rows.Next() {
		var id [16]byte
		if err := rows.Scan(&id); err != nil {
			return err
		}
		pools = append(pools, id)
	}
	began := clock.Now()
	server, url, err := serve(ctx, how, db)
	if err != nil {
		return err
	}
	defer func() { _ = server.Process.Signal(syscall.SIGTERM); _ = server.Wait() }()
	var login string
	if err := st.Pool.QueryRow(ctx, "select login from users where role = 'office' limit 1").Scan(&login); err != nil {
		return err
	}
	desk, err := signIn(ctx, url, login)
	if err != nil {
		return err
	}
	if _, err := desk.ask(ctx, http.MethodGet, "/api/v1/week", nil); err != nil {
		return err
	}
	fmt.Printf("cold start to the first week: %.2f s\n", clock.Since(began).Seconds())
	chance := rand.New(rand.NewPCG(1, 2))
	var mu sync.Mutex
	pick := func() string {
		mu.Lock()
		defer mu.Unlock()
		return pools[chance.IntN(len(pools))].String()
	}
	dice := func(n int) int {
		mu.Lock()
		defer mu.Unlock()
		return chance.IntN(n)
	}
	fixed := func(path string) func() string { return func() string { return path } }
	questions := []question{
		{"week", func() string {
			return fmt.Sprintf("/api/v1/week?page=%d&week=%d", 1+dice(max(1, len(pools)/48/6)), 1+dice(3))
		}},
		{"week, first page", fixed("/api/v1/week")},
		{"pools", func() string { return fmt.Sprintf("/api/v1/pools?page=%d", 1+dice(len(pools)/50)) }},
		{
			"pools by load",
			func() string { return fmt.Sprintf("/api/v1/pools?sort=-load&page=%d", 1+dice(len(pools)/50)) },
		},
		{"pools by days", fixed("/api/v1/pools?sort=days")},
		{"pools over their limit", fixed("/api/v1/pools?only=over&sort=-load&size=6")},
		{"find", func() string { return fmt.Sprintf("/api/v1/pools?find=quince+%d", dice(100)) }},
		{"find a part", func() string { return fmt.Sprintf("/api/v1/pools?find=pleat+%d", dice(100)) }},
		{"parts", func() string { return fmt.Sprintf("/api/v1/parts?page=%d", 1+dice(20)) }},
		{"parts found", fixed("/api/v1/parts?find=sand")},
		{"a pool", func() string { return "/api/v1/pools/" + pick() }},
		{"its log", func() string { return "/api/v1/pools/" + pick() + "/log" }},
		{"its log, searched", func() string { return "/api/v1/pools/" + pick() + "/log?find=clean" }},
		{"its due work", func() string { return "/api/v1/pools/" + pick() + "/due" }},
		{"track record", fixed("/api/v1/track-record")},
	}
	fmt.Printf("\n%-24s %9s %9s %9s\n", "", "p50 ms", "p95 ms", "kB")
	for _, q := range questions {
		var took []float64
		size := 0
		for range asks {
			start := clock.Now()
			got, err := desk.ask(ctx, http.MethodGet, q.path(), nil)
			if err != nil {
				return err
			}
			took, size = append(took, float64(clock.Since(start).Microseconds())/1000), max(size, len(got))
		}
		slices.Sort(took)
		fmt.Printf("%-24s %9.1f %9.1f %9.0f\n", q.name, took[len(took)/2], took[len(took)*95/100], float64(size)/1000)
	}
	if err := visits(ctx, url); err != nil {
		return err
	}
	before, _ := memory(server.Process.Pid)
	n, err := mixed(ctx, desk, questions, how.mixed)
	if err != nil {
		return err
	}
	after, most := memory(server.Process.Pid)
	fmt.Printf(
		"\nmemory: %.0f MB; after %v of mixed use by eight (%d answers) %.0f MB, at most %.0f MB\n",
		before,
		how.mixed,
		n,
		after,
		most,
	)
	return nil
}

// visits logs a visit at stops of some technicians' laps and tells how long each took.
func visits(ctx context.Context, url string) error {
	var took []float64
	for k := 1; k <= 6; k++ {
		tech, err := signIn(ctx, url, fmt.Sprint("t", k))
		if err != nil {
			return err
		}
		got, err := tech.ask(ctx, http.MethodGet, "/api/v1/lap", nil)
		if err != nil {
			return err
		}
		var lap route.LapView
		if err := json.Unmarshal(got, &lap); err != nil {
			return err
		}
		for _, s := range lap.Stops {
			now := clock.Now()
			d := visit.VisitDraft{
				ID: uuid.Must(
					uuid.NewV7(),
				), StopID: uuid.MustParse(s.ID), ArrivedAt: now.Add(-time.Minute), ClosedAt: now,
				Findings: judge.Findings{
					Readings: []judge.TypedReading{{Speed: "2400", Tank: "14"}},
					Signs:    map[string]bool{},
				}, Works: []visit.Work{},
			}
			start := clock.Now()
			if _, err := tech.ask(ctx, http.MethodPost, "/api/v1/visits", d); err != nil {
				return err
			}
			took = append(took, float64(clock.Since(start).Microseconds())/1000)
		}
	}
	if len(took) == 0 {
		fmt.Println("\nnobody has a stop today: no visit was logged")
		return nil
	}
	slices.Sort(took)
	fmt.Printf(
		"%-24s %9.1f %9.1f   (%d, each judged, kept, its standing and due work moved on)\n",
		"log a visit",
		took[len(took)/2],
		took[len(took)*95/100],
		len(took),
	)
	return nil
}

// mixed asks everything at once for a time and gives how many answers there were.
func mixed(ctx context.Context, c *client, questions []question, long time.Duration) (int64, error) {
	ctx, stop := context.WithTimeout(ctx, long)
	defer stop()
	var n atomic.Int64
	var wait sync.WaitGroup
	failed := make(chan error, 8)
	for range cap(failed) {
		wait.Go(func() {
			for i := 0; ctx.Err() == nil; i++ {
				if _, err := c.ask(ctx, http.MethodGet, questions[i%len(questions)].path(), nil); err != nil &&
					ctx.Err() == nil {
					failed <- err
					return
				}
				n.Add(1)
			}
		})
	}
	wait.Wait()
	select {
	case err := <-failed:
		return n.Load(), err
	default:
		return n.Load(), nil
	}
}
