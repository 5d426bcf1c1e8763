package api

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/speedplan"
	"fairlap/internal/app/padwork"
)

// needs are the first pool's.
func (w *world) needs() speedplan.Needs {
	var v padwork.PlanView
	w.as("owner").get("/api/v1/pools/"+w.pool+"/plan", &v)
	return v.Needs
}

func TestAPoolIsPlannedFromItsPresentProgramme(t *testing.T) {
	w := serve(t)
	c, desk := w.as("technician"), w.as("office")
	path := "/api/v1/pools/" + w.pool + "/plan"
	var v padwork.PlanView
	c.get(path, &v)
	require.NotNil(t, v.Plan, "%v", v.Conflict)
	assert.NotEmpty(t, v.Present.Slots)
	assert.Empty(t, v.Plan.Broken)
	assert.Len(t, v.Prices, 24)
	assert.NotEmpty(t, v.Windows)
	// A slot put into the peak says what it breaks.
	n := v.Needs
	n.Peak, n.PeakWay, n.LowRPM = speedplan.Span{From: 16, To: 21}, speedplan.PeakLow, 1500
	var edited padwork.Programme
	require.Equal(
		t,
		200,
		c.do(
			"POST",
			path+"/slots",
			map[string]any{"needs": n, "slots": []map[string]any{{"start": 15, "hours": 4, "rpm": 2600}}},
			&edited,
		),
	)
	text := ""
	for _, b := range edited.Broken {
		text += string(b.Text)
	}
	assert.Contains(t, text, "Low in the utility's peak: at most 1,500 rpm, 4:00 PM–9:00 PM: not kept at 4:00 PM.")
	// Needs that collide are named.
	n.Turnovers = 6
	var tried padwork.PlanView
	require.Equal(t, 200, c.do("POST", path+"/try", map[string]any{"needs": n}, &tried))
	require.NotNil(t, tried.Conflict)
	assert.NotEmpty(t, tried.Conflict.Mends)
	n.Turnovers, n.Slots = 1, 0
	var p problemBody
	assert.Equal(t, 422, c.do("POST", path+"/try", map[string]any{"needs": n}, &p))
	assert.NotEmpty(t, p.at("needs.slots"))
	// The desk keeps a pool's own needs, and takes them back.
	n.Slots = 4
	assert.Equal(t, 403, c.do("PUT", path+"/needs", map[string]any{"needs": n, "version": v.Version}, nil))
	require.Equal(t, 200, desk.do("PUT", path+"/needs", map[string]any{"needs": n, "version": v.Version}, &tried))
	assert.True(t, tried.Own)
	assert.Equal(t, 4, tried.Needs.Slots)
	assert.Equal(t, 409, desk.do("PUT", path+"/needs", map[string]any{"version": v.Version}, nil))
	require.Equal(t, 200, desk.do("PUT", path+"/needs", map[string]any{"version": tried.Version}, &tried))
	assert.False(t, tried.Own)
	// What the pump runs now goes on record as a revision of its pad.
	require.Equal(
		t,
		200,
		c.do(
			"PUT",
			path+"/programme",
			map[string]any{"slots": []map[string]any{{"start": 8, "hours": 9, "rpm": 2050}}},
			&tried,
		),
	)
	require.Len(t, tried.Present.Slots, 1)
	assert.Equal(t, 2050.0, tried.Present.Slots[0].RPM)
	assert.Equal(t, "pad", w.log("kind=pad")[0].Kind)
	assert.Equal(
		t,
		422,
		c.do(
			"PUT",
			path+"/programme",
			map[string]any{
				"slots": []map[string]any{{"start": 8, "hours": 9, "rpm": 2050}, {"start": 9, "hours": 2, "rpm": 900}},
			},
			&p,
		),
	)
	assert.Contains(t, p.at("slots"), "overlap")
}

// Savings of the plan over the present programme at every pool of the town, printed; no
// plan is dearer than a present programme that meets the same needs.
func TestEveryPoolOfTheTownIsPlanned(t *testing.T) {
	w := serve(t)
	owner := w.as("owner")
	pools := owner.pools()
	planned, saved := 0, 0.0
	for _, p := range pools {
		var v padwork.PlanView
		owner.get("/api/v1/pools/"+p.ID+"/plan", &v)
		if v.Plan == nil {
			require.NotNil(t, v.Conflict)
			t.Logf("%-20s %s", p.Street, say(v.Conflict.Text))
			continue
		}
		planned++
		if len(v.Present.Broken) == 0 {
			assert.LessOrEqual(t, v.Plan.Totals.Cost(), v.Present.Totals.Cost()*1.001, p.Street)
		}
		saved += v.Present.Month - v.Plan.Month
		t.Logf(
			"%-20s %6.2f a month now, %6.2f planned; round %.2f and %.2f times",
			p.Street,
			v.Present.Month,
			v.Plan.Month,
			v.Present.Totals.Turnovers,
			v.Plan.Totals.Turnovers,
		)
	}
	t.Logf("%d of %d pools planned; %.2f a month saved over all", planned, len(pools), saved)
	assert.Greater(t, planned, 40)
}
