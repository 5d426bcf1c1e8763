package api

import (
	"maps"
	"net/http"
	"slices"
	"testing"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/judge"
	"fairlap/internal/app/company"
	"fairlap/internal/app/padwork"
	"fairlap/internal/demo/demotest"
)

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
		"stop-file": {
			"POST",
			"/api/v1/stops/" + w.stop + "/file",
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
		"save-about":      {"PUT", "/api/v1/pools/" + w.pool + "/about", about("14 Quince Court", 1)},
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
		"get-audit":           {"GET", "/api/v1/audit", nil},
		"find-customers":      {"GET", "/api/v1/customers?q=a", nil},
		"put-customer":        {"PUT", "/api/v1/customers", customer("C. Customer")},
		"erase-customer":      {"POST", "/api/v1/customers/" + w.customer() + "/erased", nil},
		"export-sheets":       {"GET", "/api/v1/sheets?table=pools&format=csv", nil},
		"export-archive":      {"GET", "/api/v1/archive", nil},
		"list-jobs":           {"GET", "/api/v1/jobs", nil},
		"list-practice-cases": {"GET", "/api/v1/practice/cases", nil},
		"work-practice":       {"POST", "/api/v1/practice/work", practised},
		"get-practice":        {"GET", "/api/v1/practice", nil},
		"erase-practice":      {"DELETE", "/api/v1/practice", nil},
		"keep-practice": {
			"PUT",
			"/api/v1/practice/attempts/" + uuid.NewString(),
			map[string]any{"ask": practised},
		},
		"ask-practice": {
			"POST",
			"/api/v1/practice/tasks",
			map[string]any{"people": []string{w.someone()}, "which": practised.Which},
		},
		"drop-practice":        {"DELETE", "/api/v1/practice/tasks/" + uuid.NewString(), nil},
		"list-practice-people": {"GET", "/api/v1/practice/people", nil},
		"list-sign-ins":        {"GET", "/api/v1/me/sign-ins", nil},
		"end-sign-in":          {"DELETE", "/api/v1/me/sign-ins/" + uuid.NewString(), nil},
		"get-second-step":      {"GET", "/api/v1/me/second-step", nil},
		"new-second-step":      {"POST", "/api/v1/me/second-step", nil},
		"set-second-step": {
			"PUT",
			"/api/v1/me/second-step",
			map[string]string{"password": "x", "key": "", "code": ""},
		},
		"invite-person":    {"POST", "/api/v1/people/" + uuid.NewString() + "/invitation", nil},
		"job-again":        {"POST", "/api/v1/jobs/1/again", nil},
		"start-import":     {"POST", "/api/v1/imports?name=pools.csv", raw("street,volume_gal\n")},
		"get-import":       {"GET", "/api/v1/imports/" + w.importing().String(), nil},
		"list-import-rows": {"GET", "/api/v1/imports/" + w.importing().String() + "/rows", nil},
		"get-speed-plan":   {"GET", "/api/v1/pools/" + w.pool + "/plan", nil},
		"try-speed-plan":   {"POST", "/api/v1/pools/" + w.pool + "/plan/try", map[string]any{"needs": w.needs()}},
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
		"tell-page-error": {"POST", "/api/v1/page-errors", map[string]any{"id": uuid.NewString(), "page": "/", "message": "x",
			"stack": ""}},
		"list-first-steps": {"GET", "/api/v1/first-steps", nil},
		"skip-first-step":  {"PUT", "/api/v1/first-steps/prices", map[string]any{"skipped": true}},
		"list-imports":     {"GET", "/api/v1/imports", nil},
		"withdraw-import":  {"POST", "/api/v1/imports/" + w.importing().String() + "/withdrawal", nil},
		"choose-import":    {"PUT", "/api/v1/imports/" + w.importing().String() + "/choices", map[string]any{}},
		"take-import":      {"POST", "/api/v1/imports/" + w.importing().String() + "/take", nil},
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
			map[string]any{"id": uuid.NewString(), "on": demotest.On("2026-12-01"), "to": demotest.On("2026-12-02")},
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
		"list-drivers":        {"GET", "/api/v1/drivers", nil},
		"get-due-file":        {"GET", "/api/v1/due.csv", nil},
		"change-part": {
			"POST",
			"/api/v1/pools/" + w.pool + "/parts",
			map[string]any{
				"id":    uuid.NewString(),
				"act":   "install",
				"kind":  "Timer",
				"model": "Dial 2",
				"on":    demotest.On("2026-11-20"),
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
					{
						"id":   uuid.NewString(),
						"act":  "note",
						"turn": 0,
						"note": "x",
						"at":   demotest.At("2026-11-24 10:45:00").Format(time.RFC3339),
					},
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
		"create-pool":   {"POST", "/api/v1/pools", newPool("7 Sedge Row")},
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
		"get-limits":       {"GET", "/api/v1/pools/" + w.pool + "/limits", nil},
		"read-walk-file":   {"POST", "/api/v1/walks/read", map[string]string{"text": "rpm,tank_psi\n2400,14\n"}},
		"try-walk":         {"POST", "/api/v1/pools/" + w.pool + "/walk", map[string]any{"readings": walk()}},
		"list-clean-lines": {"GET", "/api/v1/pools/" + w.pool + "/clean-lines", nil},
		"save-clean-line":  {"POST", "/api/v1/pools/" + w.pool + "/clean-lines", newLine()},
		"withdraw-clean-line": {"POST", "/api/v1/pools/" + w.pool + "/clean-lines/" + uuid.NewString() + "/withdrawal",
			map[string]any{"reason": "x"}},
		"ask-receipts":       {"POST", "/api/v1/receipts", map[string]any{"ids": []string{uuid.NewString()}}},
		"get-track-record":   {"GET", "/api/v1/track-record", nil},
		"list-catalogue":     {"GET", "/api/v1/catalogue", nil},
		"get-catalogue-file": {"GET", "/api/v1/catalogue/file", nil},
		"add-plate": {"POST", "/api/v1/catalogue/plates", map[string]any{"part": "pump", "model": "Old 1", "pump": "single",
			"hp": 1}},
		"import-catalogue": {"POST", "/api/v1/catalogue", map[string]string{"text": ownPump}},
	}
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
			"list-drivers",
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
			"ask-receipts",
			"get-service-lives",
			"list-runs",
			"work-out-volume",
			"read-tariff",
			"add-pump",
			"add-plate",
			"list-first-steps",
			"list-sign-ins",
			"get-second-step",
			"new-second-step",
			"list-practice-cases",
			"work-practice",
			"get-practice",
			"keep-practice",
			"choose-what-is-read":
			want = http.StatusOK // of their own
		case "erase-practice", "tell-page-error":
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
	assert.Equal(t, "7 Sedge Row", pools[0].Street)
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
