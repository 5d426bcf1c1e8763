package api

import (
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/judge"
	"fairlap/core/procedure"
	"fairlap/core/words"
	"fairlap/internal/app/company"
	"fairlap/internal/app/office"
	"fairlap/internal/app/padwork"
	"fairlap/internal/app/record"
	"fairlap/internal/app/route"
	"fairlap/internal/app/visit"
	"fairlap/internal/demo/demotest"
)

// A pool that is not on today's lap gets a bench when somebody calls, by whoever goes:
// its technician, or an owner who drives and has no lap.
func TestACallOutOpensABench(t *testing.T) {
	w := serve(t)
	owner, tech := w.as("owner"), w.as("technician")
	pools := tech.pools()
	var lap route.LapView
	tech.get("/api/v1/lap", &lap)
	on := map[string]bool{}
	for _, s := range lap.Stops {
		on[s.PoolID] = true
	}
	pool := ""
	for _, p := range pools {
		if !on[p.ID] {
			pool = p.ID
		}
	}
	require.NotEmpty(t, pool, "this technician has pools of other days")
	var out, again route.CallOut
	require.Equal(t, http.StatusOK, tech.do("POST", "/api/v1/pools/"+pool+"/call-outs", nil, &out))
	assert.True(t, out.Fresh)
	require.Equal(t, http.StatusOK, tech.do("POST", "/api/v1/pools/"+pool+"/call-outs", nil, &again))
	assert.Equal(t, route.CallOut{StopID: out.StopID}, again, "twice is once")
	var bench visit.Bench
	tech.get("/api/v1/stops/"+out.StopID, &bench)
	assert.Equal(t, pool, bench.Pool.ID)
	var after route.LapView
	tech.get("/api/v1/lap", &after)
	assert.Len(t, after.Stops, len(lap.Stops)+1)
	assert.Equal(t, pool, after.Stops[len(after.Stops)-1].PoolID)

	require.Equal(t, http.StatusOK, owner.do("POST", "/api/v1/pools/"+pool+"/call-outs", nil, &out))
	assert.True(t, out.Fresh, "an owner who drives has a lap of their own")
	owner.get("/api/v1/stops/"+out.StopID, &bench)
	var people []company.Person
	owner.get("/api/v1/technicians", &people)
	assert.Equal(t, "A. Lindqvist", people[len(people)-1].Name)
	var p problemBody
	other := ""
	all := owner.pools()
	mine := map[string]bool{}
	for _, x := range pools {
		mine[x.ID] = true
	}
	for _, x := range all {
		if !mine[x.ID] {
			other = x.ID
		}
	}
	assert.Equal(
		t,
		http.StatusForbidden,
		tech.do("POST", "/api/v1/pools/"+other+"/call-outs", nil, &p),
		"another's pool",
	)
}

// Lap and week tell one day alike: the same stops, minutes and work (61 minutes spare
// stood against 6).
func TestLapAndWeekAreOneDay(t *testing.T) {
	w := serve(t)
	tech := w.as("technician")
	var lap route.LapView
	tech.get("/api/v1/lap", &lap)
	var week route.WeekView
	tech.get("/api/v1/week", &week)
	require.NotEmpty(t, week.Days)
	day := week.Days[0]
	require.Equal(t, lap.Day, day.Date)
	assert.Len(t, day.Stops, len(lap.Stops))
	assert.InDelta(t, day.Minutes, lap.Minutes, 1)
	assert.Len(t, lap.Slid, len(day.Slid))
	work := map[string]int{}
	for _, s := range day.Stops {
		work[s.PoolID] = len(s.Due)
	}
	for _, s := range lap.Stops {
		assert.GreaterOrEqual(t, work[s.PoolID], len(s.Due), "%s: what is not said as its reason", s.Street)
	}
}

