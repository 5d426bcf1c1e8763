package api

import (
	"bytes"
	"encoding/json"
	"net/http"
	"slices"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/guided"
	"fairlap/core/judge"
	"fairlap/core/procedure"
	"fairlap/core/units"
	"fairlap/core/words"
	"fairlap/internal/app/route"
	"fairlap/internal/app/work"
	"fairlap/internal/demo/demotest"
)

// hand does a run through the API as a device does.
type hand struct {
	*client
	t   *testing.T
	run guided.RunView
	at  time.Time
	was string // the step before
}

func (w *world) hand(t *testing.T, role string, pool string, id procedure.ID, more map[string]any) *hand {
	h := &hand{client: w.as(role), t: t}
	body := map[string]any{"id": uuid.NewString(), "procedure": id}
	for k, v := range more {
		body[k] = v
	}
	require.Equal(t, http.StatusOK, h.do("POST", "/api/v1/pools/"+pool+"/runs", body, &h.run))
	h.at = h.run.Now
	return h
}

func (h *hand) event(act procedure.Act, option string) map[string]any {
	e := map[string]any{"id": uuid.NewString(), "act": act, "turn": h.run.Turn, "step": h.run.At, "at": h.at}
	if act == procedure.ActGo {
		e["option"] = option
	}
	return e
}

func (h *hand) send(out any, events ...map[string]any) int {
	return h.do("POST", "/api/v1/runs/"+h.run.ID+"/events", map[string]any{"events": events}, out)
}

func (h *hand) step() procedure.ScriptStep {
	i := slices.IndexFunc(h.run.Script.Steps, func(s procedure.ScriptStep) bool { return s.ID == h.run.At })
	return h.run.Script.Steps[i]
}

// on takes the step's last answer, until a step is next.
func (h *hand) on(until string, reading map[string]string) {
	h.t.Helper()
	for i := 0; h.run.At != until && h.run.Ended == nil; i++ {
		require.Less(h.t, i, 60)
		h.was = h.run.At
		s := h.step()
		take := s.Options[0]
		for _, o := range s.Options {
			if o.Ends == "" && o.To != s.ID {
				take = o
			}
		}
		var events []map[string]any
		if s.Timer != nil {
			events = append(events, h.event(procedure.ActTimer, ""))
			h.at = h.at.Add(20 * time.Second) // the town stands still: no further than its clock allows
		}
		e := h.event(procedure.ActGo, take.ID)
		if s.Read != "" {
			e["reading"] = typedAs(reading)
		}
		if s.Timer != nil && s.Timer.Least > 20 {
			e["note"] = "the town stands still"
		}
		require.Equal(h.t, http.StatusOK, h.send(&h.run, append(events, e)...), s.ID)
		h.at = h.at.Add(time.Second)
	}
}

// typedAs is a reading with what is not given left empty.
func typedAs(given map[string]string) judge.TypedReading {
	return judge.TypedReading{Speed: given["speed"], Tank: given["tank"]}
}

func TestARunGoesFromTheStopToItsResult(t *testing.T) {
	w := serve(t)
	var does work.PoolWork
	tech := w.as("technician")
	tech.get("/api/v1/pools/"+w.pool+"/work", &does)
	at := slices.IndexFunc(does.Procedures, func(p work.ProcedureBrief) bool { return p.Item == "clean-filter" })
	require.GreaterOrEqual(t, at, 0)
	assert.Equal(t, procedure.Backwash, does.Procedures[at].ID)
	assert.NotEmpty(t, does.Procedures[at].Cautions)
	for _, p := range does.Procedures {
		assert.NotContains(
			t,
			[]procedure.ID{procedure.HoseOff, procedure.BackwashDE, procedure.SmallBleed},
			p.ID,
			"this pad has a sand filter",
		)
	}
	h := w.hand(t, "technician", w.pool, procedure.Backwash, map[string]any{"stopId": w.stop, "speed": 2400})
	h.on("wash-clear", map[string]string{"speed": "2400", "tank": "17"})
	assert.True(t, h.run.State.Running)
	assert.Equal(t, "backwash", string(h.run.State.Setting))
	assert.Contains(t, say(h.step().Hint), "far side of the glass")
	// Reload, another device: the run stands where it stood.
	var other guided.RunView
	w.as("owner").get("/api/v1/runs/"+h.run.ID, &other)
	assert.Equal(t, h.run.At, other.At)
	h.on("after", nil)
	for _, s := range h.run.Script.Steps {
		assert.NotEmpty(t, s.Text, s.ID)
		assert.NotContains(t, say(s.Text+s.Hint), "{")
	}
	psi := "9"
	assert.Contains(t, say(h.step().Hint), "this pad should read about")
	h.on("", map[string]string{"speed": "2400", "tank": psi})
	require.NotNil(t, h.run.Ended)
	assert.Empty(t, h.run.Why)
	assert.Equal(t, "cleaned", h.run.Result.Work)
	assert.InDelta(t, 60, h.run.Result.WasteSeconds, 1, "dirty, clear, rinse")
	assert.Greater(t, h.run.Result.WasteGallons, 20.0)
	tech.get("/api/v1/pools/"+w.pool+"/work?stop="+w.stop, &does)
	require.Len(t, does.Runs, 1)
	assert.Equal(t, h.run.ID, does.Runs[0].ID)
	assert.Equal(t, "O. Brandt", does.Runs[0].By)
}

