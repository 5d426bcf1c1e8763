package procedure

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/words"
)

// scripts are all procedures in both forms for pads of every kind.
func scripts(t *testing.T, each func(p *Procedure, c *Script)) {
	t.Helper()
	hot, low := sandRig, deRig
	hot.Heater, low.Below = true, true
	n := 0
	for _, rig := range []Rig{hot, sandRig, deRig, low, cartridgeRig, smallRig} {
		for _, p := range For(knownSetup(rig)) {
			for _, c := range forms(t, p, knownSetup(rig)) {
				n++
				each(p, c)
			}
		}
	}
	require.Greater(t, n, 150)
}

// The minutes that a run is said to take hold the waits that bind on every way to its aim, but for those beside which
// a hand does other work: they are said apart.
func TestTheMinutesHoldTheWaits(t *testing.T) {
	soaks := map[ID]float64{}
	scripts(t, func(p *Procedure, c *Script) {
		assert.GreaterOrEqual(t, 60*c.Minutes, c.waits(0)-60*c.Soak, p.ID)
		if c.Soak > 0 {
			soaks[p.ID] = c.Soak
		}
	})
	assert.Equal(t, map[ID]float64{TearDown: 120, Soaking: 120}, soaks, "two hours of degreaser (handbook, procedures)")
}

// A caution is shown where it is true: a start from a distance for what was opened, the filter's handle where it
// moves, a motor's charge where its cover or wiring is touched, and a small unit has neither breaker nor band.
func TestCautionsBelongToTheirStep(t *testing.T) {
	does := func(s *ScriptStep, verbs ...Verb) bool {
		return slices.ContainsFunc(s.Options, func(o Option) bool {
			return slices.ContainsFunc(o.Do, func(a Action) bool { return slices.Contains(verbs, a.Verb) })
		})
	}
	restarts := 0
	scripts(t, func(p *Procedure, c *Script) {
		for i := range c.Steps {
			s := &c.Steps[i]
			shows := func(care Care) bool { return slices.Contains(s.Care, c.Rig.caution(care)) }
			at := string(p.ID) + ", " + s.ID
			if shows(Restart) {
				restarts++
				assert.True(t, s.State.Opened || s.State.Bleed, at)
			}
			if s.State.Opened && does(s, Start) && !c.Rig.Small {
				assert.True(t, shows(Restart), at)
			}
			if shows(DeadHead) {
				assert.True(t, does(s, Turn, Stop, Start), at)
			}
			if does(s, HandIn) && (p.ID == Impeller || p.ID == Baskets) {
				assert.False(t, shows(Capacitor), "%s: a finger in the impeller waits for no charge", at)
			}
			if c.Rig.Small {
				for _, text := range append([]words.Message{s.Text, s.Hint}, s.Care...) {
					assert.NotContains(t, say(text), "breaker", at)
					assert.NotContains(t, say(text), "band", at)
				}
				assert.False(t, does(s, Start) && s.State.Bleed, "%s: its air valve is closed first", at)
			}
		}
	})
	assert.Greater(t, restarts, 50)
}

// What a wait is for may come before its time: a basket that empties at once has answered.
func TestAnAnswerMaySettleAWait(t *testing.T) {
	r := script(t, LeakTest, sandRig).Begin()
	to(t, r, "holds")
	s := r.Next()
	at := slices.IndexFunc(s.Options, func(o Option) bool { return o.ID == "sinks" })
	require.NoError(t, r.Take(onward(r, at, noon)))
	assert.Equal(t, "valve-test", r.At)
	r = script(t, LeakTest, sandRig).Begin()
	to(t, r, "holds")
	require.ErrorIs(t, r.Take(onward(r, onwards(r.Next()), noon)), ErrEarly, "that it stays full takes its time")
}
