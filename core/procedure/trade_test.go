package procedure

import (
	"errors"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/fault"
	"fairlap/core/pad"
)

// What the trade does at a step, and what must never be said (common practice).

var deRig = Rig{Valve: pad.Multiport, Kind: pad.DE, Suction: []string{"Skimmer", "Main drain"}, Usual: 3, Drain: 1}

var cartridgeRig = Rig{
	Valve:   pad.NoValve,
	Kind:    pad.Cartridge,
	Suction: []string{"Skimmer", "Main drain", "Vacuum line"},
	Usual:   3,
	Drain:   1,
	Heater:  true,
	Cell:    true, CheckValve: true, Bypass: true,
}

var smallRig = Rig{Valve: pad.NoValve, Kind: pad.Cartridge, Suction: []string{"Hose"}, Usual: 1, Drain: -1, Small: true}

// to goes on to a step by the answers that lead on, every wait waited.
func to(t *testing.T, r *Run, step string) {
	t.Helper()
	for i := 0; r.At != step; i++ {
		require.Less(t, i, 100, "no way to %s", step)
		require.Nil(t, r.Ended, "over before %s", step)
		s := r.Next()
		at := noon
		if s.Timer != nil {
			require.NoError(t, r.Take(Event{At: at, Act: ActTimer, Step: s.ID}))
			at = at.Add(time.Duration(s.Timer.Least) * time.Second)
		}
		require.NoError(t, r.Take(onward(r, onwards(s), at)))
	}
}

// Every wait that safety or the method needs binds: at 0:00, and a second before its
// time, it is not passed without a reason, and a reason is kept. Passing it at 0:00 was
// what the runs let anybody do.
func TestWaitsBind(t *testing.T) {
	hot := sandRig
	hot.Heater = true
	bound := map[string]float64{}
	for _, rig := range []Rig{hot, deRig, cartridgeRig, smallRig} {
		for _, p := range For(knownSetup(rig)) {
			for _, c := range forms(t, p, knownSetup(rig)) {
				for i := range c.Steps {
					s := &c.Steps[i]
					if s.Timer == nil || s.Timer.Least == 0 {
						continue
					}
					bound[s.ID] = s.Timer.Least
					r := c.Begin()
					r.At, r.State = s.ID, s.State
					for _, ran := range []float64{0, s.Timer.Least - 2} {
						if ran > 0 {
							require.NoError(t, r.Take(Event{At: noon, Act: ActTimer, Step: s.ID}))
						}
						at := noon.Add(time.Duration(ran) * time.Second)
						e := onward(r, onwards(s), at)
						err := r.Take(e)
						require.ErrorIs(t, err, ErrEarly, "%s, %s at %.0f s", p.ID, s.ID, ran)
						assert.Equal(t, s.ID, r.At, "nothing moved")
						assert.Empty(t, r.Done)
					}
					e := onward(r, onwards(s), noon.Add(time.Second))
					e.Note = "the owner leaves now"
					require.NoError(t, r.Take(e))
					assert.Equal(t, "the owner leaves now", r.Done[0].Early)
					assert.Zero(
						t,
						r.Result().PrimeSeconds+r.Result().DrainSeconds,
						"a time that nobody believes is no measurement",
					)
				}
			}
		}
	}
	for step, least := range map[string]float64{"heat-flow": 1200, "settle": 120, "degreasing": 7200, "bubbling": 600,
		"cool": 900, "charge": 300, "catch": 10, "drain-before": 2, "drain-after": 2, "round": 600} {
		assert.Equal(t, least, bound[step], step)
	}
}