// Each pad of the town is offered the work that it can bear, every piece of it
// written out whole: the small unit no pot to open, the pads with a spa its handles.
func TestEveryPadIsOfferedItsOwnWork(t *testing.T) {
	w := serve(t)
	owner := w.as("owner")
	pools := owner.pools()
	offered := map[procedure.ID]int{}
	for _, pool := range pools {
		var does work.PoolWork
		owner.get("/api/v1/pools/"+pool.ID+"/work", &does)
		small := false
		for _, p := range does.Procedures {
			offered[p.ID]++
			small = small || p.ID == procedure.SmallBleed
			assert.NotContains(t, say(p.Aim), "{")
		}
		for _, p := range does.Procedures {
			assert.False(
				t,
				small && (p.ID == procedure.Baskets || p.ID == procedure.HoseOff || p.ID == procedure.Impeller),
				"%s at %s",
				p.ID,
				pool.Street,
			)
		}
		assert.GreaterOrEqual(t, len(does.Procedures), 3, pool.Street)
	}
	for _, p := range procedure.Library {
		assert.Positive(t, offered[p.ID], "no pad of the town is for %s", p.ID)
	}
}

// Two devices in one run: of two that answer the same step one is taken, the other
// is told how the run stands; sent again, an event is the same event.
func TestAStepIsTakenOnceFromTwoDevices(t *testing.T) {
	w := serve(t)
	one := w.hand(t, "technician", w.pool, procedure.LeakTest, nil)
	two := &hand{client: w.as("owner"), t: t, run: one.run, at: one.at}
	first := one.event(procedure.ActGo, "yes")
	var wait sync.WaitGroup
	statuses := make([]int, 2)
	var problems [2]problemBody
	for i, h := range []*hand{one, two} {
		wait.Go(func() {
			e := first
			if i == 1 {
				e = h.event(procedure.ActGo, "no")
			}
			var raw json.RawMessage
			statuses[i] = h.send(&raw, e)
			_ = json.Unmarshal(raw, &problems[i])
		})
	}
	wait.Wait()
	slices.Sort(statuses)
	assert.Equal(t, []int{http.StatusOK, http.StatusConflict}, statuses)
	var run guided.RunView
	one.get("/api/v1/runs/"+one.run.ID, &run)
	assert.Equal(t, 1, run.Turn)
	assert.Len(t, run.Done, 1)
	for _, p := range problems {
		if len(p.Errors) > 0 {
			var now guided.RunView
			require.NoError(t, json.Unmarshal(p.Errors[0].Value, &now))
			assert.Equal(t, run.At, now.At, "the loser is shown where it stands")
		}
	}
	// Sent again, whichever it was.
	note := one.event(procedure.ActNote, "")
	note["note"] = "foam is short"
	require.Equal(t, http.StatusOK, one.send(nil, note))
	require.Equal(t, http.StatusOK, one.send(&run, note))
	assert.Equal(t, []string{"foam is short"}, run.Notes)
}

// A device's queue after an hour without a battery or a line: what was done is taken
// in order, once, with times that never run backwards or into the future.
func TestAQueueOfEventsIsTakenInOrder(t *testing.T) {
	w := serve(t)
	h := w.hand(t, "technician", w.pool, procedure.LeakTest, nil)
	var queue []map[string]any
	for turn, c := range []struct{ step, option string }{{"air", "yes"}, {"lid-foam", "no"}, {"inlet", "no"},
		{"valves", "yes"}} {
		queue = append(
			queue,
			map[string]any{
				"id":     uuid.NewString(),
				"act":    "go",
				"turn":   turn,
				"step":   c.step,
				"option": c.option,
				"at":     h.at.Add(time.Duration(5-turn) * time.Hour),
			},
		)
	}
	var run guided.RunView
	require.Equal(t, http.StatusOK, h.send(&run, queue[:2]...))
	require.Equal(t, http.StatusOK, h.send(&run, queue...), "the answer to the first two was lost: all is sent again")
	require.Len(t, run.Done, 4)
	for i, d := range run.Done {
		assert.False(t, d.At.After(run.Now.Add(time.Minute)), "a clock five hours ahead")
		if i > 0 {
			assert.False(t, d.At.Before(run.Done[i-1].At))
		}
	}
	assert.Equal(
		t,
		map[string]bool{"air-in-pot": true, "foam-lid": false, "foam-inlet": false, "foam-joint": true},
		signs(run),
	)
}

