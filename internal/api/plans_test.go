package api

import (
	"bytes"
	"encoding/csv"
	"io"
	"net/http"
	"slices"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/pdfcpu/pdfcpu/pkg/api"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/app/company"
	"fairlap/internal/app/equipment"
	"fairlap/internal/app/office"
	"fairlap/internal/app/record"
	"fairlap/internal/app/route"
	"fairlap/internal/app/visit"
	"fairlap/internal/demo/demotest"
)

// onDay finds a pool on the board: the day, whose, and the stop.
func onDay(week route.WeekView, pool string) (day, who string, stop route.WeekStop) {
	for _, d := range week.Days {
		for _, s := range d.Stops {
			if s.PoolID == pool {
				return d.Date, d.Technician, s
			}
		}
	}
	return "", "", route.WeekStop{}
}

func (c *client) move(pool, on, to string, who *uuid.UUID) (int, problemBody) {
	var p problemBody
	body := map[string]any{"id": uuid.Must(uuid.NewV7()), "on": on, "to": to}
	if who != nil {
		body["technician"] = who
	}
	var out any
	if status := c.do("POST", "/api/v1/pools/"+pool+"/visit-moves", body, nil); status == http.StatusNoContent {
		return status, p
	}
	status := c.do("POST", "/api/v1/pools/"+pool+"/visit-moves", body, &out)
	c.do("POST", "/api/v1/pools/"+pool+"/visit-moves", body, &p)
	return status, p
}

func TestAVisitGoesToAnotherDayAndIntoOtherHands(t *testing.T) {
	w := serve(t)
	desk, mine := w.as("office"), w.as("technician")
	var week route.WeekView
	desk.get("/api/v1/week", &week)
	day, who, stop := onDay(week, w.pool)
	require.Equal(t, []string{demotest.On("2026-11-24"), "O. Brandt"}, []string{day, who})
	assert.False(t, stop.Moved)
	var drivers []company.Person
	desk.get("/api/v1/drivers", &drivers)
	assert.Len(t, drivers, 3)
	var own []company.Person
	mine.get("/api/v1/drivers", &own)
	assert.Len(t, own, 1, "a technician gives nobody's stops away")
	assert.GreaterOrEqual(t, len(week.Strip), 5*5-1, "five weeks of five days")

	// Thursday: today's lap follows, and its due work goes with it.
	status, p := desk.move(w.pool, demotest.On("2026-11-24"), demotest.On("2026-11-26"), nil)
	require.Equal(t, http.StatusNoContent, status, p)
	desk.get("/api/v1/week", &week)
	day, _, stop = onDay(week, w.pool)
	assert.Equal(t, demotest.On("2026-11-26"), day)
	assert.True(t, stop.Moved)
	assert.Equal(t, demotest.On("2026-11-24"), stop.On)
	assert.NotEmpty(t, stop.Due, "its work comes with it")
	var lap route.LapView
	mine.get("/api/v1/lap", &lap)
	assert.Len(t, lap.Stops, 8)
	assert.False(t, slices.ContainsFunc(lap.Stops, func(s route.StopView) bool { return s.PoolID == w.pool }))

	// Back, then to somebody else for once: they see it, Brandt's lap is one shorter.
	status, _ = desk.move(w.pool, demotest.On("2026-11-24"), "", nil)
	require.Equal(t, http.StatusNoContent, status)
	mine.get("/api/v1/lap", &lap)
	assert.Equal(t, w.pool, lap.Stops[len(lap.Stops)-1].PoolID, "back on today's lap, last")
	assert.True(t, lap.Stops[8].PlannedAt.After(lap.Stops[7].PlannedAt))
	teague := uuid.MustParse(
		drivers[slices.IndexFunc(drivers, func(x company.Person) bool { return x.Name == "W. Teague" })].ID,
	)
	status, _ = desk.move(w.pool, demotest.On("2026-11-24"), demotest.On("2026-11-24"), &teague)
	require.Equal(t, http.StatusNoContent, status)
	desk.get("/api/v1/lap?technician="+teague.String(), &lap)
	at := slices.IndexFunc(lap.Stops, func(s route.StopView) bool { return s.PoolID == w.pool })
	require.GreaterOrEqual(t, at, 0)
	desk.get("/api/v1/week", &week)
	_, who, _ = onDay(week, w.pool)
	assert.Equal(t, "W. Teague", who)

	for _, x := range []struct{ on, to, field, text string }{
		{demotest.On("2026-11-25"), demotest.On("2026-11-26"), "on", "planned on that day"},
		{"soon", demotest.On("2026-11-26"), "on", "planned on that day"},
		{demotest.On("2026-12-01"), demotest.On("2026-11-23"), "to", "from today on"},
		{demotest.On("2026-12-01"), demotest.On("2027-11-23"), "to", "at most 60 days ahead"},
		{demotest.On("2026-12-01"), "the 3rd", "to", "like 2026-11-24"},
		{demotest.On("2026-12-01"), demotest.On("2026-12-08"), "to", "Another visit"},
	} {
		status, p := desk.move(w.pool, x.on, x.to, nil)
		assert.Equal(t, http.StatusUnprocessableEntity, status, "%+v", x)
		assert.Contains(t, p.at(x.field), x.text)
	}
	status, _ = mine.move(lap.Stops[0].PoolID, demotest.On("2026-12-01"), demotest.On("2026-12-02"), &teague)
	assert.Equal(t, http.StatusForbidden, status, "a technician hands nobody else's day out")
}

