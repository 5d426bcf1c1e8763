package procedure

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/casefile"
	"fairlap/core/fault"
	"fairlap/core/pad"
)

var noon = time.Date(2026, 11, 24, 12, 0, 0, 0, time.UTC)

func script(t require.TestingT, id ID, r Rig) *Script {
	c, err := Find(id).Write(knownSetup(r))
	require.NoError(t, err)
	return c
}

// onward takes a step's option, with a reading where it asks for one.
func onward(r *Run, option int, at time.Time) Event {
	s := r.Next()
	e := Event{At: at, Act: ActGo, Turn: r.Turn, Step: s.ID, Option: s.Options[option].ID}
	if s.Read != "" {
		psi := 12.0
		e.Reading = &casefile.Reading{RPM: 2400, TankPsi: &psi}
	}
	return e
}

// onwards is the answer of a step that goes on: the last that neither ends nor stays.
func onwards(s *ScriptStep) int {
	take := 0
	for j, o := range s.Options {
		if o.Ends == "" && o.To != s.ID {
			take = j
		}
	}
	return take
}

// finish takes the answer of each step that goes on, and lets every wait come to its
// end.
func finish(t require.TestingT, r *Run) {
	at := noon
	for i := 0; r.Ended == nil; i++ {
		require.Less(t, i, 100, "no end in sight")
		s := r.Next()
		if s.Timer != nil {
			require.NoError(t, r.Take(Event{At: at, Act: ActTimer, Step: s.ID}))
			at = at.Add(time.Duration(max(100, s.Timer.Least)) * time.Second)
		}
		require.NoError(t, r.Take(onward(r, onwards(s), at)))
		at = at.Add(10 * time.Second)
	}
}

// Every procedure can be finished, left from every step, and gone on with after.
func TestEveryProcedureFinishesAndCanBeLeftAnywhere(t *testing.T) {
	rigs := []Rig{
		sandRig,
		{Valve: pad.Multiport, Kind: pad.DE, Suction: []string{"Skimmer", "Drain"}, Usual: 3, Drain: 1, Heater: true},
		{
			Valve:   pad.SlideValve,
			Kind:    pad.Sand,
			Suction: []string{"Skimmer"},
			Usual:   1,
			Drain:   -1,
		},
		{
			Valve:   pad.NoValve,
			Kind:    pad.Cartridge,
			Suction: []string{"Skimmer", "Drain"},
			Usual:   3,
			Drain:   1,
			Below:   true,
			Cell:    true, CheckValve: true, Bypass: true,
		},
		{Valve: pad.NoValve, Kind: pad.Cartridge, Suction: []string{"Hose"}, Usual: 1, Drain: -1, Small: true},
	}
	done := map[ID]bool{}
	for _, rig := range rigs {
		for _, p := range For(knownSetup(rig)) {
			c := script(t, p.ID, rig)
			r := c.Begin()
			finish(t, r)
			assert.Empty(t, r.Why, p.ID)
			assert.True(t, rig.Safe(r.State) || p.Ends != nil && p.Ends(&rig, r.State), p.ID)
			assert.Equal(t, p.Work, r.Result().Work)
			done[p.ID] = true
			// Left before each of its steps and taken up again, it still comes to its end.
			for n := range len(r.Done) {
				again := c.Begin()
				for range n {
					s := again.Next()
					e := onward(again, onwards(s), noon)
					e.Note = "a test has no time"
					require.NoError(t, again.Take(e))
				}
				at := again.At
				require.NoError(t, again.Take(Event{At: noon, Act: ActLeave, Turn: again.Turn}), "%s at %s", p.ID, at)
				assert.True(t, rig.Safe(again.State), "%s left at %s", p.ID, at)
				assert.ErrorIs(t, again.Take(onward(again, 0, noon)), ErrAway)
				require.NoError(t, again.Take(Event{At: noon, Act: ActResume, Turn: again.Turn}), "%s at %s", p.ID, at)
				assert.Equal(t, c.step(again.At).State, again.State, "%s taken up at %s after %s", p.ID, again.At, at)
				finish(t, again)
			}
		}
	}
	for _, p := range Library {
		assert.True(t, done[p.ID], "%s was not tried", p.ID)
	}
}

func TestARunIsTheFoldOfItsEvents(t *testing.T) {
	c := script(t, Backwash, sandRig)
	r := c.Begin()
	var events []Event
	take := func(e Event) {
		events = append(events, e)
		require.NoError(t, r.Take(e))
	}
	for r.At != "wash-clear" {
		take(onward(r, onwards(r.Next()), noon))
	}
	take(Event{At: noon, Act: ActTimer, Step: "wash-clear"})
	take(Event{At: noon.Add(5 * time.Second), Act: ActTimer, Step: "wash-clear"}) // the other device
	take(onward(r, 0, noon.Add(60*time.Second)))                                  // not yet
	take(onward(r, 1, noon.Add(108*time.Second)))                                 // clear
	take(Event{At: noon, Act: ActNote, Note: "hose kinked once"})
	again, err := c.Fold(events)
	require.NoError(t, err)
	assert.Equal(t, r.At, again.At)
	assert.Equal(t, r.State, again.State)
	assert.InDelta(
		t,
		108,
		again.Result().WasteSeconds,
		1e-9,
		"counted from the first start of its timer, over both answers",
	)
	assert.Equal(t, []string{"hose kinked once"}, again.Notes)
}

