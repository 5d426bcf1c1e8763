//go:build long

package main

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/judge"
	"fairlap/internal/app/office"
	"fairlap/internal/app/route"
	"fairlap/internal/app/visit"
	"fairlap/internal/clock"
	"fairlap/internal/demo"
	"fairlap/internal/localdb"
	"fairlap/internal/store"
)

// several are two servers of one company behind a proxy, on a durable database.
type several struct {
	t       *testing.T
	bin     string
	db      *localdb.DB
	dir     string
	ports   [2]int
	watch   string // where the proxy tells how the servers stand
	servers [2]*exec.Cmd
	proxy   *exec.Cmd
	url     string // of the proxy
	pooled  string // the database through a pooler, where the servers go through one
	stops   []string
	client  *http.Client
}

const everybodysPassword = "seven herons wade slowly"

func freePorts(t *testing.T, n int) []int {
	var out []int
	for range n {
		l, err := net.Listen("tcp", "127.0.0.1:0")
		require.NoError(t, err)
		defer l.Close()
		out = append(out, l.Addr().(*net.TCPAddr).Port)
	}
	return out
}

// proxied is how the proxy is told to look after its servers: one that says at /readyz that it
// is going is asked no more, and what could not be delivered goes to the other.
const proxied = `
global
  log stdout format raw local0 err
defaults
  mode http
  timeout connect 2s
  timeout client 60s
  timeout server 60s
  timeout queue 20s
  timeout check 5s
  retries 8
  option redispatch 1
  retry-on conn-failure empty-response 503
  option httpchk GET /readyz
  default-server check inter 100ms fastinter 50ms fall 1 rise 1
frontend all
  bind 127.0.0.1:%d
  default_backend servers
backend servers
  server one 127.0.0.1:%d
  server two 127.0.0.1:%d
listen watch
  bind 127.0.0.1:%d
  stats enable
  stats uri /
`

func startSeveral(t *testing.T) *several { return startSeveralBy(t, false) }

func startSeveralBy(t *testing.T, pooler bool) *several {
	haproxy, err := exec.LookPath("haproxy")
	if err != nil {
		haproxy = "/usr/sbin/haproxy"
	}
	s := &several{t: t, bin: filepath.Join(t.TempDir(), "fairlap"), dir: t.TempDir()}
	out, err := exec.Command("go", "build", "-o", s.bin, ".").CombinedOutput()
	require.NoError(t, err, string(out))
	require.NoError(t, os.Chmod(filepath.Dir(s.dir), 0o755)) // PostgreSQL runs as another user
	s.db, err = localdb.Start(context.Background(), localdb.Options{Dir: s.dir})
	require.NoError(t, err)
	t.Cleanup(func() { s.db.Stop() })
	s.load()
	if pooler {
		s.pool()
	}
	ports := freePorts(t, 4)
	s.ports, s.url = [2]int{ports[0], ports[1]}, fmt.Sprintf("http://127.0.0.1:%d", ports[2])
	s.watch = fmt.Sprintf("http://127.0.0.1:%d/;csv", ports[3])
	for i := range s.servers {
		s.start(i)
		t.Cleanup(func() { _ = s.servers[i].Process.Kill(); _ = s.servers[i].Wait() })
	}
	conf := filepath.Join(t.TempDir(), "haproxy.cfg")
	require.NoError(t, os.WriteFile(conf, fmt.Appendf(nil, proxied, ports[2], ports[0], ports[1], ports[3]), 0o600))
	s.proxy = exec.Command(haproxy, "-db", "-f", conf)
	s.proxy.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGKILL}
	require.NoError(t, s.proxy.Start(), "install haproxy: make .make/system does")
	t.Cleanup(func() { _ = s.proxy.Process.Kill(); _ = s.proxy.Wait() })
	for i := range s.servers {
		s.ready(i)
	}
	s.seen()
	jar, _ := cookiejar.New(nil)
	s.client = &http.Client{Jar: jar, Timeout: 30 * time.Second, Transport: &http.Transport{MaxIdleConnsPerHost: 16}}
	require.Eventually(t, func() bool {
		status, _, err := s.ask(
			"POST",
			"/api/v1/sign-in",
			map[string]string{"login": "brandt", "password": everybodysPassword},
		)
		return err == nil && status == http.StatusOK
	}, 20*time.Second, 200*time.Millisecond)
	return s
}