// What stops a run, and what stays, is never bound: nobody waits with a dry pump.
func TestStoppingNeedsNoReason(t *testing.T) {
	r := script(t, Priming1, sandRig).Begin()
	to(t, r, "catch")
	require.NoError(t, r.Take(onward(r, 0, noon)), "not yet")
	require.NoError(t, r.Take(onward(r, 2, noon)), "never: stop")
	assert.Equal(t, KindInterlock, r.Next().Kind, "off, and locked")
	var early *Early
	r = script(t, Priming1, sandRig).Begin()
	to(t, r, "catch")
	require.True(t, errors.As(r.Take(onward(r, 1, noon)), &early))
	assert.Contains(t, early.Error(), "Time it again")
}

// A glass is clear before the dirt comes: clear counts after dirty.
func TestClearCountsOnlyAfterDirty(t *testing.T) {
	for _, c := range forms(t, Find(Backwash), knownSetup(sandRig)) {
		dirty, clear := c.step("wash-dirty"), c.step("wash-clear")
		require.NotNil(t, dirty)
		assert.Equal(t, clear.ID, dirty.Options[onwards(dirty)].To)
		assert.Less(
			t,
			slices.IndexFunc(c.Steps, func(s ScriptStep) bool { return s.ID == dirty.ID }),
			slices.IndexFunc(c.Steps, func(s ScriptStep) bool { return s.ID == clear.ID }),
		)
	}
}

// After an opening the pump starts on one line; each other one has a step with its name.
func TestLinesAreOpenedOneByOne(t *testing.T) {
	for _, id := range []ID{Baskets, Priming1, Impeller, SeasonOpen, LeakTest} {
		c := script(
			t,
			id,
			Rig{
				Valve:   pad.Multiport,
				Kind:    pad.Sand,
				Suction: []string{"Far skimmer", "Main drain", "Near skimmer"},
				Usual:   7,
				First:   2,
				Drain:   1,
			},
		)
		seen := []string{}
		for _, s := range c.Steps {
			for _, o := range s.Options {
				if s.State.Opened && slices.ContainsFunc(o.Do, func(a Action) bool { return a.Verb == Start }) {
					assert.Equal(t, Lines(4), s.State.Suction, "%s, %s: started on the nearest alone", id, s.ID)
				}
			}
			if strings.HasPrefix(s.ID, "line-") {
				seen = append(seen, say(s.Text))
				assert.Contains(t, say(s.Hint), "nearly shut again")
				assert.Contains(t, say(s.Hint), "Half-second jogs")
			}
		}
		require.Len(t, seen, 2, id)
		assert.Contains(t, seen[0], "Far skimmer")
		assert.Contains(t, seen[1], "Main drain")
	}
}

// One opening for the whole service of a DE filter: both drain times, four speeds bare
// and four charged, the charged ones as its clean line.
func TestDEServiceIsOneRun(t *testing.T) {
	c := script(t, TearDown, deRig)
	assert.False(t, Find(Soaking).On(knownSetup(deRig)), "no second run with a second opening")
	r := c.Begin()
	finish(t, r)
	require.Empty(t, r.Why)
	opened := 0
	order := []string{}
	for _, d := range r.Done {
		order = append(order, d.Step)
		for _, o := range c.step(d.Step).Options {
			for _, a := range o.Do {
				if a.Verb == OpenTank {
					opened++
				}
			}
		}
	}
	assert.Equal(t, 1, opened)
	assert.Len(t, r.Result().Bare, 4)
	assert.Len(t, r.Result().Walk, 4)
	assert.Positive(t, r.Result().DrainBefore)
	assert.Positive(t, r.Result().DrainSeconds)
	assert.Equal(t, CountDrain, c.step("keep").Recalls, "both times beside the question")
	want := []string{
		"drain-before",
		"degreasing",
		"rinse-1",
		"acid",
		"rinse-2",
		"drain-after",
		"keep",
		"manifold-dry",
		"assemble",
		"cap",
		"bare",
		"bare-3",
		"mix",
		"pour",
		"settle",
		"after",
		"walk-3",
	}
	at := -1
	for _, step := range want {
		i := slices.Index(order, step)
		assert.Greater(t, i, at, step)
		at = i
	}
	for _, d := range r.Done {
		if d.Step == "drain-before" || d.Step == "drain-after" {
			assert.Positive(t, d.Seconds)
		}
	}
}

