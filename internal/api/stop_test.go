package api

import (
	"encoding/json"
	"net/http"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/guided"
	"fairlap/core/judge"
	"fairlap/core/procedure"
	"fairlap/core/stop"
	"fairlap/internal/app/route"
	"fairlap/internal/app/visit"
	"fairlap/internal/demo/demotest"
)

// judged is the stop's answer to findings.
func (c *client) judged(stop string, f judge.Findings) (v judge.Verdict) {
	if f.Readings == nil {
		f.Readings, f.Signs = []judge.TypedReading{}, map[string]bool{}
	}
	require.Equal(c.w.t, http.StatusOK, c.do("POST", "/api/v1/stops/"+stop+"/diagnosis", f, &v))
	return v
}

// A filter that was left on recirculate is known to the bench, to the next job, to the log, the
// lap and whoever comes next; a stop is not closed over it in silence.
func TestWhatIsLeftOpenGoesWithTheStop(t *testing.T) {
	w := serve(t)
	tech := w.as("technician")
	assert.Equal(t, stop.Unknown, tech.judged(w.stop, judge.Findings{}).Stop.Pump)
	h := w.hand(t, "technician", w.pool, procedure.AroundFilter, map[string]any{"stopId": w.stop})
	h.on("", nil)
	require.NotNil(t, h.run.Ended)

	v := tech.judged(w.stop, judge.Findings{})
	assert.Equal(t, stop.Running, v.Stop.Pump)
	require.Len(t, v.Stop.Open, 1)
	assert.Equal(t, procedure.PartValve, v.Stop.Open[0].Part)
	assert.Equal(t, "O. Brandt", v.Stop.Open[0].By)
	assert.Equal(t, "recirculate", v.Stop.Setting, "a reading is taken as the pad was left")

	next := w.hand(t, "technician", w.pool, procedure.Backwash, map[string]any{"stopId": w.stop})
	assert.Contains(t, say(next.step().Text), "still on recirculate")
	assert.Equal(t, "recirculate", string(next.run.State.Setting))
	require.Equal(t, http.StatusOK, next.send(&next.run, next.event(procedure.ActEnd, "")),
		"nothing was done: it is as it was")

	var refused problemBody
	d := draft(w.stop)
	require.Equal(t, http.StatusUnprocessableEntity, tech.do("POST", "/api/v1/visits", d, &refused))
	assert.Contains(t, refused.at("leftReason"), "say why")
	d.LeftReason = "The tank's ring comes tomorrow."
	var kept visit.VisitRecord
	require.Equal(t, http.StatusOK, tech.do("POST", "/api/v1/visits", d, &kept))
	assert.Contains(t, say(kept.LeftOpen), "ring comes tomorrow")
	var lap route.LapView
	tech.get("/api/v1/lap", &lap)
	for _, s := range lap.Stops {
		if s.ID == w.stop {
			assert.Equal(t, "Left open", say(s.Reason.Word))
			assert.Contains(t, say(s.Reason.Detail), "recirculate")
		}
	}
}

// What somebody says of the pump is theirs, whatever the device writes beside it; locked off,
// the stop says so.
func TestAWordForThePumpIsSigned(t *testing.T) {
	w := serve(t)
	said := []judge.SaidPump{{At: demotest.Now(), By: "Somebody Else", Pump: stop.Locked}}
	v := w.as("technician").judged(w.stop, judge.Findings{
		Readings: []judge.TypedReading{}, Signs: map[string]bool{}, Said: said,
	})
	assert.Equal(t, stop.Locked, v.Stop.Pump)
	assert.Contains(t, say(v.Stop.Says), "O. Brandt")
	require.Len(t, v.Stop.Open, 1)
	assert.Equal(t, procedure.PartLock, v.Stop.Open[0].Part)
}

