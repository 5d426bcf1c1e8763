package api

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"maps"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"slices"
	"strconv"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/emersion/go-ical"
	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/diagnosis"
	"fairlap/core/guided"
	"fairlap/core/judge"
	"fairlap/internal/app"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/equipment"
	"fairlap/internal/app/office"
	"fairlap/internal/app/padwork"
	"fairlap/internal/app/record"
	"fairlap/internal/app/route"
	"fairlap/internal/app/visit"
	"fairlap/internal/app/work"
	"fairlap/internal/demo/demotest"
	"fairlap/internal/gate"
	"fairlap/internal/store"
)

func TestMain(m *testing.M) { demotest.Main(m) }

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
		Options{Version: "test", Assets: front, Log: slog.New(slog.NewTextHandler(io.Discard, nil)), Sessions: town.Store.Pool, Line: line, Going: going},
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
		CreatedAt:    time.Now(),
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

// routes are one valid call of every operation that needs a session.
func (w *world) routes() map[string]struct {
	method, path string
	body         any
} {
	type r = struct {
		method, path string
		body         any
	}
	return map[string]r{
		"get-lap":          {"GET", "/api/v1/lap", nil},
		"list-technicians": {"GET", "/api/v1/technicians", nil},
		"get-stop":         {"GET", "/api/v1/stops/" + w.stop, nil},
		"stop-case": {
			"POST",
			"/api/v1/stops/" + w.stop + "/case",
			judge.Findings{Readings: []judge.TypedReading{}, Signs: map[string]bool{}},
		},
		"diagnose": {
			"POST",
			"/api/v1/stops/" + w.stop + "/diagnosis",
			judge.Findings{Readings: []judge.TypedReading{}, Signs: map[string]bool{}},
		},
		"save-visit":      {"POST", "/api/v1/visits", draft(w.stop)},
		"get-visit":       {"GET", "/api/v1/visits/" + w.visit(), nil},
		"take-back-visit": {"POST", "/api/v1/visits/" + w.visit() + "/taken-back", nil},
		"list-pools":      {"GET", "/api/v1/pools", nil},
		"get-pool":        {"GET", "/api/v1/pools/" + w.pool, nil},
		"get-log":         {"GET", "/api/v1/pools/" + w.pool + "/log?kind=visit", nil},
		"list-runs":       {"GET", "/api/v1/runs?find=sand", nil},
		"get-about":       {"GET", "/api/v1/pools/" + w.pool + "/about", nil},
		"save-about":      {"PUT", "/api/v1/pools/" + w.pool + "/about", about("Quince Court 14", 1)},
		"archive-pool": {
			"PUT",
			"/api/v1/pools/" + w.pool + "/archived",
			map[string]any{"archived": true, "version": 1},
		},
		"add-pump": {
			"POST",
			"/api/v1/catalogue/pumps",
			map[string]any{
				"model":    "Own 9",
				"kind":     "variable",
				"topRpm":   3450,
				"leastRpm": 600,
				"points":   []map[string]any{{"gpm": 40, "ft": 77}, {"gpm": 80, "ft": 58}},
				"watts":    1200,
			},
		},
		"call-out": {"POST", "/api/v1/pools/" + w.pool + "/call-outs", nil},
		"add-note": {
			"POST",
			"/api/v1/pools/" + w.pool + "/notes",
			map[string]any{"id": uuid.NewString(), "text": "Gate code changed."},
		},
		"work-out-volume": {
			"POST",
			"/api/v1/volume",
			map[string]any{"shape": "round", "lengthFt": 24, "widthFt": 0, "width2Ft": 0, "shallowFt": 4, "deepFt": 0},
		},
		"add-photo": {
			"POST",
			"/api/v1/pools/" + w.pool + "/photos?photo=" + uuid.NewString(),
			picture(40, 30),
		},
		"get-photo":       {"GET", "/api/v1/photos/" + w.photo(), nil},
		"show-photo":      {"PUT", "/api/v1/photos/" + w.photo() + "/shown", nil},
		"take-photo-away": {"POST", "/api/v1/photos/" + w.photo() + "/gone", map[string]string{"why": "blurred"}},
		"list-papers":     {"GET", "/api/v1/pools/" + w.pool + "/papers", nil},
		"get-paper":       {"GET", "/api/v1/pools/" + w.pool + "/papers/owner", nil},
		"get-paper-pdf":   {"GET", "/api/v1/pools/" + w.pool + "/papers/season/pdf", nil},
		"open-link":       {"POST", "/api/v1/pools/" + w.pool + "/links", map[string]int{"days": 30}},
		"end-link":        {"DELETE", "/api/v1/pools/" + w.pool + "/links/" + w.link().ID, nil},
		"get-office":      {"GET", "/api/v1/office", nil},
		"save-office":     {"PUT", "/api/v1/office", officeOf(1)},
		"list-people":     {"GET", "/api/v1/people", nil},
		"put-person": {
			"PUT",
			"/api/v1/people",
			map[string]any{
				"id":       uuid.NewString(),
				"login":    "newt",
				"name":     "N. Newt",
				"role":     "technician",
				"active":   true,
				"version":  0,
				"mine":     false,
				"password": "a long enough one",
			},
		},
		"choose-what-is-read": {"PUT", "/api/v1/me/reads", map[string]string{"lang": "", "units": "metric"}},
		"change-password": {
			"PUT",
			"/api/v1/me/password",
			map[string]string{"password": "x", "newPassword": "a long enough one"},
		},
		"get-audit":            {"GET", "/api/v1/audit", nil},
		"find-customers":       {"GET", "/api/v1/customers?q=a", nil},
		"put-customer":         {"PUT", "/api/v1/customers", customer("C. Customer")},
		"erase-customer":       {"POST", "/api/v1/customers/" + w.customer() + "/erased", nil},
		"export-sheets":        {"GET", "/api/v1/sheets?table=pools&format=csv", nil},
		"export-archive":       {"GET", "/api/v1/archive", nil},
		"list-jobs":            {"GET", "/api/v1/jobs", nil},
		"list-practice-cases":  {"GET", "/api/v1/practice/cases", nil},
		"work-practice":        {"POST", "/api/v1/practice/work", practised},
		"get-practice":         {"GET", "/api/v1/practice", nil},
		"erase-practice":       {"DELETE", "/api/v1/practice", nil},
		"keep-practice":        {"PUT", "/api/v1/practice/attempts/" + uuid.NewString(), map[string]any{"ask": practised}},
		"ask-practice":         {"POST", "/api/v1/practice/tasks", map[string]any{"people": []string{w.someone()}, "which": practised.Which}},
		"drop-practice":        {"DELETE", "/api/v1/practice/tasks/" + uuid.NewString(), nil},
		"list-practice-people": {"GET", "/api/v1/practice/people", nil},
		"list-sign-ins":        {"GET", "/api/v1/me/sign-ins", nil},
		"end-sign-in":          {"DELETE", "/api/v1/me/sign-ins/" + uuid.NewString(), nil},
		"get-second-step":      {"GET", "/api/v1/me/second-step", nil},
		"new-second-step":      {"POST", "/api/v1/me/second-step", nil},
		"set-second-step":      {"PUT", "/api/v1/me/second-step", map[string]string{"password": "x", "key": "", "code": ""}},
		"invite-person":        {"POST", "/api/v1/people/" + uuid.NewString() + "/invitation", nil},
		"job-again":            {"POST", "/api/v1/jobs/1/again", nil},
		"start-import":         {"POST", "/api/v1/imports?name=pools.csv", raw("street,volume_gal\n")},
		"get-import":           {"GET", "/api/v1/imports/" + w.importing().String(), nil},
		"list-import-rows":     {"GET", "/api/v1/imports/" + w.importing().String() + "/rows", nil},
		"get-speed-plan":       {"GET", "/api/v1/pools/" + w.pool + "/plan", nil},
		"try-speed-plan":       {"POST", "/api/v1/pools/" + w.pool + "/plan/try", map[string]any{"needs": w.needs()}},
		"try-slots": {
			"POST",
			"/api/v1/pools/" + w.pool + "/plan/slots",
			map[string]any{"needs": w.needs(), "slots": []any{}},
		},
		"save-needs": {
			"PUT",
			"/api/v1/pools/" + w.pool + "/plan/needs",
			map[string]any{"needs": w.needs(), "version": 1},
		},
		"set-programme": {
			"PUT",
			"/api/v1/pools/" + w.pool + "/plan/programme",
			map[string]any{"slots": []map[string]any{{"start": 8, "hours": 9, "rpm": 2000}}},
		},
		"get-plan-season":  {"GET", "/api/v1/pools/" + w.pool + "/plan/season", nil},
		"get-plan-schools": {"GET", "/api/v1/pools/" + w.pool + "/plan/schools", nil},
		"list-inspections": {"GET", "/api/v1/pools/" + w.pool + "/inspections", nil},
		"start-inspection": {
			"POST",
			"/api/v1/pools/" + w.pool + "/inspections",
			map[string]string{"id": uuid.NewString()},
		},
		"get-inspection": {"GET", "/api/v1/inspections/" + w.inspection().ID, nil},
		"save-inspection": {
			"PUT",
			"/api/v1/inspections/" + w.inspection().ID,
			map[string]any{"answers": map[string]any{}, "version": 1, "close": false},
		},
		"read-tariff": {
			"POST",
			"/api/v1/tariffs/read",
			map[string]string{"text": "from,to,price_per_kwh\n0,24,0.2\n"},
		},
		"take-import": {"POST", "/api/v1/imports/" + w.importing().String() + "/take", nil},
		"set-access-note": {
			"PUT",
			"/api/v1/pools/" + w.pool + "/access-note",
			map[string]any{"accessNote": "x", "version": 1},
		},
		"get-due": {"GET", "/api/v1/pools/" + w.pool + "/due", nil},
		"mark-due": {
			"POST",
			"/api/v1/pools/" + w.pool + "/due-marks",
			map[string]any{"id": uuid.NewString(), "item": "clean-line", "act": "done", "reason": ""},
		},
		"get-pool-cleaning": {"GET", "/api/v1/pools/" + w.pool + "/cleaning", nil},
		"save-pool-cleaning": {
			"PUT",
			"/api/v1/pools/" + w.pool + "/cleaning",
			map[string]any{"version": 1, "school": "fixed"},
		},
		"set-part-life": {"PUT", "/api/v1/equipment/" + w.part() + "/life", map[string]any{"years": 5}},
		"move-visit": {
			"POST",
			"/api/v1/pools/" + w.pool + "/visit-moves",
			map[string]any{"id": uuid.NewString(), "on": "2026-12-01", "to": "2026-12-02"},
		},
		"get-lap-map":     {"GET", "/api/v1/laps/" + w.lap + "/map", nil},
		"get-shorter-lap": {"GET", "/api/v1/laps/" + w.lap + "/shorter", nil},
		"order-lap": {
			"PUT",
			"/api/v1/laps/" + w.lap + "/order",
			map[string]any{"version": 1, "stops": w.stops},
		},
		"get-lap-sheet":       {"GET", "/api/v1/laps/" + w.lap + "/sheet.pdf", nil},
		"technician-leaves":   {"POST", "/api/v1/technicians/" + uuid.NewString() + "/leave", map[string]any{}},
		"get-service-lives":   {"GET", "/api/v1/service-lives", nil},
		"get-calendar-feed":   {"GET", "/api/v1/calendar-feed", nil},
		"open-calendar-feed":  {"POST", "/api/v1/calendar-feed", nil},
		"close-calendar-feed": {"DELETE", "/api/v1/calendar-feed", nil},
		"get-week":            {"GET", "/api/v1/week", nil},
		"get-due-file":        {"GET", "/api/v1/due.csv", nil},
		"change-part": {
			"POST",
			"/api/v1/pools/" + w.pool + "/parts",
			map[string]any{
				"id":    uuid.NewString(),
				"act":   "install",
				"kind":  "Timer",
				"model": "Dial 2",
				"on":    "2026-11-20",
			},
		},
		"list-parts": {"GET", "/api/v1/parts", nil},
		"get-day":    {"GET", "/api/v1/day", nil},
		"get-work":   {"GET", "/api/v1/pools/" + w.pool + "/work", nil},
		"start-run": {
			"POST",
			"/api/v1/pools/" + w.pool + "/runs",
			map[string]any{"id": uuid.NewString(), "procedure": "leak-tests"},
		},
		"get-run": {"GET", "/api/v1/runs/" + w.run(), nil},
		"append-run": {
			"POST",
			"/api/v1/runs/" + w.run() + "/events",
			map[string]any{
				"events": []map[string]any{
					{"id": uuid.NewString(), "act": "note", "turn": 0, "note": "x", "at": "2026-11-24T17:45:00Z"},
				},
			},
		},
		"get-settings":  {"GET", "/api/v1/settings", nil},
		"save-settings": {"PUT", "/api/v1/settings", settings(1)},
		"read-demo-pad": {"GET", "/api/v1/demo/stops/" + w.stop + "/meters", nil},
		"sketch-pad":    {"POST", "/api/v1/pads/sketch", sketch()},
		"preview-pad": {
			"POST",
			"/api/v1/pads/preview",
			map[string]any{"gallons": 15000, "document": sketch().Document()},
		},
		"read-pad-file": {"POST", "/api/v1/pads/read", map[string]string{"text": asText(sketch().Document())}},
		"create-pool":   {"POST", "/api/v1/pools", newPool("Sedge Row 7")},
		"get-pad":       {"GET", "/api/v1/pools/" + w.pool + "/pad", nil},
		"save-pad": {
			"PUT",
			"/api/v1/pools/" + w.pool + "/pad",
			padwork.PadChange{BasedOn: 1, Reason: "description", Document: sketch().Document()},
		},
		"get-pad-file": {"GET", "/api/v1/pools/" + w.pool + "/pad/file?format=inp", nil},
		"try-paths": {
			"POST",
			"/api/v1/pools/" + w.pool + "/paths",
			padwork.PathsAsk{RPM: 2400, Setting: "filter", Handles: map[string]float64{}},
		},
		"get-limits":         {"GET", "/api/v1/pools/" + w.pool + "/limits", nil},
		"read-walk-file":     {"POST", "/api/v1/walks/read", map[string]string{"text": "rpm,tank_psi\n2400,14\n"}},
		"try-walk":           {"POST", "/api/v1/pools/" + w.pool + "/walk", map[string]any{"readings": walk()}},
		"list-clean-lines":   {"GET", "/api/v1/pools/" + w.pool + "/clean-lines", nil},
		"save-clean-line":    {"POST", "/api/v1/pools/" + w.pool + "/clean-lines", newLine()},
		"get-track-record":   {"GET", "/api/v1/track-record", nil},
		"list-catalogue":     {"GET", "/api/v1/catalogue", nil},
		"get-catalogue-file": {"GET", "/api/v1/catalogue/file", nil},
		"import-catalogue":   {"POST", "/api/v1/catalogue", map[string]string{"text": ownPump}},
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

func TestEveryRouteRefusesWhoeverHasNoSession(t *testing.T) {
	w := serve(t)
	routes := w.routes()
	_, contract := New(w.town.Service, Options{})
	guarded := 0
	for _, path := range contract.OpenAPI().Paths {
		for _, o := range []*huma.Operation{path.Get, path.Put, path.Post, path.Delete, path.Patch} {
			if o != nil && o.Metadata[rolesKey] != nil {
				guarded++
				assert.Contains(t, routes, o.OperationID, "a new route needs a call in this test")
			}
		}
	}
	assert.Len(t, routes, guarded)
	forged := w.nobody()
	for id, r := range routes {
		assert.Equal(
			t,
			http.StatusUnauthorized,
			w.nobody().do(r.method, r.path, r.body, nil),
			"%s without a session",
			id,
		)
		req, _ := http.NewRequest("GET", w.server.URL+"/api/v1/lap", nil)
		req.AddCookie(&http.Cookie{Name: "fairlap", Value: "forged-" + id})
		res, err := forged.http.Do(req)
		require.NoError(t, err)
		res.Body.Close()
		assert.Equal(t, http.StatusUnauthorized, res.StatusCode, "%s with a forged session", id)
	}
}

// What a device kept for one person is not recorded under the session of another.
func TestWhatSomebodyMadeIsTakenUnderTheirSessionAlone(t *testing.T) {
	w := serve(t)
	tech := w.as("technician")
	var me struct{ Me struct{ ID string } }
	tech.get("/api/v1/me", &me)
	note := func(maker string) int {
		return tech.doWith(map[string]string{"Made-By": maker}, "POST", "/api/v1/pools/"+w.pool+"/notes",
			map[string]any{"id": uuid.New(), "text": "gate left open"}, nil)
	}
	assert.Equal(t, http.StatusUnauthorized, note(uuid.NewString()))
	assert.Less(t, note(me.Me.ID), 300)
}

func TestAnotherTechniciansDataIsRefused(t *testing.T) {
	w := serve(t)
	other := w.other()
	routes := w.routes()
	for _, id := range slices.Sorted(maps.Keys(routes)) {
		r := routes[id]
		want := http.StatusForbidden
		switch id {
		case "list-technicians",
			"list-pools",
			"list-parts",
			"sketch-pad",
			"preview-pad",
			"read-pad-file",
			"create-pool",
			"read-walk-file",
			"list-catalogue",
			"get-catalogue-file",
			"get-track-record",
			"get-settings",
			"get-week",
			"get-due-file",
			"get-calendar-feed",
			"open-calendar-feed",
			"close-calendar-feed",
			"get-lap",
			"get-day",
			"get-service-lives",
			"list-runs",
			"work-out-volume",
			"read-tariff",
			"add-pump",
			"list-sign-ins",
			"get-second-step",
			"new-second-step",
			"list-practice-cases",
			"work-practice",
			"get-practice",
			"keep-practice",
			"choose-what-is-read":
			want = http.StatusOK // of their own
		case "erase-practice":
			want = http.StatusNoContent // their own too
		case "end-sign-in":
			want = http.StatusNotFound
		case "change-password", "set-second-step":
			want = http.StatusUnprocessableEntity // the old one is wrong
		}
		assert.Equal(t, want, other.do(r.method, r.path, r.body, nil), id)
	}
	pools := other.pools()
	require.Len(t, pools, 1, "only the one that they took on just now")
	assert.Equal(t, "Sedge Row 7", pools[0].Street)
	var people []company.Person
	other.get("/api/v1/technicians", &people)
	assert.Len(t, people, 1, "only themselves")
	var mine []company.Person
	w.as("owner").get("/api/v1/technicians", &mine)
	for _, p := range mine {
		if p.Name == "O. Brandt" {
			assert.Equal(t, http.StatusForbidden, other.do("GET", "/api/v1/lap?technician="+p.ID, nil, nil))
		}
	}
}

func TestOnlyTheDeskChangesAnAccessNote(t *testing.T) {
	w := serve(t)
	path := "/api/v1/pools/" + w.pool + "/access-note"
	assert.Equal(
		t,
		http.StatusForbidden,
		w.as("technician").do("PUT", path, map[string]any{"accessNote": "x", "version": 1}, nil),
	)
	desk, owner := w.as("office"), w.as("owner")
	assert.Equal(t, http.StatusOK, desk.do("PUT", path, map[string]any{"accessNote": "New latch.", "version": 1}, nil))
	var p problemBody
	assert.Equal(
		t,
		http.StatusConflict,
		owner.do("PUT", path, map[string]any{"accessNote": "Other latch.", "version": 1}, &p),
	)
	assert.Contains(t, string(p.Errors[0].Value), "New latch.", "the second sees the first's text")
}

func TestSignInIsRefusedSlowedAndGuarded(t *testing.T) {
	w := serve(t)
	c := w.nobody()
	var p problemBody
	assert.Equal(
		t,
		http.StatusUnauthorized,
		c.do("POST", "/api/v1/sign-in", map[string]string{"login": "brandt", "password": "guess"}, &p),
	)
	assert.Equal(t, "The login or the password is wrong.", p.Detail)
	status := 0
	for range 6 {
		status = c.do("POST", "/api/v1/sign-in", map[string]string{"login": "brandt", "password": "guess"}, nil)
	}
	assert.Equal(t, http.StatusTooManyRequests, status)
	req, _ := http.NewRequest("POST", w.server.URL+"/api/v1/demo/sign-in", strings.NewReader(`{"role":"owner"}`))
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("Origin", "https://elsewhere.example")
	req.Header.Set("Sec-Fetch-Site", "cross-site")
	res, err := http.DefaultClient.Do(req)
	require.NoError(t, err)
	defer res.Body.Close()
	assert.Equal(t, http.StatusForbidden, res.StatusCode)
	csp := res.Header.Get("Content-Security-Policy")
	assert.Contains(t, csp, "default-src 'none'")
	assert.NotContains(t, csp, "script-src 'self' 'unsafe")
	// A password in a refused body must not come back.
	req, _ = http.NewRequest(
		"POST",
		w.server.URL+"/api/v1/sign-in",
		strings.NewReader(`{"login":"a","password":"`+strings.Repeat("hush", 60)+`"}`),
	)
	req.Header.Set("Content-Type", "application/json")
	res, err = http.DefaultClient.Do(req)
	require.NoError(t, err)
	b, _ := io.ReadAll(res.Body)
	res.Body.Close()
	assert.NotContains(t, string(b), "hush")
}

func TestDemoSignInIsOnlyInADemo(t *testing.T) {
	town := demotest.Town(t)
	h, _ := New(
		app.New(town.Store, demotest.Now, company.World{}),
		Options{Sessions: town.Store.Pool, Log: slog.New(slog.NewTextHandler(io.Discard, nil))},
	)
	s := httptest.NewServer(h)
	defer s.Close()
	res, err := http.Post(s.URL+"/api/v1/demo/sign-in", "application/json", strings.NewReader(`{"role":"owner"}`))
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, http.StatusNotFound, res.StatusCode)
}

func TestABadFigureGetsASentenceAtItsField(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	path := "/api/v1/stops/" + w.stop + "/diagnosis"
	for _, x := range []struct {
		r     judge.TypedReading
		field string
		text  string
	}{
		{judge.TypedReading{Speed: "2400", Tank: "400"}, "readings[0].tank", "not believable"},
		{judge.TypedReading{Speed: "2400", Tank: "14 gpm"}, "readings[0].tank", "reads like a flow"},
		{judge.TypedReading{Speed: "2400", Vacuum: "-3"}, "readings[0].vacuum", "below zero"},
		{judge.TypedReading{Tank: "14"}, "readings[0].speed", "Type the pump speed too"},
		{judge.TypedReading{Speed: "3900", Tank: "14"}, "readings[0].speed", "top speed is 3,450"},
		{judge.TypedReading{Speed: "0", Flow: "14"}, "readings[0].speed", "the pump is off"},
		{judge.TypedReading{Setting: "spa", Speed: "2400", Tank: "14"}, "readings[0].setting", "no valves"},
		{judge.TypedReading{Speed: "2400", Flow: "lots"}, "readings[0].flow", "not a number"},
		{judge.TypedReading{Speed: "2400", Power: "99 kW"}, "readings[0].power", "not believable"},
	} {
		var p problemBody
		status := c.do("POST", path, judge.Findings{Readings: []judge.TypedReading{x.r}, Signs: map[string]bool{}}, &p)
		assert.Equal(t, http.StatusUnprocessableEntity, status, "%+v", x.r)
		assert.Contains(t, p.at(x.field), x.text, "%+v", x.r)
	}
	var p problemBody
	c.do("POST", path, judge.Findings{Readings: []judge.TypedReading{}, Signs: map[string]bool{"hearsay": true}}, &p)
	assert.NotEmpty(t, p.at("signs.hearsay"))
	var v judge.Verdict
	require.Equal(
		t,
		200,
		c.do(
			"POST",
			path,
			judge.Findings{
				Readings: []judge.TypedReading{},
				Signs:    map[string]bool{"air-in-pot": true, "level-low": true},
			},
			&v,
		),
	)
	assert.Equal(t, "water-low", v.Suspects[0].ID, "signs alone still rank")
	require.Equal(
		t,
		200,
		c.do(
			"POST",
			path,
			judge.Findings{
				Readings: []judge.TypedReading{{Speed: "2400", Tank: "9"}, {Speed: "0", Tank: "7"}},
				Signs:    map[string]bool{},
			},
			nil,
		),
		"a needle read at rest",
	)
	assert.NotEmpty(t, v.Advice.Lacks, "and the advice says what it lacks")
}

func TestTheDemoLapShowsItsDecisions(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	var lap route.LapView
	c.get("/api/v1/lap", &lap)
	require.Len(t, lap.Stops, 9)
	want := map[string]struct{ suspect, action, word string }{
		"Quince Court 14":    {"healthy", "clean", "Backwash due"},
		"Bayberry Close 5":   {"healthy", "leave", "Fine"},
		"Larkspur Lane 3":    {"return-restricted", "fix-first", "Fine"},
		"Fennel Walk 40":     {"impeller-clogged", "fix-first", "Fine"},
		"Juniper Rise 27":    {"filter-loaded", "hold", "Hold 24 h"},
		"Heron Reach 8":      {"air-lid", "fix-first", "Suspect open"},
		"Mistral Way 12":     {"healthy", "leave", "Salt cell short"},
		"Tamarack Street 61": {"", "clean", "Recharge DE"},
		"Sorrel Bend 19":     {"healthy", "", "First visit"},
	}
	for _, s := range lap.Stops {
		var f judge.Findings
		c.get("/api/v1/demo/stops/"+s.ID+"/meters", &f)
		var v judge.Verdict
		require.Equal(t, 200, c.do("POST", "/api/v1/stops/"+s.ID+"/diagnosis", f, &v))
		x := want[s.Street]
		assert.Equal(t, x.word, say(s.Reason.Word), s.Street)
		if x.suspect != "" {
			assert.Equal(t, x.suspect, v.Suspects[0].ID, "%s: %v", s.Street, f)
		}
		if x.action != "" {
			assert.Equal(t, x.action, string(v.Advice.Action), "%s: %s", s.Street, say(v.Advice.Reason))
		}
	}
}

func TestAVisitIsKeptOnceCorrectedAndNeverChanged(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	d := draft(w.stop)
	d.Works = []visit.Work{{Kind: "cleaned"}}
	d.After = &judge.TypedReading{Speed: "2400", Tank: "10"}
	d.Note = "latch mended"
	var first, second visit.VisitRecord
	require.Equal(t, 200, c.do("POST", "/api/v1/visits", d, &first))
	require.Equal(t, 200, c.do("POST", "/api/v1/visits", d, &second))
	assert.Equal(t, first.ID, second.ID)
	assert.Equal(t, "latch mended", first.Note)
	require.NotNil(t, first.LoadAfter)
	assert.Less(t, *first.LoadAfter, 0.4)
	assert.Equal(t, diagnosis.EngineVersion, first.Verdict.EngineVersion)
	changed := d
	changed.Note = "another story"
	assert.Equal(t, http.StatusConflict, c.do("POST", "/api/v1/visits", changed, nil))
	fix := draft(w.stop)
	fix.Corrects, fix.Note = &d.ID, "gauge was 13"
	require.Equal(t, 200, c.do("POST", "/api/v1/visits", fix, nil))
	log := w.log("kind=visit")
	assert.Equal(t, fix.ID.String(), log[0].ID)
	assert.Equal(t, d.ID.String(), log[0].Visit.Corrects)
	assert.Equal(t, fix.ID.String(), log[1].Visit.CorrectedBy)
	assert.Equal(t, "latch mended", log[1].Visit.Note)
	var lap route.LapView
	c.get("/api/v1/lap", &lap)
	assert.Equal(t, "done", lap.Stops[0].State)
	assert.Equal(t, "here", lap.Stops[1].State)
}

func TestAVisitIsTakenBackByItsMakerWithinItsMinute(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	var before, after route.LapView
	c.get("/api/v1/lap", &before)
	var pool record.PoolRecordView
	c.get("/api/v1/pools/"+w.pool, &pool)
	loads := len(pool.Points)
	d := draft(w.stop)
	d.Works = []visit.Work{{Kind: "cleaned"}}
	require.Equal(t, 200, c.do("POST", "/api/v1/visits", d, nil))
	back := "/api/v1/visits/" + d.ID.String() + "/taken-back"
	assert.Equal(t, http.StatusForbidden, w.as("office").do("POST", back, nil, nil), "somebody else's")
	var v visit.VisitRecord
	require.Equal(t, 200, c.do("POST", back, nil, &v))
	require.NotNil(t, v.TakenBack)
	require.Equal(t, 200, c.do("POST", back, nil, nil), "again is the same")

	c.get("/api/v1/lap", &after)
	assert.Equal(t, before.Stops[0].State, after.Stops[0].State, "the stop is open as it was")
	c.get("/api/v1/pools/"+w.pool, &pool)
	assert.Len(t, pool.Points, loads, "it counts for nothing")
	log := w.log("kind=visit")
	assert.Equal(t, d.ID.String(), log[0].ID)
	assert.NotNil(t, log[0].Visit.TakenBack, "and stays on record")

	fix := draft(w.stop)
	fix.Corrects = &d.ID
	assert.Equal(t, 422, c.do("POST", "/api/v1/visits", fix, nil), "nothing is left of it to correct")
	again := draft(w.stop)
	require.Equal(t, 200, c.do("POST", "/api/v1/visits", again, nil))
	_, err := w.town.Store.Pool.Exec(context.Background(), "alter table visits disable trigger visits_append_only")
	require.NoError(t, err)
	w.sql("update visits set recorded_at = recorded_at - interval '2 minutes' where id = $1", again.ID.String())
	var p problemBody
	assert.Equal(t, http.StatusConflict, c.do("POST", "/api/v1/visits/"+again.ID.String()+"/taken-back", nil, &p))
	assert.Contains(t, p.Detail, "correction")
}

func TestGuidedWorkIsListedAndFound(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	id := w.run()
	var all, found access.Page[work.RunLine]
	c.get("/api/v1/runs", &all)
	require.NotEmpty(t, all.Items)
	assert.Equal(t, id, all.Items[0].ID, "newest first")
	assert.Nil(t, all.Items[0].Ended)
	street, _, _ := strings.Cut(all.Items[0].Street, " ")
	for _, words := range []string{street, "leak+" + street, "fuga"} {
		c.get("/api/v1/runs?find="+words, &found)
		require.NotEmpty(t, found.Items, words)
		assert.Equal(t, id, found.Items[0].ID, words)
	}
	c.get("/api/v1/runs?find=leak+nowhere", &found)
	assert.Empty(t, found.Items)
	w.other().get("/api/v1/runs", &found)
	assert.Empty(t, found.Items, "of another technician's pools")
}

func TestABadVisitIsRefusedWhole(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	for field, spoil := range map[string]func(*visit.VisitDraft){
		"findings.readings[0].tank": func(d *visit.VisitDraft) { d.Findings.Readings[0].Tank = "1400" },
		"closedAt":                  func(d *visit.VisitDraft) { d.ClosedAt = d.ArrivedAt.Add(-time.Hour) },
		"confirmed":                 func(d *visit.VisitDraft) { d.Confirmed = "gremlins" },
		"after.tank":                func(d *visit.VisitDraft) { d.After = &judge.TypedReading{Speed: "2400", Tank: "9"} },
		"corrects":                  func(d *visit.VisitDraft) { id := uuid.Must(uuid.NewV7()); d.Corrects = &id },
	} {
		d := draft(w.stop)
		spoil(&d)
		var p problemBody
		assert.Equal(t, http.StatusUnprocessableEntity, c.do("POST", "/api/v1/visits", d, &p), field)
		assert.NotEmpty(t, p.at(field), "%s: %+v", field, p)
		assert.Equal(t, http.StatusNotFound, c.do("GET", "/api/v1/visits/"+d.ID.String(), nil, nil), "nothing was kept")
	}
}

func TestChemicalsHoldTheBackwashForADay(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	d := draft(w.stop)
	at := demotest.Now().Add(-5 * time.Minute)
	d.ChemicalsAt = &at
	var v visit.VisitRecord
	require.Equal(t, 200, c.do("POST", "/api/v1/visits", d, &v))
	assert.Equal(t, "hold", string(v.Verdict.Advice.Action), "due, but chemicals are in")
}

func TestTroubleIsNamed(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	for path, want := range map[string]int{
		"/api/v1/stops/" + uuid.NewString(): 404, "/api/v1/pools/" + uuid.NewString(): 404, "/api/v1/visits/" + uuid.NewString(): 404,
		"/api/v1/stops/no-id": 422, "/api/v1/lap?day=someday": 422, "/api/v1/lap?day=2020-01-01": 404, "/api/v1/nothing": 404,
	} {
		var p problemBody
		assert.Equal(t, want, c.do("GET", path, nil, &p), path)
		assert.NotEmpty(t, p.Detail, path)
	}
	big := fmt.Sprintf(`{"readings":[],"signs":{},"x":"%s"}`, strings.Repeat("y", 400<<10))
	req, _ := http.NewRequest("POST", w.server.URL+"/api/v1/stops/"+w.stop+"/diagnosis", strings.NewReader(big))
	req.Header.Set("Content-Type", "application/json")
	res, err := c.http.Do(req)
	require.NoError(t, err)
	res.Body.Close()
	assert.GreaterOrEqual(t, res.StatusCode, 400)
	// The record away: every question gets a plain sentence, none a leak.
	w.town.Store.Close()
	var p problemBody
	assert.Equal(t, http.StatusServiceUnavailable, c.do("GET", "/api/v1/lap", nil, &p))
	assert.Contains(t, p.Detail, "can't be reached")
	assert.Equal(t, http.StatusServiceUnavailable, c.do("GET", "/readyz", nil, nil))
	assert.NotContains(t, p.Detail, "postgres")
}

func TestSettingsShowTheOtherDesksFirst(t *testing.T) {
	w := serve(t)
	desk, owner := w.as("office"), w.as("owner")
	mine := settings(1)
	mine["cleanAbove"] = 0.6
	assert.Equal(t, http.StatusForbidden, w.as("technician").do("PUT", "/api/v1/settings", mine, nil))
	assert.Equal(t, http.StatusOK, desk.do("PUT", "/api/v1/settings", mine, nil))
	var p problemBody
	assert.Equal(t, http.StatusConflict, owner.do("PUT", "/api/v1/settings", settings(1), &p))
	assert.Contains(t, string(p.Errors[0].Value), `"cleanAbove":0.6`)
	wrong := settings(2)
	wrong["limitRisePsi"], wrong["noDischarge"] = 90, []string{"24 Nov"}
	assert.Equal(t, http.StatusUnprocessableEntity, owner.do("PUT", "/api/v1/settings", wrong, &p))
	assert.Equal(t, "A rise between 2 and 20 psi.", p.at("limitRisePsi"))
	assert.Contains(t, p.at("noDischarge[0]"), "2026-11-24")
}

func TestDecisionsAboutDueWork(t *testing.T) {
	w := serve(t)
	c, path := w.as("technician"), "/api/v1/pools/"+w.pool+"/due-marks"
	id := uuid.NewString()
	mark := func(act, reason string, more map[string]any) map[string]any {
		m := map[string]any{"id": id, "item": "clean-line", "act": act, "reason": reason}
		for k, v := range more {
			m[k] = v
		}
		return m
	}
	var p problemBody
	assert.Equal(t, http.StatusUnprocessableEntity, c.do("POST", path, mark("cancel", " ", nil), &p))
	assert.Contains(t, p.at("reason"), "Say why")
	assert.Equal(
		t,
		http.StatusUnprocessableEntity,
		c.do("POST", path, mark("snooze", "", map[string]any{"until": "2020-01-01T00:00:00Z"}), &p),
	)
	assert.Contains(t, p.at("until"), "within the coming year")
	assert.Equal(
		t,
		http.StatusUnprocessableEntity,
		c.do("POST", path, mark("done", "", map[string]any{"item": "polish"}), &p),
	)
	assert.Contains(t, p.at("item"), "no such work")
	var view route.DueView
	for range 2 { // the same decision sent twice is one
		require.Equal(t, http.StatusOK, c.do("POST", path, mark("done", "with the new sand", nil), &view))
		require.Len(t, view.Marks, 1)
	}
	assert.Equal(t, "Take a clean line", say(view.Marks[0].Name))
	assert.Equal(t, "O. Brandt", view.Marks[0].By)
}

// A pool that was seen today is next seen next week: its work goes there.
func TestAVisitTodayIsNotPlannedAgain(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	var before, after route.DueView
	c.get("/api/v1/pools/"+w.pool+"/due", &before)
	require.NotEmpty(t, before.Items)
	today := before.Items[0].Visit
	require.NotNil(t, today)
	require.Equal(t, http.StatusOK, c.do("POST", "/api/v1/visits", draft(w.stop), nil))
	c.get("/api/v1/pools/"+w.pool+"/due", &after)
	for _, d := range after.Items {
		require.NotNil(t, d.Visit)
		assert.True(t, d.Visit.After(*today), say(d.Name))
	}
	var week route.WeekView
	c.get("/api/v1/week", &week)
	for _, d := range week.Days {
		for _, s := range d.Stops {
			assert.False(t, s.PoolID == w.pool && d.Date == today.Format(time.DateOnly), "seen today")
		}
	}
}

func TestTheWeekAddsUp(t *testing.T) {
	w := serve(t)
	var week route.WeekView
	w.as("office").get("/api/v1/week", &week)
	require.NotEmpty(t, week.Days)
	work := 0
	for _, d := range week.Days {
		minutes := 0.0
		for i, s := range d.Stops {
			minutes += s.Base + s.Drive
			if i == 0 {
				assert.Zero(t, s.Drive)
			}
			for _, due := range s.Due {
				minutes += due.Minutes
				work++
			}
		}
		assert.InDelta(t, d.Minutes, minutes, 1e-6, "%s %s", d.Technician, d.Date)
		if d.Minutes > d.Limit {
			for _, s := range d.Stops {
				assert.Empty(t, s.Due, "over its limit with work that could slide")
			}
		}
		for _, s := range d.Slid {
			assert.Contains(t, say(s.Why), "least harm")
		}
	}
	assert.Positive(t, work)
	var mine route.WeekView
	w.as("technician").get("/api/v1/week", &mine)
	for _, d := range mine.Days {
		assert.Equal(t, "O. Brandt", d.Technician)
	}
	var lap route.LapView
	w.as("technician").get("/api/v1/lap", &lap)
	planned := map[string]time.Time{}
	for _, s := range lap.Stops {
		planned[s.PoolID] = s.PlannedAt
	}
	require.NotEmpty(t, mine.Days[0].Stops)
	for _, s := range mine.Days[0].Stops {
		assert.Equal(t, planned[s.PoolID].UTC(), s.Arrive.UTC(), "the week says today's hours as the lap does: %s", s.Street)
	}
	w.as("office").get("/api/v1/week?week=6", &week)
	assert.Equal(t, http.StatusUnprocessableEntity, w.as("office").do("GET", "/api/v1/week?week=60", nil, nil))
}

// The feed is read here by another library than the one that writes it.
func TestTheCalendarOfASecretAddress(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	var feed route.CalendarFeed
	require.Equal(t, http.StatusOK, c.do("POST", "/api/v1/calendar-feed", nil, &feed))
	require.Len(t, feed.Secret, 43)
	var told route.CalendarFeed
	c.get("/api/v1/calendar-feed", &told)
	assert.NotNil(t, told.Since)
	assert.Empty(t, told.Secret, "told once")
	read := func(secret string) (int, string) {
		res, err := http.Get(w.server.URL + "/api/calendar/" + secret + ".ics")
		require.NoError(t, err)
		defer res.Body.Close()
		text, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		return res.StatusCode, string(text)
	}
	status, text := read(feed.Secret)
	require.Equal(t, http.StatusOK, status)
	assert.Equal(t, strings.Count(text, "\n"), strings.Count(text, "\r\n"), "each line ends as RFC 5545 has it")
	cal, err := ical.NewDecoder(strings.NewReader(text)).Decode()
	require.NoError(t, err)
	events := cal.Events()
	assert.GreaterOrEqual(t, len(events), 9*6)
	seen, due := map[string]bool{}, 0
	for _, e := range events {
		uid, err := e.Props.Text(ical.PropUID)
		require.NoError(t, err)
		assert.False(t, seen[uid], "one event a stop and day")
		seen[uid] = true
		from, err := e.DateTimeStart(time.UTC)
		require.NoError(t, err)
		to, err := e.DateTimeEnd(time.UTC)
		require.NoError(t, err)
		assert.True(t, to.After(from))
		if d, _ := e.Props.Text(ical.PropDescription); strings.Contains(d, "Backwash") {
			due++
		}
	}
	assert.Positive(t, due)
	assert.Equal(t, "/api/calendar/…", loggedPath("/api/calendar/"+feed.Secret), "the log holds no key")
	assert.NotContains(t, text, "code", "how to get in is nobody's business here")
	// A new address ends the old one; ended, nothing answers.
	old := feed.Secret
	require.Equal(t, http.StatusOK, c.do("POST", "/api/v1/calendar-feed", nil, &feed))
	status, _ = read(old)
	assert.Equal(t, http.StatusNotFound, status)
	require.Equal(t, http.StatusOK, c.do("DELETE", "/api/v1/calendar-feed", nil, nil))
	for _, secret := range []string{feed.Secret, "guess", strings.Repeat("A", 43)} {
		status, _ = read(secret)
		assert.Equal(t, http.StatusNotFound, status)
	}
}