// A season's close can be followed on every pad: how its water is lowered, each line
// and each part by name, nothing by mouth, gas and heater where there is one.
func TestASeasonClosesOnEveryPad(t *testing.T) {
	for name, setup := range setups() {
		if setup.Rig.Small {
			continue
		}
		c, err := Find(SeasonClose).Write(setup)
		require.NoError(t, err, name)
		all := ""
		for _, s := range c.Steps {
			all += say(s.Text) + " " + say(s.Hint) + "\n"
		}
		for _, n := range append(append(setup.Rig.Suction, setup.Returns...), sayAll(setup.Freeze)...) {
			assert.Contains(t, all, n, name)
		}
		assert.Contains(t, all, "never by mouth")
		assert.Equal(t, setup.Rig.Heater, c.step("gas") != nil, name)
		alone := setup.Rig.Valve == pad.Multiport && setup.DrainInchSeconds > 0
		assert.Equal(
			t,
			!alone,
			c.step("submersible") != nil,
			"%s: without a rated drain and a waste port a pump of its own",
			name,
		)
		assert.Equal(t, alone, c.step("down-2") != nil, name)
		assert.Equal(t, setup.Ways.Winter == "antifreeze", c.step("antifreeze") != nil, name)
		if alone {
			for i := range setup.Rig.Suction {
				if setup.Rig.Usual.Has(i) && i != setup.Rig.Drain {
					assert.False(
						t,
						c.step("down-2").State.Suction.Has(i),
						"%s: the skimmers are shut before they draw air",
						name,
					)
				}
			}
		}
	}
}

// A timer that counts inches stands on the pad's own flow: 18,000 gal, five feet deep,
// are 300 gal an inch; at 30 gpm ten minutes.
func TestLevelTimersStandOnTheFlow(t *testing.T) {
	s := knownSetup(sandRig)
	for id, steps := range map[ID]map[string][3]float64{
		VacuumWaste: {"vacuum": {600, 1200, 1800}}, LowerLevel: {"down": {600, 600, 3600}},
		SeasonClose: {"down": {600, 1800, 3600}, "down-2": {900, 2700, 10800}}} {
		c, err := Find(id).Write(s)
		require.NoError(t, err)
		for step, want := range steps {
			tm := c.step(step).Timer
			require.NotNil(t, tm, step)
			assert.Equal(t, want, [3]float64{tm.Low, tm.High, tm.Most}, "%s %s", id, step)
			assert.Equal(t, CountWaste, tm.Count)
		}
	}
	r := script(t, LowerLevel, sandRig).Begin()
	finish(t, r)
	assert.InDelta(t, 100.0/60*30, r.Result().WasteGallons, 1e-6, "the run's own figure: 100 s of the waste path")
}

// Sand never meets degreaser or acid; each kind has its own remedy for fouled media.
func TestSandIsNoElement(t *testing.T) {
	for _, p := range For(knownSetup(sandRig)) {
		c := script(t, p.ID, sandRig)
		for _, s := range c.Steps {
			for _, o := range s.Options {
				for _, a := range o.Do {
					assert.NotContains(t, []Verb{AddAcid, AddDegrease}, a.Verb, "%s, %s", p.ID, s.ID)
				}
			}
		}
	}
	for _, rig := range []Rig{sandRig, deRig, cartridgeRig} {
		assert.True(t, slices.ContainsFunc(For(knownSetup(rig)), func(p *Procedure) bool {
			return slices.Contains(p.Mends, fault.MediaFouled)
		}), "%s has a run for fouled media", rig.Kind)
	}
}

