package procedure

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/pad"
)

var sandRig = Rig{
	Valve:   pad.Multiport,
	Kind:    pad.Sand,
	Suction: []string{"Skimmer", "Main drain"},
	Usual:   3,
	Drain:   1,
	Spa:     true,
}

// doing gives the state after actions that must all be allowed.
func doing(t *testing.T, r *Rig, s State, actions ...Action) State {
	t.Helper()
	out, err := r.Do(s, actions...)
	require.NoError(t, err)
	return out
}

// Each of the trade's classic mistakes is refused, in words.
func TestClassicMistakesAreRefused(t *testing.T) {
	r := &sandRig
	daily := r.Daily()
	off := doing(t, r, daily, do(Stop))
	locked := doing(t, r, off, do(LockOff))
	t.Run("handle turned with the pump on", func(t *testing.T) {
		assert.Contains(t, say(r.Refuses(daily, do(Turn, "backwash"))), "turn it OFF before the filter handle moves")
		assert.Empty(t, r.Refuses(off, do(Turn, "backwash")))
	})
	t.Run("start on closed", func(t *testing.T) {
		for _, to := range []string{"closed", "winter"} {
			s := doing(t, r, off, do(Turn, to))
			assert.Contains(t, say(r.Refuses(s, do(Start))), "Never start on "+to)
			assert.Contains(
				t,
				say(r.Refuses(doing(t, r, s, do(LockOff)), do(Unlock))),
				"Never start on "+to,
				"nor give a timer the chance",
			)
		}
	})
	t.Run("dead head and dry run", func(t *testing.T) {
		assert.Contains(t, say(r.Refuses(doing(t, r, off, do(ShutReturns)), do(Start))), "dead end")
		assert.Contains(t, say(r.Refuses(doing(t, r, off, do(ShutSuction)), do(Start))), "run dry")
		last := doing(t, r, daily, do(ShutLine, "1"))
		assert.Contains(t, say(r.Refuses(last, do(ShutLine, "0"))), "last open line")
	})
	t.Run("band opened under pressure", func(t *testing.T) {
		assert.Contains(t, say(r.Refuses(locked, do(OpenTank))), "Open the bleed first")
		bled := doing(t, r, locked, do(OpenBleed))
		assert.Contains(t, say(r.Refuses(bled, do(OpenTank))), "under pressure")
		assert.Contains(t, say(r.Refuses(locked, do(Relieve))), "proves nothing", "the needle alone is no witness")
		assert.Empty(t, r.Refuses(doing(t, r, bled, do(Relieve)), do(OpenTank)))
	})
	t.Run("tank opened with power only off", func(t *testing.T) {
		s := doing(t, r, off, do(OpenBleed), do(Relieve))
		assert.Contains(t, say(r.Refuses(s, do(OpenTank))), "not locked off")
	})
	t.Run("bleed not open at restart", func(t *testing.T) {
		s := doing(t, r, locked, do(OpenBleed), do(Relieve), do(OpenTank), do(CloseTank))
		assert.Contains(t, say(r.Refuses(s, do(CloseBleed))), "Leave the bleed open")
		s.Bleed = false // as if it had been shut all the same
		assert.Contains(t, say(r.Refuses(s, do(Unlock))), "Open the bleed first")
	})
	t.Run("pot opened with only a time-out set", func(t *testing.T) {
		s := doing(t, r, off, do(SetTimeOut))
		assert.Contains(t, say(r.Refuses(s, do(OpenPot))), "A time-out ends by itself")
		assert.Empty(t, r.Refuses(locked, do(OpenPot)))
	})
	t.Run("scalding pot after a dry run", func(t *testing.T) {
		s := doing(t, r, daily, do(RunDry), do(LockOff))
		assert.Contains(t, say(r.Refuses(s, do(OpenPot))), "boiling")
		assert.Empty(t, r.Refuses(doing(t, r, s, do(Cool)), do(OpenPot)))
	})
	t.Run("hand at the impeller without lock-out", func(t *testing.T) {
		s := doing(t, r, locked, do(OpenPot))
		assert.Empty(t, r.Refuses(s, do(HandIn)))
		s.Power = TimeOut
		assert.Contains(t, say(r.Refuses(s, do(HandIn))), "locked off")
		in := doing(t, r, locked, do(OpenPot), do(HandIn), do(FillPot))
		assert.Contains(t, say(r.Refuses(in, do(ClosePot))), "still in the pump")
		assert.NotEmpty(t, r.Refuses(in, do(Unlock)))
	})
	t.Run("acid and detergent without a rinse between", func(t *testing.T) {
		s := doing(t, r, locked, do(BathWater), do(AddDegrease), do(EmptyBath), do(BathWater))
		assert.Contains(t, say(r.Refuses(s, do(AddAcid))), "must not meet")
		s = doing(t, r, locked, do(BathWater), do(AddAcid), do(EmptyBath), do(BathWater))
		assert.Contains(t, say(r.Refuses(s, do(AddDegrease))), "must not meet")
		s = doing(t, r, s, do(RinseOff))
		assert.Empty(t, r.Refuses(s, do(AddDegrease)))
	})
	t.Run("water into acid", func(t *testing.T) {
		assert.Contains(t, say(r.Refuses(locked, do(AddAcid))), "acid goes into water")
		assert.Contains(
			t,
			say(r.Refuses(doing(t, r, locked, do(BathWater), do(AddAcid)), do(BathWater))),
			"never water into acid",
		)
	})
	t.Run("dry DE", func(t *testing.T) {
		assert.Contains(t, say(r.Refuses(daily, do(PourDE))), "Never dry")
		assert.Contains(t, say(r.Refuses(doing(t, r, off, do(MixSlurry)), do(PourDE))), "pump is off")
	})
	t.Run("spa valves left", func(t *testing.T) {
		s := doing(t, r, off, do(SuctionTo, "spa"))
		assert.Contains(t, say(r.Refuses(s, do(Start))), "would draw from the spa and fill the pool")
		both := doing(t, r, s, do(ReturnTo, "spa"), do(Start))
		assert.Contains(t, say(r.Unlike(both)), "spa valves", "a run can't end like this")
		assert.Contains(t, say(r.Refuses(both, do(ReturnTo, "pool"))), "turn it OFF")
	})
	t.Run("small pool with people in it", func(t *testing.T) {
		small := Rig{
			Valve:   pad.NoValve,
			Kind:    pad.Cartridge,
			Suction: []string{"Hose"},
			Usual:   1,
			Drain:   -1,
			Small:   true,
		}
		s := small.Daily()
		s.Running, s.People = false, true
		assert.Contains(t, say(small.Refuses(s, do(Start))), "People are in the pool")
		s.People, s.Filled = false, false
		assert.Contains(t, say(small.Refuses(s, do(Start))), "not filled")
	})
	t.Run("pad below the water opened with its lines open", func(t *testing.T) {
		below := sandRig
		below.Below = true
		s := doing(t, &below, locked, do(OpenBleed), do(Relieve))
		assert.Contains(t, say(below.Refuses(s, do(OpenTank))), "below the water")
		assert.Contains(t, say(below.Refuses(s, do(OpenPot))), "below the water")
	})
	t.Run("dosing an idle pump, or with swimmers in", func(t *testing.T) {
		assert.Contains(t, say(r.Refuses(off, do(Dose))), "idle pump")
		s := daily
		s.People = true
		assert.Contains(t, say(r.Refuses(s, do(Dose))), "Swimmers")
	})
	t.Run("hot heater left without flow", func(t *testing.T) {
		s := daily
		s.Heat = true
		assert.Contains(t, say(r.Refuses(s, do(Stop))), "heater is still hot")
	})
	t.Run("priming on shut lines without opening one", func(t *testing.T) {
		s := doing(t, r, off, do(ShutSuction), do(OpenBleed))
		assert.Contains(t, say(r.Refuses(s, do(Start))), "run dry")
		s = doing(t, r, s, do(StartShut))
		assert.Contains(t, say(r.Refuses(s, do(CloseBleed))), "Open one now, or stop")
		assert.Empty(t, r.Refuses(s, do(Stop)))
		assert.Equal(t, NotPriming, doing(t, r, s, do(OpenLine, "1")).Prime)
	})
}