// A logged stop stays on the lap that it was logged on.
func TestWhatWasSeenTodayIsNotMoved(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	require.Equal(t, http.StatusOK, c.do("POST", "/api/v1/visits", draft(w.stop), nil))
	c.move(w.pool, demotest.On("2026-11-24"), demotest.On("2026-11-26"), nil)
	var lap route.LapView
	c.get("/api/v1/lap", &lap)
	assert.Equal(t, w.stop, lap.Stops[0].ID)
	status, p := c.move(w.pool, demotest.On("2026-12-01"), demotest.On("2026-11-24"), nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, p.at("to"), "seen today")
}

// The desk moves a stop while somebody stands there: what they typed is kept.
func TestAStopTakenAwayKeepsWhatIsTyped(t *testing.T) {
	w := serve(t)
	status, p := w.as("office").move(w.pool, demotest.On("2026-11-24"), demotest.On("2026-11-26"), nil)
	require.Equal(t, http.StatusNoContent, status, p)
	c := w.as("technician")
	var bench visit.Bench
	c.get("/api/v1/stops/"+w.stop, &bench)
	var kept visit.VisitRecord
	require.Equal(t, http.StatusOK, c.do("POST", "/api/v1/visits", draft(w.stop), &kept))
	assert.Equal(t, w.pool, kept.PoolID)
	status, p = w.as("office").move(w.pool, demotest.On("2026-12-01"), demotest.On("2027-03-02"), nil)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, p.at("to"), "at most 60 days ahead")
}

func TestALapIsShortenedAndPutBack(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	require.Equal(t, http.StatusOK, c.do("POST", "/api/v1/visits", draft(w.stop), nil))
	var short route.Shorter
	c.get("/api/v1/laps/"+w.lap+"/shorter", &short)
	require.Len(t, short.Order, 9)
	assert.Equal(t, w.stop, short.Order[0].ID, "what is done stays where it is")
	assert.Equal(t, w.stops, short.Now)
	assert.Less(t, short.Best.Miles, short.Given.Miles)
	assert.Less(t, short.Best.Minutes, short.Given.Minutes)
	order := make([]string, len(short.Order))
	for i, s := range short.Order {
		order[i] = s.ID
	}
	var lap route.LapView
	require.Equal(
		t,
		http.StatusOK,
		c.do("PUT", "/api/v1/laps/"+w.lap+"/order", map[string]any{"version": short.Version, "stops": order}, &lap),
	)
	for i, s := range lap.Stops {
		assert.Equal(t, order[i], s.ID)
		assert.Equal(t, i+1, s.Position)
		if i > 0 {
			assert.True(t, s.PlannedAt.After(lap.Stops[i-1].PlannedAt), "in order of arrival")
		}
	}
	assert.Equal(
		t,
		http.StatusConflict,
		c.do("PUT", "/api/v1/laps/"+w.lap+"/order", map[string]any{"version": short.Version, "stops": short.Now}, nil),
		"it changed since",
	)
	require.Equal(
		t,
		http.StatusOK,
		c.do("PUT", "/api/v1/laps/"+w.lap+"/order", map[string]any{"version": lap.Version, "stops": short.Now}, &lap),
		"undone",
	)
	assert.Equal(t, w.stops[3], lap.Stops[3].ID)
	for _, bad := range [][]string{order[1:], append([]string{order[1]}, order[1:]...),
		append(slices.Clone(order[:8]), uuid.NewString()), append([]string{order[1], order[0]}, order[2:]...)} {
		assert.Equal(
			t,
			http.StatusUnprocessableEntity,
			c.do("PUT", "/api/v1/laps/"+w.lap+"/order", map[string]any{"version": lap.Version, "stops": bad}, nil),
		)
	}
}