func signs(run guided.RunView) map[string]bool {
	out := map[string]bool{}
	for k, v := range run.Result.Signs {
		out[string(k)] = v
	}
	return out
}

// A wait that binds is not passed at 0:00; with a reason it is, and the reason is kept.
func TestAWaitIsNotPassedUnwaited(t *testing.T) {
	w := serve(t)
	h := w.hand(t, "technician", w.pool, procedure.DoseRun, nil)
	h.on("round", nil)
	var p problemBody
	early := h.event(procedure.ActGo, "done")
	require.Equal(t, http.StatusUnprocessableEntity, h.send(&p, early))
	assert.Equal(t, "Wait 10 min. So far 0 s. To end it early, say why.", p.at("events[0].note"))
	var run guided.RunView
	h.get("/api/v1/runs/"+h.run.ID, &run)
	assert.Equal(t, "round", run.At)
	early["note"] = "thunder"
	require.Equal(t, http.StatusOK, h.send(&run, early))
	assert.Equal(t, "thunder", run.Done[len(run.Done)-1].Early)
}

// A basket found cracked at the work stands on the pool's due list, once, until it is
// done.
func TestAPartFoundBadIsDue(t *testing.T) {
	w := serve(t)
	h := w.hand(t, "technician", w.pool, procedure.Baskets, nil)
	h.on("cracks", nil)
	require.Equal(t, http.StatusOK, h.send(&h.run, h.event(procedure.ActGo, "yes")))
	h.on("", nil)
	owed := func() (out []route.DueItem) {
		var due route.DueView
		h.get("/api/v1/pools/"+w.pool+"/due", &due)
		for _, d := range due.Items {
			if d.Item == "owed:pump-basket" {
				out = append(out, d)
			}
		}
		return out
	}
	require.Len(t, owed(), 1)
	assert.Equal(t, "New: pump basket", say(owed()[0].Name))
	assert.Equal(t, "Pump basket", say(owed()[0].Materials[0].Name))
	require.Equal(
		t,
		http.StatusOK,
		h.do(
			"POST",
			"/api/v1/pools/"+w.pool+"/due-marks",
			map[string]any{"id": uuid.NewString(), "item": "owed:pump-basket", "act": "done", "reason": ""},
			nil,
		),
	)
	assert.Empty(t, owed())
}

func TestARunIsLeftSafeAndTakenUpDaysLater(t *testing.T) {
	w := serve(t)
	h := w.hand(t, "technician", w.pool, procedure.Backwash, map[string]any{"speed": 2400})
	h.on("wash-clear", map[string]string{"speed": "2400", "tank": "17"})
	assert.Equal(
		t,
		[]string{"Turn the pump OFF", "Lock the power off at the breaker or disconnect"},
		sayAll(h.step().Leave),
	)
	require.Equal(t, http.StatusOK, h.send(&h.run, h.event(procedure.ActLeave, "")))
	assert.NotNil(t, h.run.Left)
	assert.False(t, h.run.State.Running)
	require.NotNil(t, h.run.Resume)
	assert.Equal(t, "wash-clear", h.run.Resume.Step)
	assert.Contains(t, sayAll(h.run.Resume.Text), "Start the pump")
	assert.Equal(t, http.StatusConflict, h.send(nil, h.event(procedure.ActGo, "clear")), "not before it is taken up")
	require.Equal(t, http.StatusOK, h.send(&h.run, h.event(procedure.ActResume, "")))
	assert.True(t, h.run.State.Running)
	assert.Equal(t, http.StatusConflict, h.send(nil, h.event(procedure.ActEnd, "")), "not while it runs to waste")
	require.Equal(t, http.StatusOK, h.send(&h.run, h.event(procedure.ActLeave, "")))
	require.Equal(t, http.StatusOK, h.send(&h.run, h.event(procedure.ActEnd, "")))
	assert.Equal(t, "Stopped early", say(h.run.Why))
	assert.Empty(t, h.run.Result.Work)
}