// A run that is left stops its clock: days away are no days of backwash. So does a
// step back.
func TestAClockStopsWhenItsStepIsLeft(t *testing.T) {
	r := script(t, Backwash, sandRig).Begin()
	for r.At != "wash-clear" {
		require.NoError(t, r.Take(onward(r, onwards(r.Next()), noon)))
	}
	at := func(seconds int) time.Time { return noon.Add(time.Duration(seconds) * time.Second) }
	require.NoError(t, r.Take(Event{At: noon, Act: ActTimer, Step: "wash-clear"}))
	require.NoError(t, r.Take(Event{At: at(60), Act: ActLeave, Turn: r.Turn}))
	assert.Empty(t, r.Timers)
	later := 3 * 24 * 3600
	require.NoError(t, r.Take(Event{At: at(later), Act: ActResume, Turn: r.Turn}))
	require.NoError(t, r.Take(Event{At: at(later), Act: ActTimer, Step: "wash-clear"}))
	require.NoError(t, r.Take(Event{At: at(later + 20), Act: ActBack, Turn: r.Turn}))
	require.NoError(t, r.Take(onward(r, 0, at(later+40))))
	require.NoError(t, r.Take(Event{At: at(later + 40), Act: ActTimer, Step: "wash-clear"}))
	require.NoError(t, r.Take(onward(r, 1, at(later+70))))
	assert.InDelta(t, 60+20+30, r.Result().WasteSeconds, 1e-9)
}

// Nobody gives a run up while water runs to waste: first it is left safe.
func TestARunIsNotGivenUpUnsafe(t *testing.T) {
	r := script(t, Backwash, sandRig).Begin()
	for r.At != "wash-clear" {
		require.NoError(t, r.Take(onward(r, onwards(r.Next()), noon)))
	}
	assert.ErrorIs(t, r.Take(Event{At: noon, Act: ActEnd, Turn: r.Turn}), ErrUnsafe)
	require.NoError(t, r.Take(Event{At: noon, Act: ActLeave, Turn: r.Turn}))
	require.NoError(t, r.Take(Event{At: noon, Act: ActEnd, Turn: r.Turn}))
	assert.Equal(t, "Stopped early", say(r.Why))
}

// Two devices in one run: what the second says of a step that is done is refused and
// changes nothing.
func TestAStepIsTakenOnce(t *testing.T) {
	r := script(t, Backwash, sandRig).Begin()
	e := onward(r, 0, noon)
	require.NoError(t, r.Take(e))
	before := *r
	assert.ErrorIs(t, r.Take(e), ErrTurn)
	late := onward(r, 0, noon)
	late.Turn = 0
	assert.ErrorIs(t, r.Take(late), ErrTurn)
	assert.Equal(t, before.At, r.At)
	assert.Len(t, r.Done, 1)
	wrong := onward(r, 0, noon)
	wrong.Step = "off-1"
	assert.ErrorIs(t, r.Take(wrong), ErrUnknown)
	first := script(t, Backwash, sandRig).Begin()
	none := onward(first, 0, noon)
	none.Reading = nil
	assert.ErrorIs(t, first.Take(none), ErrNoReading)
}

// Back undoes with the hand what was done, and erases nothing.
func TestBackIsAWayNotAnEraser(t *testing.T) {
	c := script(t, Backwash, sandRig)
	r := c.Begin()
	for r.At != "wash-clear" {
		require.NoError(t, r.Take(onward(r, onwards(r.Next()), noon)))
	}
	to, _, ok := r.Before()
	require.True(t, ok)
	require.Equal(t, "wash-dirty", to)
	require.NoError(t, r.Take(Event{At: noon, Act: ActBack, Turn: r.Turn}))
	to, way, ok := r.Before()
	require.True(t, ok)
	assert.Equal(t, "wash-on", to)
	assert.Equal(t, []Action{do(Stop)}, way, "the pump must stand still again")
	n := len(r.Done)
	require.NoError(t, r.Take(Event{At: noon, Act: ActBack, Turn: r.Turn}))
	assert.Equal(t, "wash-on", r.At)
	assert.False(t, r.State.Running)
	assert.Len(t, r.Done, n)
	finish(t, r)
}