// Where nobody has written a lap, the plan writes it: once, whoever asks first.
func TestTodaysLapComesFromThePlan(t *testing.T) {
	w := serve(t)
	desk := w.as("office")
	for _, text := range []string{"delete from stops where not exists (select 1 from visits v where v.stop_id = stops.id)", "delete from laps where not exists (select 1 from stops s where s.lap_id = laps.id)"} {
		_, err := w.town.Store.Pool.Exec(t.Context(), text)
		require.NoError(t, err)
	}
	var people []company.Person
	desk.get("/api/v1/technicians", &people)
	var first, second route.LapView
	desk.get("/api/v1/lap?technician="+people[0].ID, &first)
	desk.get("/api/v1/lap?technician="+people[0].ID, &second)
	assert.Equal(t, first.ID, second.ID)
	require.Len(t, first.Stops, 9)
	zone, err := time.LoadLocation(first.Zone)
	require.NoError(t, err)
	assert.Equal(t, 8, first.Stops[0].PlannedAt.In(zone).Hour(), "the day starts at eight")
	assert.LessOrEqual(t, first.Minutes, 450)
	for i := range first.Stops[1:] {
		gap := first.Stops[i+1].PlannedAt.Sub(first.Stops[i].PlannedAt).Minutes() - float64(first.Stops[i].Minutes)
		assert.Greater(t, gap, 3.0, "the way between takes its time")
	}
	assert.Equal(
		t,
		http.StatusNotFound,
		desk.do("GET", "/api/v1/lap?day="+demotest.On("2026-11-30")+"&technician="+people[0].ID, nil, nil),
		"other days are the week's",
	)
}

func TestALapOnPaper(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	res, err := c.http.Get(w.server.URL + "/api/v1/laps/" + w.lap + "/sheet.pdf")
	require.NoError(t, err)
	defer res.Body.Close()
	pdf, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	require.Equal(t, http.StatusOK, res.StatusCode)
	assert.Equal(t, "application/pdf", res.Header.Get("Content-Type"))
	require.NoError(t, api.Validate(bytes.NewReader(pdf), nil))
}

// Whoever leaves can't sign in any more; their pools and today's stops go to
// another, or stand as nobody's until somebody takes them.
func TestATechnicianLeaves(t *testing.T) {
	w := serve(t)
	desk, gone := w.as("office"), w.as("technician")
	var people []company.Person
	desk.get("/api/v1/technicians", &people)
	by := map[string]string{}
	for _, p := range people {
		by[p.Name] = p.ID
	}
	brandt, teague := by["O. Brandt"], by["W. Teague"]
	assert.Equal(
		t,
		http.StatusUnprocessableEntity,
		desk.do("POST", "/api/v1/technicians/"+brandt+"/leave", map[string]any{"to": brandt}, nil),
	)
	assert.Equal(
		t,
		http.StatusNotFound,
		desk.do("POST", "/api/v1/technicians/"+uuid.NewString()+"/leave", map[string]any{"to": teague}, nil),
	)
	assert.Equal(
		t,
		http.StatusForbidden,
		gone.do("POST", "/api/v1/technicians/"+teague+"/leave", map[string]any{}, nil),
	)
	var before route.LapView
	desk.get("/api/v1/lap?technician="+teague, &before)
	var left struct{ Pools int }
	require.Equal(
		t,
		http.StatusOK,
		desk.do("POST", "/api/v1/technicians/"+brandt+"/leave", map[string]any{"to": teague}, &left),
	)
	assert.Equal(t, 21, left.Pools)
	assert.Equal(t, http.StatusUnauthorized, gone.do("GET", "/api/v1/lap", nil, nil), "signed in no more")
	var lap route.LapView
	desk.get("/api/v1/lap?technician="+teague, &lap)
	assert.Len(t, lap.Stops, len(before.Stops)+9, "today's stops went along")
	require.Equal(t, http.StatusOK, desk.do("POST", "/api/v1/technicians/"+teague+"/leave", map[string]any{}, nil))
	var week route.WeekView
	desk.get("/api/v1/week", &week)
	nobody := 0
	for _, d := range week.Days {
		assert.NotEqual(t, "W. Teague", d.Technician)
		if d.TechnicianID == "" {
			nobody += len(d.Stops)
		}
	}
	assert.Greater(t, nobody, 30, "on the board, as nobody's")
}