// load puts the made-up town there, and gives everybody a password.
func (s *several) load() {
	st, err := store.Open(context.Background(), s.db.URL)
	require.NoError(s.t, err)
	defer st.Close()
	require.NoError(s.t, st.Migrate(context.Background()))
	_, err = demo.Load(context.Background(), st, 1, clock.Now())
	require.NoError(s.t, err)
	_, err = st.Pool.Exec(
		context.Background(),
		"update users set password_hash = $1",
		office.HashPassword(everybodysPassword),
	)
	require.NoError(s.t, err)
	rows, err := st.Pool.Query(
		context.Background(),
		"select s.id::text from stops s join laps l on l.id = s.lap_id join users u on u.id = l.technician_id where u.login = 'brandt' order by l.day desc, s.position limit 9",
	)
	require.NoError(s.t, err)
	for rows.Next() {
		var id string
		require.NoError(s.t, rows.Scan(&id))
		s.stops = append(s.stops, id)
	}
	require.NotEmpty(s.t, s.stops)
}

func (s *several) start(i int) {
	database := s.db.URL
	args := []string{}
	if s.pooled != "" {
		database, args = s.pooled, []string{"--pooler"}
	}
	cmd := exec.Command(
		s.bin,
		append(
			[]string{
				"serve",
				"--database-url",
				database,
				"--listen",
				fmt.Sprintf("127.0.0.1:%d", s.ports[i]),
				"--secure-cookie=false",
				"--leave-wait",
				"1500ms",
				"--trusted-proxy",
				"127.0.0.1",
			},
			args...)...)
	cmd.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGKILL}
	cmd.Stderr = io.Discard
	out, err := cmd.StdoutPipe()
	require.NoError(s.t, err)
	require.NoError(s.t, cmd.Start())
	go func() {
		for lines := bufio.NewScanner(out); lines.Scan(); {
		}
	}()
	s.servers[i] = cmd
}

// ready waits until a server says so itself.
func (s *several) ready(i int) {
	require.Eventually(s.t, func() bool {
		res, err := http.Get(fmt.Sprintf("http://127.0.0.1:%d/readyz", s.ports[i]))
		if err != nil {
			return false
		}
		defer res.Body.Close()
		return res.StatusCode == http.StatusOK
	}, 30*time.Second, 50*time.Millisecond)
}

// seen waits until the proxy has seen that both servers are ready.
func (s *several) seen() {
	require.Eventually(s.t, func() bool {
		res, err := http.Get(s.watch)
		if err != nil {
			return false
		}
		defer res.Body.Close()
		text, _ := io.ReadAll(res.Body)
		up := 0
		for line := range strings.Lines(string(text)) {
			if f := strings.Split(line, ","); len(f) > 17 && f[0] == "servers" && (f[1] == "one" || f[1] == "two") &&
				f[17] == "UP" {
				up++
			}
		}
		return up == 2
	}, 30*time.Second, 50*time.Millisecond)
}

func (s *several) ask(method, path string, body any) (int, []byte, error) {
	text, _ := json.Marshal(body)
	var in io.Reader = bytes.NewReader(text)
	if method == http.MethodGet {
		in = nil
	}
	req, err := http.NewRequest(method, s.url+path, in)
	if err != nil {
		return 0, nil, err
	}
	req.Header.Set("Content-Type", "application/json")
	res, err := s.client.Do(req)
	if err != nil {
		return 0, nil, err
	}
	defer res.Body.Close()
	got, err := io.ReadAll(res.Body)
	return res.StatusCode, got, err
}