func TestRunsRefuseInPlainWords(t *testing.T) {
	w := serve(t)
	tech := w.as("technician")
	var p problemBody
	start := func(body map[string]any) int { return tech.do("POST", "/api/v1/pools/"+w.pool+"/runs", body, &p) }
	assert.Equal(
		t,
		http.StatusUnprocessableEntity,
		start(map[string]any{"id": uuid.NewString(), "procedure": "hose-off"}),
	)
	assert.Equal(t, "This job doesn't suit this pad.", p.at("procedure"))
	assert.Equal(
		t,
		http.StatusUnprocessableEntity,
		start(map[string]any{"id": uuid.NewString(), "procedure": "backwash", "waterF": 200}),
	)
	assert.Contains(t, p.at("waterF"), "between 33 and 110")
	lifted := map[float64]string{}
	for _, f := range []float64{50, 90} {
		h := w.hand(t, "technician", w.pool, procedure.Backwash, map[string]any{"waterF": f})
		at := slices.IndexFunc(h.run.Script.Steps, func(s procedure.ScriptStep) bool { return s.ID == "wash-on" })
		lifted[f] = string(h.run.Script.Steps[at].Hint)
		again := w.hand(t, "technician", w.pool, procedure.Backwash, map[string]any{"waterF": 70})
		assert.Equal(t, h.run.ID, again.run.ID, "started again it is the run that is open")
		require.Equal(t, http.StatusOK, h.send(&h.run, h.event(procedure.ActEnd, "")))
	}
	assert.Contains(t, lifted[50], "in water of 50 °F")
	assert.NotEqual(t, lifted[50], lifted[90], "cold water lifts the bed higher")
	s := settings(1)
	s["noDischarge"] = []string{demotest.On("2026-11-24")}
	require.Equal(t, http.StatusOK, w.as("office").do("PUT", "/api/v1/settings", s, nil))
	id := uuid.NewString()
	assert.Equal(t, http.StatusUnprocessableEntity, start(map[string]any{"id": id, "procedure": "backwash"}))
	assert.Contains(t, p.at("reason"), "no water may be discharged today")
	assert.Equal(
		t,
		http.StatusOK,
		start(map[string]any{"id": id, "procedure": "backwash", "reason": "to the clean-out, allowed"}),
	)
	var due route.DueView
	tech.get("/api/v1/pools/"+w.pool+"/due", &due)
	assert.Equal(t, "to the clean-out, allowed", due.Marks[0].Reason, "the reason is kept")
	h := w.hand(t, "technician", w.pool, procedure.CleanLine, nil)
	h.on("top", nil)
	for text, reading := range map[string]map[string]string{"rpm": {"speed": "9000", "tank": "9"},
		"tank gauge": {"speed": "2400"}, "number": {"speed": "2400", "tank": "nine"}} {
		e := h.event(procedure.ActGo, "done")
		e["reading"] = typedAs(reading)
		assert.Equal(t, http.StatusUnprocessableEntity, h.send(&p, e), text)
	}
	e := h.event(procedure.ActGo, "done")
	assert.Equal(t, http.StatusConflict, h.send(nil, e), "a reading is asked for")
}

// Chemicals that a run put in hold the backwash at once, before any visit is logged.
func TestADoseHoldsTheBackwash(t *testing.T) {
	w := serve(t)
	var week route.WeekView
	w.as("owner").get("/api/v1/week", &week) // what is kept of the pool is from before
	h := w.hand(t, "technician", w.pool, procedure.DoseRun, nil)
	h.on("round", nil)
	var does work.PoolWork
	h.get("/api/v1/pools/"+w.pool+"/work", &does)
	require.NotNil(t, does.Hold)
	assert.WithinDuration(t, h.run.Now.Add(24*time.Hour), does.Hold.Until, 2*time.Minute)
	var p problemBody
	assert.Equal(
		t,
		http.StatusUnprocessableEntity,
		h.do(
			"POST",
			"/api/v1/pools/"+w.pool+"/runs",
			map[string]any{"id": uuid.NewString(), "procedure": "backwash"},
			&p,
		),
	)
	assert.Contains(t, p.at("reason"), "chemicals are in")
	var lap route.LapView
	h.get("/api/v1/lap", &lap)
	at := slices.IndexFunc(lap.Stops, func(s route.StopView) bool { return s.PoolID == w.pool })
	require.GreaterOrEqual(t, at, 0)
	assert.Equal(t, "Hold 24 h", say(lap.Stops[at].Reason.Word), "the lap knows it too")
}