// dangerous says what must never be true of a pad, whatever was done in which order;
// it knows nothing of how the rules are written.
func dangerous(r *Rig, s State) string {
	switch {
	case s.Running && s.Tank:
		return "running on an open tank"
	case s.Running && s.Pot:
		return "running on an open pot"
	case s.Running && s.Hand:
		return "running on a hand"
	case s.Hand && s.Power != Locked:
		return "a hand in a pump that may start"
	case s.Tank && s.Power != Locked, s.Pot && s.Power != Locked:
		return "open and not locked off"
	case s.Tank && s.Pressed:
		return "opened under pressure"
	case s.Running && (s.Setting == pad.SetClosed || s.Setting == pad.SetWinter):
		return "running on closed"
	case s.Running && s.Suction == 0 && s.Prime != Priming:
		return "running dry"
	case s.Running && s.Opened && !s.Bleed:
		return "started with air in the tank"
	case s.Running && r.Spa && s.SuctionTo != s.ReturnTo:
		return "emptying one water into the other"
	case s.Running && r.Small && s.People, s.Running && !s.Filled:
		return "a small pump running on people or air"
	case s.Bath == Acid && s.Elements == Degreaser, s.Bath == Degreaser && s.Elements == Acid:
		return "acid and detergent together"
	case r.Below && (s.Tank || s.Pot) && (s.Suction != 0 || s.Returns):
		return "the pool running out at the pad"
	}
	return ""
}