// draft is a visit at one of the stops.
func (s *several) draft(n int) visit.VisitDraft {
	now := clock.Now()
	return visit.VisitDraft{
		ID: uuid.Must(
			uuid.NewV7(),
		), StopID: uuid.MustParse(s.stops[n%len(s.stops)]), ArrivedAt: now.Add(-time.Minute), ClosedAt: now,
		Findings: judge.Findings{
			Readings: []judge.TypedReading{{Speed: "2400", Tank: "12"}},
			Signs:    map[string]bool{},
		}, Works: []visit.Work{}, Note: strconv.Itoa(n),
	}
}

// both servers are replaced one after the other, again and again, while people work: not one
// request is lost, those that take long to send among them.
func TestReplacingServersLosesNoRequest(t *testing.T) {
	s := startSeveral(t)
	status, got, err := s.ask("GET", "/api/v1/lap", nil)
	require.NoError(t, err)
	require.Equal(t, http.StatusOK, status, string(got))
	var lap route.LapView
	require.NoError(t, json.Unmarshal(got, &lap))
	const enough = 5000
	var asked, failed atomic.Int64
	var first atomic.Value
	stop := make(chan struct{})
	var wait sync.WaitGroup
	note := func(what string, status int, body []byte, err error) {
		asked.Add(1)
		if err != nil || status != http.StatusOK {
			failed.Add(1)
			first.CompareAndSwap(nil, fmt.Sprintf("%s: %d %v %.200s", what, status, err, body))
		}
	}
	for w := range 8 {
		wait.Go(func() {
			for n := w; ; n++ {
				select {
				case <-stop:
					return
				default:
				}
				switch {
				case n%40 == 0:
					status, body, err := s.ask("POST", "/api/v1/visits", s.draft(n))
					note("a visit", status, body, err)
				case n%3 == 0:
					status, body, err := s.ask("GET", "/api/v1/pools?size=10", nil)
					note("pools", status, body, err)
				default:
					status, body, err := s.ask("GET", "/api/v1/me", nil)
					note("me", status, body, err)
				}
			}
		})
	}
	wait.Go(func() { // somebody on a slow line
		for n := 0; ; n++ {
			select {
			case <-stop:
				return
			default:
			}
			status, body, err := s.slowly("/api/v1/visits", s.draft(n), 400*time.Millisecond)
			note("a visit on a slow line", status, body, err)
		}
	})
	replaced := 0
	for ; asked.Load() < enough || replaced < 4; replaced++ {
		i := replaced % 2
		require.NoError(t, s.servers[i].Process.Signal(syscall.SIGTERM))
		require.NoError(t, s.servers[i].Wait(), "it ends by itself")
		s.start(i)
		s.ready(i)
		s.seen()
	}
	close(stop)
	wait.Wait()
	assert.Zero(t, failed.Load(), "%v", first.Load())
	t.Logf("%d requests while servers were replaced %d times: %d failed", asked.Load(), replaced, failed.Load())
}

// slowly sends a body in pieces over a time.
func (s *several) slowly(path string, body any, over time.Duration) (int, []byte, error) {
	text, _ := json.Marshal(body)
	in, out := io.Pipe()
	go func() {
		for piece := range chunks(text, 8) {
			time.Sleep(over / 8)
			if _, err := out.Write(piece); err != nil {
				return
			}
		}
		_ = out.Close()
	}()
	req, err := http.NewRequest(http.MethodPost, s.url+path, in)
	if err != nil {
		return 0, nil, err
	}
	req.ContentLength = int64(len(text))
	req.Header.Set("Content-Type", "application/json")
	res, err := s.client.Do(req)
	if err != nil {
		return 0, nil, err
	}
	defer res.Body.Close()
	got, err := io.ReadAll(res.Body)
	return res.StatusCode, got, err
}

func chunks(text []byte, n int) func(func([]byte) bool) {
	return func(yield func([]byte) bool) {
		size := (len(text) + n - 1) / n
		for len(text) > 0 {
			k := min(size, len(text))
			if !yield(text[:k]) {
				return
			}
			text = text[k:]
		}
	}
}

