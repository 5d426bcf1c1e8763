package api

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/app"
)

// A pool that is not on today's lap gets a bench when somebody calls, by whoever goes:
// its technician, or an owner who drives and has no lap.
func TestACallOutOpensABench(t *testing.T) {
	w := serve(t)
	owner, tech := w.as("owner"), w.as("technician")
	var pools []app.PoolLine
	tech.get("/api/pools", &pools)
	var lap app.LapView
	tech.get("/api/lap", &lap)
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
	var out, again app.CallOut
	require.Equal(t, http.StatusOK, tech.do("POST", "/api/pools/"+pool+"/call-outs", nil, &out))
	assert.True(t, out.Fresh)
	require.Equal(t, http.StatusOK, tech.do("POST", "/api/pools/"+pool+"/call-outs", nil, &again))
	assert.Equal(t, app.CallOut{StopID: out.StopID}, again, "twice is once")
	var bench app.Bench
	tech.get("/api/stops/"+out.StopID, &bench)
	assert.Equal(t, pool, bench.Pool.ID)
	var after app.LapView
	tech.get("/api/lap", &after)
	assert.Len(t, after.Stops, len(lap.Stops)+1)
	assert.Equal(t, pool, after.Stops[len(after.Stops)-1].PoolID)

	require.Equal(t, http.StatusOK, owner.do("POST", "/api/pools/"+pool+"/call-outs", nil, &out))
	assert.True(t, out.Fresh, "an owner who drives has a lap of their own")
	owner.get("/api/stops/"+out.StopID, &bench)
	var people []app.Person
	owner.get("/api/technicians", &people)
	assert.Equal(t, "A. Lindqvist", people[len(people)-1].Name)
	var p problemBody
	other := ""
	var all []app.PoolLine
	owner.get("/api/pools", &all)
	mine := map[string]bool{}
	for _, x := range pools {
		mine[x.ID] = true
	}
	for _, x := range all {
		if !mine[x.ID] {
			other = x.ID
		}
	}
	assert.Equal(t, http.StatusForbidden, tech.do("POST", "/api/pools/"+other+"/call-outs", nil, &p), "another's pool")
}

// Lap and week tell one day alike: the same stops, minutes and work (61 minutes spare
// stood against 6).
func TestLapAndWeekAreOneDay(t *testing.T) {
	w := serve(t)
	tech := w.as("technician")
	var lap app.LapView
	tech.get("/api/lap", &lap)
	var week app.WeekView
	tech.get("/api/week", &week)
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