// Whatever hands try, in whatever order, no allowed sequence leads to danger, a
// refused action changes nothing, and from everywhere there is a safe way out.
func TestNoAllowedSequenceLeadsToDanger(t *testing.T) {
	rigs := []Rig{sandRig,
		{Valve: pad.NoValve, Kind: pad.Cartridge, Suction: []string{"Skimmer"}, Usual: 1, Drain: -1, Below: true},
		{Valve: pad.NoValve, Kind: pad.Cartridge, Suction: []string{"Hose"}, Usual: 1, Drain: -1, Small: true},
		{
			Valve:   pad.SlideValve,
			Kind:    pad.DE,
			Suction: []string{"Skimmer", "Drain", "Vacuum"},
			Usual:   3,
			Drain:   1,
			Heater:  true,
		}}
	refused, allowed := 0, 0
	rapid.Check(t, func(t *rapid.T) {
		r := rapid.SampledFrom(rigs).Draw(t, "rig")
		s := r.Daily()
		s.People = rapid.Bool().Draw(t, "people") && !r.Small
		actions := r.Actions()
		for range rapid.IntRange(1, 60).Draw(t, "length") {
			a := rapid.SampledFrom(actions).Draw(t, "action")
			after, err := r.Do(s, a)
			if err != nil {
				refused++
				assert.Equal(t, s, after, "a refused action changes nothing")
				assert.NotEmpty(t, err.Error())
				continue
			}
			allowed++
			s = after
			if text := dangerous(&r, s); text != "" {
				t.Fatalf("%s after %v", text, a)
			}
		}
		way := r.Leave(s)
		end, err := r.Do(s, way...)
		require.NoError(t, err)
		assert.True(t, r.Safe(end), "left as %+v by %v", end, way)
		assert.Empty(t, dangerous(&r, end))
	})
	assert.Positive(t, refused)
	assert.Positive(t, allowed)
}

// Every state that allowed actions lead to from daily use is tried on a small pad
// with a spa: none is dangerous, and each has a safe way out.
func TestEveryReachableStateIsSafeToLeave(t *testing.T) {
	r := Rig{
		Valve:   pad.Multiport,
		Kind:    pad.Sand,
		Suction: []string{"Skimmer"},
		Usual:   1,
		Drain:   -1,
		Spa:     true,
		Below:   true,
	}
	var actions []Action
	for _, a := range r.Actions() {
		switch a.Verb {
		case BathWater,
			AddDegrease,
			AddAcid,
			EmptyBath,
			RinseOff,
			MixSlurry,
			PourDE,
			PutDEAway,
			Dose,
			HeatOn,
			HeatOff,
			PeopleOut,
			FillPool:
		case Turn:
			if a.Arg == string(pad.SetFilter) || a.Arg == string(pad.SetClosed) {
				actions = append(actions, a)
			}
		default: // all that moves the pump, its power, its lines and its lids
			actions = append(actions, a)
		}
	}
	seen := map[State]bool{r.Daily(): true}
	next := []State{r.Daily()}
	for len(next) > 0 {
		s := next[0]
		next = next[1:]
		if text := dangerous(&r, s); text != "" {
			t.Fatalf("%s: %+v", text, s)
		}
		for _, a := range actions {
			if after, err := r.Do(s, a); err == nil && !seen[after] {
				seen[after] = true
				next = append(next, after)
			}
		}
	}
	t.Logf("%d states", len(seen))
	assert.Greater(t, len(seen), 1000)
	n := 0
	for s := range seen { // a sample: the search from each costs time
		if n++; n > 300 {
			break
		}
		end, err := r.Do(s, r.Leave(s)...)
		require.NoError(t, err)
		assert.True(t, r.Safe(end), "%+v", s)
	}
}
