package api

import (
	"bytes"
	"context"
	"encoding/json"
	"io"
	"log/slog"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"strconv"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"fairlap/core/guided"
	"fairlap/core/judge"
	"fairlap/internal/app/access"
	"fairlap/internal/app/equipment"
	"fairlap/internal/app/office"
	"fairlap/internal/app/record"
	"fairlap/internal/app/route"
	"fairlap/internal/app/visit"
	"fairlap/internal/clock"
	"fairlap/internal/demo/demotest"
	"fairlap/internal/gate"
	"fairlap/internal/store"
)

// world is a town being served, with a client for each of its people.
type world struct {
	line   *gate.Line
	going  *atomic.Bool
	t      *testing.T
	town   demotest.Fixture
	server *httptest.Server
	lap    string // the first technician's
	stops  []string
	stop   string // its first
	pool   string
}

// lineOfTests is how many may work and wait at once.
const lineOfTests = 40

func serve(t *testing.T) *world {
	town := demotest.Town(t)
	line, going := gate.NewLine(1, lineOfTests-1), new(atomic.Bool)
	h, _ := New(
		town.Service,
		Options{
			Version:  "test",
			Assets:   built,
			Log:      slog.New(slog.NewTextHandler(io.Discard, nil)),
			Sessions: town.Store.Pool,
			Line:     line,
			Going:    going,
		},
	)
	w := &world{t: t, town: town, server: httptest.NewServer(h), line: line, going: going}
	t.Cleanup(w.server.Close)
	var lap route.LapView
	w.as("technician").get("/api/v1/lap", &lap)
	w.lap, w.stop, w.pool = lap.ID, lap.Stops[0].ID, lap.Stops[0].PoolID
	for _, st := range lap.Stops {
		w.stops = append(w.stops, st.ID)
	}
	return w
}

// client is somebody at a browser.
type client struct {
	w    *world
	http *http.Client
}

func (w *world) nobody() *client {
	jar, _ := cookiejar.New(nil)
	return &client{w, &http.Client{Jar: jar}}
}

func (w *world) as(role string) *client {
	c := w.nobody()
	require.Equal(w.t, http.StatusOK, c.do("POST", "/api/v1/demo/sign-in", map[string]string{"role": role}, nil))
	return c
}

// other is the technician whose lap is not the first one's.
func (w *world) other() *client {
	password := "a long enough secret"
	u := store.User{
		ID:           uuid.Must(uuid.NewV7()),
		Login:        "other",
		Name:         "Other",
		Role:         "technician",
		PasswordHash: office.HashPassword(password),
		Active:       true,
		Version:      1,
		CreatedAt:    clock.Now(),
	}
	require.NoError(w.t, w.town.Store.Insert(context.Background(), &u))
	c := w.nobody()
	require.Equal(
		w.t,
		http.StatusOK,
		c.do("POST", "/api/v1/sign-in", map[string]string{"login": "Other", "password": password}, nil),
	)
	return c
}

func (c *client) do(method, path string, in, out any) int {
	return c.doWith(nil, method, path, in, out)
}

// doWith is do with headers besides.
func (c *client) doWith(headers map[string]string, method, path string, in, out any) int {
	var body io.Reader
	kind := "application/json"
	if file, ok := in.(raw); ok {
		body, kind = strings.NewReader(string(file)), "application/octet-stream"
	} else if in != nil {
		b, err := json.Marshal(in)
		require.NoError(c.w.t, err)
		body = bytes.NewReader(b)
	}
	req, err := http.NewRequest(method, c.w.server.URL+path, body)
	require.NoError(c.w.t, err)
	req.Header.Set("Content-Type", kind)
	for name, v := range headers {
		req.Header.Set(name, v)
	}
	res, err := c.http.Do(req)
	require.NoError(c.w.t, err)
	defer res.Body.Close()
	if out != nil {
		require.NoError(c.w.t, json.NewDecoder(res.Body).Decode(out))
	}
	return res.StatusCode
}

func (c *client) get(path string, out any) {
	require.Equal(c.w.t, http.StatusOK, c.do("GET", path, nil, out), path)
}

// pools and parts are whole lists.
func (c *client) pools() []record.PoolLine {
	var page access.Page[record.PoolLine]
	c.get("/api/v1/pools?size=200", &page)
	require.Len(c.w.t, page.Items, page.Total)
	return page.Items
}

func (c *client) parts() (out []equipment.PartLine) {
	for page := 1; ; page++ {
		var got equipment.PartsPage
		c.get("/api/v1/parts?size=200&page="+strconv.Itoa(page), &got)
		if out = append(out, got.Items...); len(out) == got.Total {
			return out
		}
		require.NotEmpty(c.w.t, got.Items)
	}
}

type problemBody struct {
	Status int
	Detail string
	Errors []struct {
		Location, Message string
		Value             json.RawMessage
	}
}

func (p problemBody) at(field string) string {
	for _, e := range p.Errors {
		if e.Location == field {
			return e.Message
		}
	}
	return ""
}

func draft(stop string) visit.VisitDraft {
	now := demotest.Now()
	return visit.VisitDraft{
		ID:        uuid.Must(uuid.NewV7()),
		StopID:    uuid.MustParse(stop),
		ArrivedAt: now.Add(-20 * time.Minute),
		ClosedAt:  now,
		Findings: judge.Findings{
			Readings: []judge.TypedReading{{Speed: "2,400", Tank: "14 psi", Vacuum: "1,5", Flow: "31", Power: "320 W"}},
			Signs:    map[string]bool{"air-in-pot": false},
		},
		Works: []visit.Work{},
	}
}

func settings(version int) map[string]any {
	return map[string]any{
		"version":         version,
		"school":          "rise",
		"limitRisePsi":    8,
		"fixedPsi":        25,
		"differentialPsi": 15,
		"sharePercent":    25,
		"flowLossPercent": 33,
		"cleanAbove":      0.5,
		"worthDays":       3,
		"ways":            map[string]any{"rinse": "timed", "prime": "skimmer", "seal": "greased"},
		"holdHours":       24,
		"south":           false,
		"noDischarge":     []string{},
		"seasonOpens":     "",
		"seasonCloses":    "",
		"serviceDays":     map[string]any{},
		"partLives":       map[string]any{},
	}
}

// run is one run at the first pool.
func (w *world) run() string {
	var run guided.RunView
	w.as("owner").
		do("POST", "/api/v1/pools/"+w.pool+"/runs", map[string]any{"id": uuid.NewString(), "procedure": "leak-tests"}, &run)
	return run.ID
}

// part is one part of the first pool's equipment.
func (w *world) part() string {
	var pool record.PoolRecordView
	w.as("owner").get("/api/v1/pools/"+w.pool, &pool)
	return pool.Parts[0].ID
}

// visit is one visit on the first pool's record.
func (w *world) visit() string {
	return w.log("kind=visit")[0].ID
}

// log is the first page of the first pool's log.
func (w *world) log(query string) []record.LogEntry {
	var page record.LogPage
	w.as("owner").get("/api/v1/pools/"+w.pool+"/log?"+query, &page)
	return page.Entries
}