func TestAnAnswerMayEndARun(t *testing.T) {
	r := script(t, Priming1, sandRig).Begin()
	to(t, r, "catch")
	require.NoError(t, r.Take(onward(r, 2, noon)))
	assert.Nil(t, r.Ended, "nobody has turned it off yet")
	assert.True(t, r.State.Running)
	require.NoError(t, r.Take(onward(r, 0, noon)))
	assert.False(t, r.State.Running)
	assert.Equal(t, Live, r.State.Power, "nor locked it")
	require.NoError(t, r.Take(onward(r, 0, noon)))
	assert.Equal(t, "Four minutes, no water: stop", say(r.Why))
	assert.Empty(t, r.Result().Work, "what did not reach its aim is no work done")
	assert.True(t, r.Result().Signs[fault.PotNotFull])
	assert.True(t, r.State.Hot && r.State.Power == Locked)
	assert.ErrorIs(t, r.Take(Event{Act: ActLeave, Turn: r.Turn}), ErrOver)
}

func TestResultsGoToTheRecord(t *testing.T) {
	r := script(t, DoseRun, sandRig).Begin()
	finish(t, r)
	assert.NotNil(t, r.Result().ChemicalsAt)
	r = script(t, CleanLine, sandRig).Begin()
	finish(t, r)
	assert.Len(t, r.Result().Walk, 4)
	r = script(t, Baskets, sandRig).Begin()
	finish(t, r)
	assert.Zero(t, r.Result().PrimeSeconds, "air out of the tank is no prime: wear is not judged by it")
	said, asked := r.Result().Signs[fault.BasketFull]
	assert.True(t, asked && !said, "looked at, and little in it")
	r = script(t, Priming1, sandRig).Begin()
	finish(t, r)
	assert.InDelta(t, 100, r.Result().PrimeSeconds, 1e-9)
}

// Two drain tests are two tests: the record gets the one after the soak, and the run
// keeps both. A prime that was broken off is no prime time.
func TestWhatIsTimedTwiceIsNotAddedUp(t *testing.T) {
	r := script(
		t,
		Soaking,
		Rig{Valve: pad.NoValve, Kind: pad.Cartridge, Suction: []string{"Skimmer"}, Usual: 1, Drain: -1},
	).Begin()
	finish(t, r)
	assert.InDelta(t, 100, r.Result().DrainSeconds, 1e-9)
	tests := 0
	for _, d := range r.Done {
		if d.Step == "drain-before" || d.Step == "drain-after" {
			assert.InDelta(t, 100, d.Seconds, 1e-9)
			tests++
		}
	}
	assert.Equal(t, 2, tests)
	r = script(t, Priming1, sandRig).Begin()
	for r.At != "catch" {
		require.NoError(t, r.Take(onward(r, onwards(r.Next()), noon)))
	}
	require.NoError(t, r.Take(Event{At: noon, Act: ActTimer, Step: "catch"}))
	require.NoError(t, r.Take(Event{At: noon.Add(time.Minute), Act: ActLeave, Turn: r.Turn}))
	assert.Zero(t, r.Result().PrimeSeconds)
}

// Whatever order of events is thrown at a run, it stands in the state that its next
// step is entered in, or it was left safe, or it is over.
func TestARunNeverStandsWrong(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := rapid.SampledFrom(For(knownSetup(sandRig))).Draw(t, "procedure")
		r := script(t, p.ID, sandRig).Begin()
		for range 40 {
			e := Event{
				At: noon,
				Act: rapid.SampledFrom([]Act{ActGo, ActGo, ActGo, ActGo, ActTimer, ActBack, ActLeave, ActResume}).
					Draw(t, "act"),
				Turn: r.Turn - rapid.IntRange(0, 1).Draw(t, "late"),
			}
			if s := r.Next(); s != nil && e.Act == ActGo {
				turn := e.Turn
				e = onward(r, rapid.IntRange(0, len(s.Options)-1).Draw(t, "option"), noon)
				e.Turn = turn
			}
			turn, at := r.Turn, r.At
			if err := r.Take(e); err != nil {
				assert.Equal(t, turn, r.Turn)
				assert.Equal(t, at, r.At)
			}
			switch {
			case r.Ended != nil:
				return
			case r.Left != nil:
				assert.True(t, sandRig.Safe(r.State))
			default:
				assert.Equal(t, r.Next().State, r.State)
			}
		}
	})
}

// A reading that was gone back from is replaced by the one that is read in its place.
func TestAReadingIsReadAgainInItsPlace(t *testing.T) {
	r := script(t, CleanLine, sandRig).Begin()
	read := func(tank float64) {
		e := onward(r, 0, noon)
		e.Reading = &casefile.Reading{RPM: 2400, TankPsi: &tank}
		require.NoError(t, r.Take(e))
	}
	to(t, r, "top")
	read(10)
	read(20)
	require.Len(t, r.Result().Walk, 2)
	require.NoError(t, r.Take(Event{At: noon, Act: ActBack, Turn: r.Turn}))
	read(8)
	walk := r.Result().Walk
	require.Len(t, walk, 2)
	assert.InDelta(t, 10, *walk[0].TankPsi, 1e-9)
	assert.InDelta(t, 8, *walk[1].TankPsi, 1e-9)
}