// A stop has one verdict: the bench's after a backwash is what the log keeps, and what the command
// line says of the stop's file, runs and all.
func TestAStopHasOneVerdict(t *testing.T) {
	w := serve(t)
	tech := w.as("technician")
	h := w.hand(t, "technician", w.pool, procedure.Backwash, map[string]any{"stopId": w.stop, "speed": 2400})
	h.on("after", map[string]string{"speed": "2400", "tank": "17"})
	h.on("", map[string]string{"speed": "2400", "tank": "12"})
	require.NotNil(t, h.run.Ended)
	assert.Nil(t, h.run.Verdict, "the bench has it")
	f := judge.Findings{Readings: []judge.TypedReading{}, Signs: map[string]bool{}}
	v := tech.judged(w.stop, f)
	require.NotNil(t, v.Changed)
	assert.Equal(t, "clean", string(v.Advice.Action), "a wash of seconds")
	assert.Contains(t, say(v.Advice.Text), "too short")
	var file visit.StopFile
	require.Equal(t, http.StatusOK, tech.do("POST", "/api/v1/stops/"+w.stop+"/file", f, &file))
	var pack judge.Pack
	require.NoError(t, json.Unmarshal(file.Pack, &pack))
	require.Len(t, pack.Book, 1, "its run goes along")

	d := draft(w.stop)
	d.Findings = f
	d.Works = []visit.Work{{Kind: "cleaned"}}
	var kept visit.VisitRecord
	require.Equal(t, http.StatusOK, tech.do("POST", "/api/v1/visits", d, &kept))
	require.NotNil(t, kept.LoadAfter)
	assert.InDelta(t, v.Observed.Mean, *kept.LoadAfter, 1e-5, "what it left is what the bench says")
	require.NotNil(t, kept.Load)
	assert.Greater(t, *kept.Load, *kept.LoadAfter, "and as found it was dirtier")
	assert.Equal(t, say(v.Text), say(kept.Verdict.Text))
}

// A run of no stop has the answer itself; one of a stop begun in a state that was only said asks
// for it.
func TestARunOfNoStopHasItsOwnAnswer(t *testing.T) {
	w := serve(t)
	h := w.hand(t, "technician", w.pool, procedure.Backwash, nil)
	h.on("", map[string]string{"speed": "2400", "tank": "12"})
	require.NotNil(t, h.run.Verdict)
	assert.NotEmpty(t, h.run.Verdict.Text)
	locked := judge.Findings{
		Readings: []judge.TypedReading{}, Signs: map[string]bool{},
		Said: []judge.SaidPump{{At: demotest.Now().Add(-time.Minute), Pump: stop.Locked}},
	}
	var run guided.RunView
	body := map[string]any{"id": uuid.NewString(), "procedure": procedure.Baskets, "stopId": w.stop, "findings": locked}
	require.Equal(t, http.StatusOK, w.as("technician").do("POST", "/api/v1/pools/"+w.pool+"/runs", body, &run))
	assert.Equal(t, procedure.Locked, run.State.Power)
	assert.Contains(t, say(run.Script.Steps[0].Text), "Is that how you find it")
}

// A clean line that was called off counts no more, and what was read by it is judged again by the one
// before; the visit keeps what it was shown.
func TestAWithdrawnLineIsJudgedAgain(t *testing.T) {
	w := serve(t)
	tech := w.as("technician")
	base := "/api/v1/pools/" + w.pool
	line := map[string]any{"id": uuid.NewString(), "takenAt": demotest.Now().Add(-time.Hour), "note": "",
		"readings": []judge.TypedReading{
			{Speed: "3450", Tank: "24"}, {Speed: "2750", Tank: "15.5"}, {Speed: "2000", Tank: "8.5"}, {Speed: "1750", Tank: "6.5"},
		}}
	var kept struct {
		ID string `json:"id"`
	}
	require.Equal(t, http.StatusOK, tech.do("POST", base+"/clean-lines", line, &kept))
	d := draft(w.stop)
	var v visit.VisitRecord
	require.Equal(t, http.StatusOK, tech.do("POST", "/api/v1/visits", d, &v))
	require.NotNil(t, v.Load)
	assert.Nil(t, v.Rejudged)
	was := *v.Load

	off := base + "/clean-lines/" + kept.ID + "/withdrawal"
	require.Equal(t, http.StatusNoContent, tech.do("POST", off, map[string]any{"reason": "wrong gauge"}, nil))
	var again *float64
	require.NoError(t, w.town.Store.Pool.QueryRow(t.Context(),
		"select load_mean from visits_rejudged where visit_id = $1", v.ID).Scan(&again))
	require.NotNil(t, again)
	assert.NotEqual(t, was, *again)
	var onRecord float64
	require.NoError(t, w.town.Store.Pool.QueryRow(t.Context(),
		"select load_mean from visits where id = $1", v.ID).Scan(&onRecord))
	assert.InDelta(t, was, onRecord, 1e-6, "nothing on record was changed")
}