// A walk shows what each speed gives for its power: gallons a kilowatt hour, amps and the
// power of a turnover follow from its own flow and watts. A walk that no such pump can
// give is said to be another pump's.
func TestAWalkShowsWhatASpeedGives(t *testing.T) {
	w := serve(t)
	var fit padwork.WalkFit
	try := func(rows ...map[string]string) {
		t.Helper()
		var readings []judge.TypedReading
		for _, r := range rows {
			readings = append(
				readings,
				judge.TypedReading{Speed: r["speed"], Tank: r["tank"], Flow: r["flow"], Power: r["power"]},
			)
		}
		require.Equal(
			t,
			http.StatusOK,
			w.as("technician").do("POST", "/api/v1/pools/"+w.pool+"/walk", map[string]any{"readings": readings}, &fit),
		)
	}
	try(
		map[string]string{"speed": "1500", "tank": "4", "flow": "27"},
		map[string]string{"speed": "2400", "tank": "9.5", "flow": "44"},
		map[string]string{"speed": "3450", "tank": "19"},
	)
	require.Len(t, fit.At, 3)
	for i, a := range fit.At {
		assert.InDelta(t, a.GPM*60/(a.W/1000), a.GalPerKWh, 1e-6)
		assert.InDelta(t, 18500/a.GalPerKWh*0.16, a.TurnoverCost, 0.01, "18,500 gal at 0.16")
		assert.InDelta(t, a.W/230/0.98, a.AmpsLow, 1e-6)
		assert.InDelta(t, a.W/230/0.6, a.AmpsHigh, 1e-6, "a drive without correction draws more than its watts say")
		if i > 0 {
			assert.Less(t, a.GalPerKWh, fit.At[i-1].GalPerKWh, "slower moves more water for its power")
		}
	}
	assert.False(t, fit.OtherPump)
	try(
		map[string]string{"speed": "1500", "tank": "1"},
		map[string]string{"speed": "2400", "tank": "2"},
		map[string]string{"speed": "3450", "tank": "4", "flow": "20"},
	)
	assert.True(t, fit.OtherPump)
}

// A pump that no list has is entered by whoever stands before it, once.
func TestAPumpIsEnteredFromItsPlate(t *testing.T) {
	w := serve(t)
	tech := w.as("technician")
	plate := map[string]any{
		"model":    "Plate 9",
		"kind":     "variable",
		"topRpm":   3450,
		"leastRpm": 600,
		"watts":    1200,
		"points":   []map[string]any{{"gpm": 40, "ft": 77}, {"gpm": 80, "ft": 58}},
	}
	var items []padwork.CatalogueItem
	require.Equal(t, http.StatusOK, tech.do("POST", "/api/v1/catalogue/pumps", plate, &items))
	assert.True(
		t,
		slices.ContainsFunc(
			items,
			func(i padwork.CatalogueItem) bool { return i.Model == "Plate 9" && i.Own && i.Pump != nil },
		),
	)
	var p problemBody
	assert.Equal(t, http.StatusUnprocessableEntity, tech.do("POST", "/api/v1/catalogue/pumps", plate, &p))
	assert.Contains(t, p.at("model"), "of this name already")
	plate["model"], plate["points"] = "Plate 10", []map[string]any{{"gpm": 40, "ft": 50}, {"gpm": 80, "ft": 58}}
	assert.Equal(t, http.StatusUnprocessableEntity, tech.do("POST", "/api/v1/catalogue/pumps", plate, &p))
	assert.Equal(t, "Each point needs more flow and less head than the one before.", p.at("points"))
}