func TestAPoolHasItsOwnSchool(t *testing.T) {
	w := serve(t)
	desk := w.as("office")
	path := "/api/v1/pools/" + w.pool + "/cleaning"
	var v office.PoolCleaningView
	desk.get(path, &v)
	assert.Nil(t, v.Own.School)
	assert.Equal(t, "rise", string(v.Company.School))
	require.Equal(
		t,
		http.StatusOK,
		desk.do("PUT", path, map[string]any{"version": v.Version, "school": "calendar"}, &v),
	)
	assert.Equal(t, "calendar", string(*v.Own.School))
	var due route.DueView
	desk.get("/api/v1/pools/"+w.pool+"/due", &due)
	at := slices.IndexFunc(due.Items, func(d route.DueItem) bool { return d.Item == "clean-filter" })
	require.GreaterOrEqual(t, at, 0)
	assert.Equal(t, "date", string(due.Items[at].Ground), "here by the calendar")
	assert.NotEmpty(t, due.Routine)
	assert.Equal(t, http.StatusConflict, desk.do("PUT", path, map[string]any{"version": 1, "school": "rise"}, nil))
	var p problemBody
	require.Equal(
		t,
		http.StatusUnprocessableEntity,
		desk.do("PUT", path, map[string]any{"version": v.Version, "limitRisePsi": 90}, &p),
	)
	assert.Contains(t, p.at("limitRisePsi"), "between 2 and 20")
	require.Equal(
		t,
		http.StatusOK,
		desk.do("PUT", path, map[string]any{"version": v.Version}, nil),
		"the company's again",
	)
	var again office.PoolCleaningView
	desk.get(path, &again)
	assert.Nil(t, again.Own.School)
}

func TestLivesAreTheCompanysOrAPartsOwn(t *testing.T) {
	w := serve(t)
	desk := w.as("office")
	var pool record.PoolRecordView
	years := func(kind string) float64 {
		desk.get("/api/v1/pools/"+w.pool, &pool)
		at := slices.IndexFunc(pool.Parts, func(p equipment.Part) bool { return p.Kind == kind })
		return *pool.Parts[at].ExpectedYears
	}
	assert.Equal(t, 4.0, years("sand"))
	s := settings(1)
	s["partLives"] = map[string]any{"sand": map[string]any{"years": 3.5, "kgal": 0}}
	require.Equal(t, http.StatusOK, desk.do("PUT", "/api/v1/settings", s, nil))
	assert.Equal(t, 3.5, years("sand"))
	sand := pool.Parts[slices.IndexFunc(pool.Parts, func(p equipment.Part) bool { return p.Kind == "sand" })].ID
	require.Equal(
		t,
		http.StatusNoContent,
		desk.do("PUT", "/api/v1/equipment/"+sand+"/life", map[string]any{"years": 3.41}, nil),
	)
	assert.Equal(t, 3.41, years("sand"))
	var due route.DueView
	desk.get("/api/v1/pools/"+w.pool+"/due", &due)
	assert.True(
		t,
		slices.ContainsFunc(due.Items, func(d route.DueItem) bool { return d.Item == "part:sand" }),
		"its life is over these days",
	)
	assert.Equal(
		t,
		http.StatusUnprocessableEntity,
		desk.do("PUT", "/api/v1/equipment/"+sand+"/life", map[string]any{"years": 900}, nil),
	)
	assert.Equal(
		t,
		http.StatusNotFound,
		desk.do("PUT", "/api/v1/equipment/"+uuid.NewString()+"/life", map[string]any{"years": 9}, nil),
	)
	s["version"], s["partLives"], s["serviceDays"], s["seasonOpens"] = 2, map[string]any{
		"Moon": map[string]any{"years": 3, "kgal": 0},
	}, map[string]any{
		"cell-descale": 0,
	}, "04/15"
	var p problemBody
	require.Equal(t, http.StatusUnprocessableEntity, desk.do("PUT", "/api/v1/settings", s, &p))
	for _, field := range []string{"partLives.Moon", "serviceDays.cell-descale", "seasonOpens", "seasonCloses"} {
		assert.NotEmpty(t, p.at(field), field)
	}
}