// A weekly routine is few confirmations: baskets took 21. One of them puts the pump back on its program.
func TestRoutinesHaveAShortForm(t *testing.T) {
	for id, most := range map[ID]int{Baskets: 12, Backwash: 14, Vacuum: 4} {
		r := forms(t, Find(id), knownSetup(sandRig))[1].Begin()
		finish(t, r)
		assert.Empty(t, r.Why, id)
		assert.LessOrEqual(t, len(r.Done), most, id)
		t.Logf("%s: %d confirmations in short, %d in full", id, len(r.Done), len(script(t, id, sandRig).Steps))
	}
}

// What is found bad on the way is owed.
func TestPartsFoundBadAreOwed(t *testing.T) {
	r := script(t, Baskets, sandRig).Begin()
	to(t, r, "cracks")
	require.NoError(t, r.Take(onward(r, 0, noon)))
	finish(t, r)
	assert.Equal(t, []string{"pump-basket"}, r.Result().Parts)
	assert.True(t, r.Result().Signs[fault.BasketCracked])
}

// The lid test ends with a stop and a look, and says again what it found.
func TestTheLeakTestRepeatsItsFinding(t *testing.T) {
	for _, way := range []struct {
		answers []int
		text    string
	}{{[]int{1}, "It was the lid"}, {[]int{0, 0}, "upstream"}, {[]int{0, 1}, "inlet thread"}} {
		r := script(t, LeakTest, sandRig).Begin()
		to(t, r, "holds")
		assert.False(t, r.State.Running)
		require.NoError(t, r.Take(Event{At: noon, Act: ActTimer, Step: "holds"}))
		for _, a := range way.answers {
			require.NoError(t, r.Take(onward(r, a, noon.Add(time.Hour))))
		}
		assert.Contains(t, say(r.Next().Text), way.text)
		finish(t, r)
		assert.Empty(t, r.Why)
	}
}

// Where the motor is the licensed trade's, it stays locked off; where it was jammed, the
// pump runs again.
func TestAHummingMotor(t *testing.T) {
	r := script(t, Humming, sandRig).Begin()
	to(t, r, "free")
	require.NoError(t, r.Take(onward(r, 0, noon)))
	to(t, r, "trade")
	require.NoError(t, r.Take(onward(r, 0, noon)))
	assert.Contains(t, say(r.Why), "owner informed")
	assert.True(t, r.State.Power == Locked && !r.State.Pot && !r.State.Hand)
	r = script(t, Humming, sandRig).Begin()
	finish(t, r)
	assert.Empty(t, r.Why)
	assert.True(t, r.State.Running)
}

// No flow at a small unit's wall is air first: bled and shaken, and only then a fault.
func TestASmallUnitIsBledBeforeItIsBroken(t *testing.T) {
	for _, id := range []ID{SmallSetUp, SmallBleed, SmallCartridge} {
		r := script(t, id, smallRig).Begin()
		to(t, r, "flow")
		require.NoError(t, r.Take(onward(r, 0, noon)), "none")
		assert.Equal(t, "bleed-motor", r.At)
		assert.Equal(t, Locked, r.State.Power, "unplugged while it is bled")
		finish(t, r)
		assert.Empty(t, r.Why, id)
	}
	d := pad.Document{
		Pump:        pad.Pump{Kind: pad.SingleSpeed, BaseW: 300},
		Filter:      pad.Filter{Kind: pad.Cartridge, Valve: pad.NoValve},
		Suction:     []pad.Line{{Kind: pad.Skimmer}},
		Returns:     []pad.Line{{}},
		PoolGallons: 9000,
	}
	assert.True(t, d.SmallUnit(), "by its parts, whatever the pool holds")
	d.Unit = pad.BuiltPad
	assert.False(t, d.SmallUnit())
}

// Two to three minutes (common practice).
func TestABackwashTakesItsMinutes(t *testing.T) {
	wash := 0.0
	for _, s := range script(t, Backwash, sandRig).Steps {
		if s.Timer != nil && s.Timer.Count == CountBackwash {
			wash += s.Timer.High
		}
	}
	assert.InDelta(t, 180, wash, 1e-9, "two to three minutes (common practice)")
}
