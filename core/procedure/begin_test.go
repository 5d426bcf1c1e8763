package procedure

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/pad"
)

// endsOf are the states that a run of a script may end in, with the reason why.
func endsOf(t require.TestingT, c *Script) map[State]string {
	out := map[State]string{}
	require.NoError(t, c.follow(func(_ *ScriptStep, o *Option, after State) error {
		if o.To == "" {
			out[after] = say(o.Ends)
		}
		return nil
	}))
	return out
}

var beginRigs = []Rig{
	sandRig,
	{Valve: pad.Multiport, Kind: pad.DE, Suction: []string{"Skimmer", "Drain"}, Usual: 3, Drain: 1, Heater: true},
	{Valve: pad.SlideValve, Kind: pad.Sand, Suction: []string{"Skimmer"}, Usual: 1, Drain: -1},
	{
		Valve: pad.NoValve, Kind: pad.Cartridge, Suction: []string{"Skimmer", "Drain"}, Usual: 3, Drain: 1,
		Below: true,
	},
	{
		Valve: pad.Multiport, Kind: pad.Sand, Suction: []string{"Skimmer", "Drain", "Vacuum"}, Usual: 3, Drain: 1,
		Below: true, Heater: true, Spa: true,
	},
	{Valve: pad.NoValve, Kind: pad.Cartridge, Suction: []string{"Hose"}, Usual: 1, Drain: -1, Small: true},
	{Valve: pad.NoValve, Kind: pad.DE, Suction: []string{"Skimmer"}, Usual: 1, Drain: -1, Spa: true},
	{Valve: pad.SlideValve, Kind: pad.DE, Suction: []string{"Skimmer", "Drain"}, Usual: 3, Drain: 1, Heater: true},
}

// No end of any procedure says of a pad what no step of a hand made it: the option that ends a
// run asks for no work that its own step does not name, and a running pump is on its program.
func TestNoEndingAssertsWhatNobodyConfirmed(t *testing.T) {
	for _, rig := range beginRigs {
		for _, p := range For(knownSetup(rig)) {
			for _, c := range forms(t, p, knownSetup(rig)) {
				for _, s := range c.Steps {
					for _, o := range s.Options {
						if o.Ends == "" {
							continue
						}
						byHand := slices.DeleteFunc(slices.Clone(o.Do), func(a Action) bool { return onlySeen[a.Verb] })
						if o.To == "" && len(byHand) > 0 {
							assert.Len(t, s.Options, 1, "%s, %s: a step of its own", p.ID, s.ID)
						}
					}
				}
				for end, why := range endsOf(t, c) {
					assert.False(t, end.ByHand && end.Power == Live, "%s ends held by hand: %s", p.ID, why)
				}
			}
		}
	}
}

// Every run that is begun in a state that another run ended or was left in keeps the pad's rules,
// asks first, and can be finished.
func TestARunBeginsWhereTheStopLeftThePad(t *testing.T) {
	type left struct {
		by    ID
		state State
	}
	states := map[int][]left{}
	for i, rig := range beginRigs {
		seen := map[State]bool{rig.Daily(): true}
		for _, p := range For(knownSetup(rig)) {
			c := script(t, p.ID, rig)
			all := endsOf(t, c)
			for _, s := range c.Steps {
				all[s.Left] = s.ID
			}
			for s := range all {
				if !seen[s] {
					seen[s] = true
					states[i] = append(states[i], left{p.ID, s})
				}
			}
		}
		slices.SortFunc(states[i], func(a, b left) int { return len(a.by) - len(b.by) })
	}
	begun, refused := 0, map[ID]bool{}
	rapid.Check(t, func(t *rapid.T) {
		i := rapid.IntRange(0, len(beginRigs)-1).Draw(t, "rig")
		rig := beginRigs[i]
		if len(states[i]) == 0 {
			return
		}
		at := rapid.SampledFrom(states[i]).Draw(t, "left")
		setup := knownSetup(rig)
		setup.Start = &at.state
		p := rapid.SampledFrom(For(setup)).Draw(t, "procedure")
		c, err := p.Write(setup)
		if err != nil {
			var no *Refusal
			require.ErrorAs(t, err, &no, "%s after %s", p.ID, at.by)
			refused[p.ID] = true
			return
		}
		if p.From != nil { // it has a state of its own to find
			return
		}
		require.Equal(t, asFound, c.Steps[0].ID, "%s after %s", p.ID, at.by)
		begun++
		r := c.Begin()
		assert.Equal(t, at.state, r.State)
		for n := 0; r.Ended == nil; n++ {
			require.Less(t, n, 300, "%s after %s: no end in sight", p.ID, at.by)
			s := r.Next()
			require.Equal(t, s.State, r.State, "%s, %s", p.ID, s.ID)
			o := rapid.IntRange(0, len(s.Options)-1).Draw(t, "option")
			if n > 100 {
				o = onwards(s)
			}
			e := onward(r, o, noon)
			e.Note = "a test has no time"
			require.NoError(t, r.Take(e), "%s after %s, at %s", p.ID, at.by, s.ID)
			assert.Empty(t, dangerous(&rig, r.State), "%s after %s, at %s", p.ID, at.by, s.ID)
		}
	})
	t.Logf("%d runs begun, refused: %v", begun, refused)
	assert.Positive(t, begun)
	assert.Empty(t, refused, "from everywhere a way leads in")
}

// What is done already is not asked again: a pump that the run before locked off is not turned
// on to be turned off (common practice).
func TestWhatIsDoneIsNotAskedAgain(t *testing.T) {
	locked := doing(t, &sandRig, sandRig.Daily(), do(Stop), do(LockOff))
	setup := knownSetup(sandRig)
	setup.Start = &locked
	c, err := Find(Baskets).Write(setup)
	require.NoError(t, err)
	r := c.Begin()
	require.NoError(t, r.Take(onward(r, 1, noon)))
	var before []Verb
	for !r.State.Pot {
		s := r.Next()
		for _, a := range s.Options[onwards(s)].Do {
			before = append(before, a.Verb)
		}
		e := onward(r, onwards(s), noon)
		e.Note = "a test has no time"
		require.NoError(t, r.Take(e))
	}
	assert.NotContains(t, before, Start)
	assert.NotContains(t, before, Unlock)
	assert.NotContains(t, before, LockOff)

	around := doing(t, &sandRig, sandRig.Daily(), do(Stop), do(Turn, "recirculate"), do(Start), do(Program))
	setup.Start = &around
	c, err = Find(Backwash).Write(setup)
	require.NoError(t, err)
	assert.Contains(t, say(c.Steps[0].Text), "recirculate")
	assert.Contains(t, say(c.Steps[0].Text), "how you find it")
	r = c.Begin()
	require.NoError(t, r.Take(onward(r, 0, noon)), "no: it was put back")
	assert.Equal(t, sandRig.Daily(), r.State)
}