// Work that the desk puts on a day goes there; not where it is held, and not where
// nobody comes.
func TestWorkIsPutOnAVisit(t *testing.T) {
	w := serve(t)
	desk := w.as("office")
	path := "/api/v1/pools/" + w.pool
	plan := func(day string) (route.DueView, problemBody, int) {
		var v route.DueView
		var p problemBody
		body := map[string]any{
			"id":     uuid.Must(uuid.NewV7()),
			"item":   "clean-filter",
			"act":    "plan",
			"day":    day,
			"reason": "",
		}
		status := desk.do("POST", path+"/due-marks", body, nil)
		body["id"] = uuid.Must(uuid.NewV7())
		if status == http.StatusOK {
			desk.do("POST", path+"/due-marks", body, &v)
		} else {
			desk.do("POST", path+"/due-marks", body, &p)
		}
		return v, p, status
	}
	v, _, status := plan(demotest.On("2026-12-08"))
	require.Equal(t, http.StatusOK, status)
	at := slices.IndexFunc(v.Items, func(d route.DueItem) bool { return d.Item == "clean-filter" })
	assert.Equal(
		t,
		demotest.On("2026-12-08"),
		v.Items[at].Visit.Format(time.DateOnly),
		"later than the forecast would have it: the desk's choice",
	)
	_, p, status := plan(demotest.On("2026-12-03"))
	require.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, p.at("day"), "Move the visit first")
	s := settings(1)
	s["noDischarge"] = []string{demotest.On("2026-12-01")}
	require.Equal(t, http.StatusOK, desk.do("PUT", "/api/v1/settings", s, nil))
	_, p, status = plan(demotest.On("2026-12-01"))
	require.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, p.at("day"), "No water may be discharged")
	// Today is one of those days; the override is for today alone.
	s["version"], s["noDischarge"] = 2, []string{demotest.On("2026-11-24"), demotest.On("2026-12-01")}
	require.Equal(t, http.StatusOK, desk.do("PUT", "/api/v1/settings", s, nil))
	_, p, status = plan(demotest.On("2026-11-24"))
	require.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, p.at("day"), "no water may be discharged")
	body := map[string]any{
		"id":     uuid.Must(uuid.NewV7()),
		"item":   "clean-filter",
		"act":    "override",
		"reason": "to the sewer clean-out, the town says yes",
	}
	require.Equal(t, http.StatusOK, desk.do("POST", path+"/due-marks", body, nil))
	v, _, status = plan(demotest.On("2026-11-24"))
	require.Equal(t, http.StatusOK, status)
	at = slices.IndexFunc(v.Items, func(d route.DueItem) bool { return d.Item == "clean-filter" })
	assert.Equal(t, demotest.On("2026-11-24"), v.Items[at].Visit.Format(time.DateOnly))
	_, p, status = plan(demotest.On("2026-12-01"))
	require.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, p.at("day"), "No water may be discharged")
}

// The file of due work has each pool's, once, and of everybody the soonest first; a technician's
// has their own.
func TestTheFileOfDueWorkIsEveryPoolsDueWork(t *testing.T) {
	w := serve(t)
	w.sql("update pools set technician_id = null where id in (select id from pools order by id limit 2)")
	want := map[string]int{}
	desk := w.as("office")
	for _, p := range desk.pools() {
		var due route.DueView
		desk.get("/api/v1/pools/"+p.ID+"/due", &due)
		if len(due.Items) > 0 {
			want[p.Street] = len(due.Items)
		}
	}
	require.Greater(t, len(want), 20)
	read := func(c *client) (got map[string]int, people []string) {
		status, kind, content := c.fetch("/api/v1/due.csv")
		require.Equal(t, http.StatusOK, status)
		assert.Equal(t, "text/csv; charset=utf-8", kind)
		lines, err := csv.NewReader(bytes.NewReader(content)).ReadAll()
		require.NoError(t, err)
		assert.Equal(
			t,
			[]string{"by", "visit", "technician", "pool", "work", "minutes", "ground", "reason", "held"},
			lines[0],
		)
		got = map[string]int{}
		last := ""
		for _, l := range lines[1:] {
			if len(people) == 0 || people[len(people)-1] != l[2] {
				people, last = append(people, l[2]), ""
			}
			assert.LessOrEqual(t, last, l[0], "soonest first")
			got[l[3]]++
			last = l[0]
		}
		return got, people
	}
	got, people := read(desk)
	assert.Equal(t, want, got)
	assert.Len(t, people, len(slices.Compact(slices.Sorted(slices.Values(people)))), "a person's after another's")
	mine, people := read(w.as("technician"))
	assert.NotEmpty(t, mine)
	assert.Less(t, len(mine), len(want))
	assert.Len(t, people, 1)
}