// Due work that a run has done is closed by it, once.
func TestARunClosesItsDueWork(t *testing.T) {
	w := serve(t)
	pools := w.as("owner").pools()
	for _, pool := range pools {
		var does work.PoolWork
		w.as("owner").get("/api/v1/pools/"+pool.ID+"/work", &does)
		if !slices.ContainsFunc(
			does.Procedures,
			func(p work.ProcedureBrief) bool { return p.ID == procedure.TearDown },
		) {
			continue
		}
		h := w.hand(t, "owner", pool.ID, procedure.TearDown, map[string]any{"speed": 2400})
		h.on("", map[string]string{"speed": "2400", "tank": "9"})
		require.NotNil(t, h.run.Ended)
		assert.GreaterOrEqual(t, len(h.run.Result.Walk), 3, "enough for a clean line")
		var due route.DueView
		w.as("owner").get("/api/v1/pools/"+pool.ID+"/due", &due)
		require.NotEmpty(t, due.Marks)
		assert.Equal(t, "tear-down", due.Marks[0].Item)
		assert.Equal(t, "done", due.Marks[0].Act)
		return
	}
	t.Fatal("the town has no DE filter")
}

// Work done at a stop is evidence: the reading after it supersedes, and the verdict
// says what the run changed. The command line judges the stop's file alike, to the byte.
func TestWhatARunFoundChangesTheVerdict(t *testing.T) {
	for name, c := range map[string]struct {
		wash  time.Duration
		after string
		text  func(t *testing.T, v judge.Verdict)
	}{
		"it came back": {70 * time.Second, "9.5", func(t *testing.T, v judge.Verdict) {
			assert.Equal(t, "healthy", v.Suspects[0].ID)
			assert.NotEqual(t, "clean", string(v.Advice.Action), say(v.Text))
			assert.Less(t, v.Load.Mean, 0.35)
			assert.False(t, v.Changed.TooShort)
		}},
		"it did not": {70 * time.Second, "15", func(t *testing.T, v judge.Verdict) {
			assert.NotContains(t, []string{"healthy", "filter-loaded"}, v.Suspects[0].ID, say(v.Text))
			assert.NotEqual(t, "clean", string(v.Advice.Action), say(v.Text))
		}},
		"too short a wash": {10 * time.Second, "15", func(t *testing.T, v judge.Verdict) {
			assert.True(t, v.Changed.TooShort)
			assert.Contains(t, []string{"healthy", "filter-loaded"}, v.Suspects[0].ID, say(v.Text))
			assert.Greater(t, v.Load.Mean, 0.7, "still as dirty as it was")
			assert.Equal(t, "clean", string(v.Advice.Action), say(v.Text))
		}},
	} {
		w := serve(t)
		tech := w.as("technician")
		f := judge.Findings{Readings: []judge.TypedReading{{Speed: "2400", Tank: "15"}}, Signs: map[string]bool{}}
		var before, after judge.Verdict
		require.Equal(t, http.StatusOK, tech.do("POST", "/api/v1/stops/"+w.stop+"/diagnosis", f, &before))
		assert.Nil(t, before.Changed)
		h := w.hand(t, "technician", w.pool, procedure.Backwash, map[string]any{"stopId": w.stop, "speed": 2400})
		h.on("wash-clear", map[string]string{"speed": "2400", "tank": "15"})
		timer := h.event(procedure.ActTimer, "")
		h.at = h.at.Add(c.wash)
		require.Equal(t, http.StatusOK, h.send(&h.run, timer, h.event(procedure.ActGo, "clear")), name)
		h.on("after", nil)
		h.on("", map[string]string{"speed": "2400", "tank": c.after})
		require.NotNil(t, h.run.Ended, name)
		require.Equal(t, http.StatusOK, tech.do("POST", "/api/v1/stops/"+w.stop+"/diagnosis", f, &after))
		require.NotNil(t, after.Changed, name)
		assert.Equal(t, "Backwash and rinse", say(after.Changed.Work))
		assert.NotEmpty(t, after.Changed.Was)
		c.text(t, after)

		var shown, file json.RawMessage
		require.Equal(t, http.StatusOK, tech.do("POST", "/api/v1/stops/"+w.stop+"/diagnosis", f, &shown))
		require.Equal(t, http.StatusOK, tech.do("POST", "/api/v1/stops/"+w.stop+"/file", f, &file))
		saved, wrong := judge.ReadFile(bytes.NewReader(file))
		require.Empty(t, wrong)
		again, _, err := saved.Judge()
		require.NoError(t, err)
		text, err := words.Printer{Lang: words.English, Units: units.US}.Marshal(again)
		require.NoError(t, err)
		assert.Equal(t, string(bytes.TrimSpace(shown)), string(text), "the same by the command line, to the byte")
	}
}