// kills is how often something is killed; make chaos says more.
func kills(t *testing.T) int {
	if text := os.Getenv("KILLS"); text != "" {
		n, err := strconv.Atoi(text)
		require.NoError(t, err)
		return n
	}
	return 8
}

// Servers and the database are killed outright while eight people log visits through the
// proxy: what was acknowledged is on record once, whole, with its pool's row moved on, and
// what was not, sent again, is there once too.
func TestWhateverIsKilledWhatWasAcknowledgedIsThereOnce(t *testing.T) {
	s := startSeveral(t)
	var mu sync.Mutex
	tried, acknowledged := map[uuid.UUID]visit.VisitDraft{}, map[uuid.UUID]bool{}
	stop := make(chan struct{})
	var wait sync.WaitGroup
	for w := range 8 {
		wait.Go(func() {
			for n := w; ; n++ {
				d := s.draft(n)
				mu.Lock()
				tried[d.ID] = d
				mu.Unlock()
				for again := 0; ; again++ { // a phone sends until it has an answer
					status, _, err := s.ask("POST", "/api/v1/visits", d)
					if err == nil && status == http.StatusOK {
						mu.Lock()
						acknowledged[d.ID] = true
						mu.Unlock()
						break
					}
					select {
					case <-stop:
						return
					case <-time.After(100 * time.Millisecond):
					}
				}
				select {
				case <-stop:
					return
				default:
				}
			}
		})
	}
	chance := rand.New(rand.NewPCG(22, 7))
	count := func() int { mu.Lock(); defer mu.Unlock(); return len(acknowledged) }
	for range kills(t) {
		before := count()
		require.Eventually(t, func() bool { return count() > before+5 }, time.Minute, 10*time.Millisecond)
		time.Sleep(time.Duration(chance.IntN(60)) * time.Millisecond)
		if chance.IntN(5) == 0 {
			s.db.Kill()
			require.Eventually(t, func() bool { // its orphans let go of the memory that they share
				again, err := localdb.Start(context.Background(), localdb.Options{Dir: s.dir, Port: s.db.Port()})
				if err == nil {
					s.db = again
				}
				return err == nil
			}, 30*time.Second, 200*time.Millisecond)
			continue
		}
		i := chance.IntN(2)
		_ = s.servers[i].Process.Kill()
		_ = s.servers[i].Wait()
		s.start(i)
	}
	before := count()
	require.Eventually(t, func() bool { return count() > before+5 }, time.Minute, 10*time.Millisecond)
	close(stop)
	wait.Wait()
	for id, d := range tried {
		if !acknowledged[id] {
			require.Eventually(t, func() bool {
				status, _, err := s.ask("POST", "/api/v1/visits", d)
				return err == nil && status == http.StatusOK
			}, 30*time.Second, 100*time.Millisecond)
		}
	}
	st, err := store.Open(context.Background(), s.db.URL)
	require.NoError(t, err)
	defer st.Close()
	var ids []string
	for id := range tried {
		ids = append(ids, id.String())
	}
	var visits, whole, behind int
	list := "{" + strings.Join(ids, ",") + "}"
	require.NoError(
		t,
		st.Pool.QueryRow(context.Background(), "select count(*), (select count(distinct visit_id) from visit_readings where visit_id = any($1::uuid[])) from visits where id = any($1::uuid[])", list).
			Scan(&visits, &whole),
	)
	assert.Equal(t, len(tried), visits)
	assert.Equal(t, len(tried), whole)
	require.NoError(
		t,
		st.Pool.QueryRow(context.Background(), "select count(*) from pools p join standings s on s.pool_id = p.id where p.id in (select pool_id from visits where id = any($1::uuid[])) and s.record_rev <> p.record_rev", list).
			Scan(&behind),
	)
	assert.Zero(t, behind, "with each visit its pool's row moved on")
	t.Logf("%d acknowledged of %d sent, through %d kills: all on record once", len(acknowledged), len(tried), kills(t))
}