// A pad's limit is said with its water, and a pool's own share of the flow moves it: the
// loads on record are read in the new unit, none is changed.
func TestAPoolsOwnLimit(t *testing.T) {
	w := serve(t)
	owner := w.as("owner")
	var bench, tight visit.Bench
	owner.get("/api/v1/stops/"+w.stop, &bench)
	assert.Regexp(t, `^Limit here: .+; \d+ gpm of \d+ gpm left at [\d,]+ rpm\.$`, say(bench.Pad.Limit))
	var record, after record.PoolRecordView
	owner.get("/api/v1/pools/"+w.pool, &record)
	var kept office.PoolCleaningView
	owner.get("/api/v1/pools/"+w.pool+"/cleaning", &kept)
	var p problemBody
	assert.Equal(
		t,
		http.StatusUnprocessableEntity,
		owner.do(
			"PUT",
			"/api/v1/pools/"+w.pool+"/cleaning",
			map[string]any{"version": kept.Version, "flowLossPercent": 95},
			&p,
		),
	)
	assert.Contains(t, p.at("flowLossPercent"), "between 0 and 80")
	require.Equal(
		t,
		http.StatusOK,
		owner.do(
			"PUT",
			"/api/v1/pools/"+w.pool+"/cleaning",
			map[string]any{"version": kept.Version, "flowLossPercent": 10},
			nil,
		),
	)
	owner.get("/api/v1/stops/"+w.stop, &tight)
	assert.Contains(t, say(tight.Pad.Limit), "10 % of the flow gone")
	owner.get("/api/v1/pools/"+w.pool, &after)
	require.Len(t, after.Points, len(record.Points))
	for i := range after.Points {
		if !record.Points[i].Cleaned && record.Points[i].Load > 0.2 {
			assert.Greater(
				t,
				after.Points[i].Load,
				1.3*record.Points[i].Load,
				"the same dirt is more of a stricter limit",
			)
		}
	}
	assert.Greater(t, tight.Forecast.Mean, bench.Forecast.Mean)
}

// New sand is a new part: its life starts with the run that put it in, once.
func TestNewSandIsANewPart(t *testing.T) {
	w := serve(t)
	h := w.hand(t, "technician", w.pool, procedure.SandChange, map[string]any{"speed": 2400})
	h.on("", map[string]string{"speed": "2400", "tank": "9"})
	require.Empty(t, h.run.Why)
	for range 2 { // told twice, it is on record once
		require.Equal(t, http.StatusOK, h.send(nil, h.event(procedure.ActNote, "")))
		var record record.PoolRecordView
		h.get("/api/v1/pools/"+w.pool, &record)
		sand := 0
		for _, p := range record.Parts {
			if p.Kind == "sand" {
				sand++
				assert.Equal(t, demotest.On("2026-11-24"), p.InstalledOn)
			}
		}
		assert.Equal(t, 1, sand)
	}
}

// A new tank gauge voids the clean line's level, until a line is read with it.
func TestANewGaugeVoidsTheCleanLinesLevel(t *testing.T) {
	w := serve(t)
	tech := w.as("technician")
	var record record.PoolRecordView
	tech.get("/api/v1/pools/"+w.pool, &record)
	gauge := ""
	for _, p := range record.Parts {
		if p.Kind == "tank-gauge" {
			gauge = p.ID
		}
	}
	require.NotEmpty(t, gauge)
	said := func() bool {
		var bench visit.Bench
		tech.get("/api/v1/stops/"+w.stop, &bench)
		return slices.ContainsFunc(
			bench.Notices,
			func(s words.Message) bool { return strings.Contains(string(s), "gauge is newer than the clean line") },
		)
	}
	assert.False(t, said())
	require.Equal(
		t,
		http.StatusOK,
		tech.do(
			"POST",
			"/api/v1/pools/"+w.pool+"/parts",
			map[string]any{
				"id":    uuid.NewString(),
				"act":   "replace",
				"part":  gauge,
				"model": "0–60 psi",
				"on":    demotest.On("2026-11-24"),
			},
			nil,
		),
	)
	assert.True(t, said())
	line := map[string]any{
		"id":      uuid.NewString(),
		"takenAt": demotest.At("2026-11-24 10:45:00").Format(time.RFC3339),
		"note":    "",
		"readings": []map[string]string{
			{"speed": "1500", "tank": "4", "vacuum": "", "flow": "", "power": ""},
			{"speed": "2400", "tank": "9.5", "vacuum": "", "flow": "", "power": ""},
			{"speed": "3450", "tank": "19", "vacuum": "", "flow": "", "power": ""},
		},
	}
	require.Equal(t, http.StatusOK, tech.do("POST", "/api/v1/pools/"+w.pool+"/clean-lines", line, nil))
	assert.False(t, said(), "read again with the new one")
}
