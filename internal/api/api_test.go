package api

import (
	"context"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/emersion/go-ical"
	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/diagnosis"
	"fairlap/core/judge"
	"fairlap/internal/app"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/record"
	"fairlap/internal/app/route"
	"fairlap/internal/app/visit"
	"fairlap/internal/app/work"
	"fairlap/internal/demo/demotest"
)

func TestMain(m *testing.M) { demotest.Main(m) }

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
		{judge.TypedReading{Speed: "2400", Tank: "14 gpm"}, "readings[0].tank", "looks like a flow"},
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
		"14 Quince Court":    {"healthy", "clean", "Backwash due"},
		"5 Bayberry Close":   {"healthy", "leave", "Fine"},
		"3 Larkspur Lane":    {"return-restricted", "fix-first", "Fine"},
		"40 Fennel Walk":     {"impeller-clogged", "fix-first", "Fine"},
		"27 Juniper Rise":    {"filter-loaded", "hold", "Hold 24 h"},
		"8 Heron Reach":      {"air-lid", "fix-first", "Open issue"},
		"12 Mistral Way":     {"healthy", "leave", "Salt cell short"},
		"61 Tamarack Street": {"", "clean", "Recharge DE"},
		"19 Sorrel Bend":     {"healthy", "", "First visit"},
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
	assert.Contains(t, p.at("item"), "doesn't")
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
			assert.Contains(t, say(s.Why), "wait best")
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
		assert.Equal(
			t,
			planned[s.PoolID].UTC(),
			s.Arrive.UTC(),
			"the week says today's hours as the lap does: %s",
			s.Street,
		)
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
