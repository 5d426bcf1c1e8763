package practice

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/fault"
	"fairlap/core/procedure"
	"fairlap/core/words"
)

func do(verb procedure.Verb, arg ...string) Event {
	a := procedure.Action{Verb: verb}
	if len(arg) > 0 {
		a.Arg = arg[0]
	}
	return Event{Act: ActDo, Do: &a}
}

// worked is an attempt after some events, none of which may be refused.
func worked(t *testing.T, c *Case, events ...Event) *Attempt {
	t.Helper()
	a, err := set(t, c).Fold(Alone, events)
	require.NoError(t, err)
	return a
}

func plain(pad string) *Case {
	return &Case{
		ID:       "plain",
		Level:    FirstWeek,
		Theme:    Filter,
		Pad:      pad,
		Month:    6,
		Load:     0.3,
		Forecast: 0.3,
		Typical:  true,
		Seed:     7,
	}
}

// Whatever a hand does at a pad, breaking a rule does something: no refusal of the state
// machine is without what comes of it.
func TestEveryBrokenRuleDoesSomething(t *testing.T) {
	const most = 6000
	for _, name := range PadNames() {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			s := set(t, plain(name))
			seen := map[procedure.State]bool{}
			next := []procedure.State{s.rig.Daily()}
			hot := s.rig.Daily()
			hot.Running, hot.Hot, hot.PotFull, hot.Prime = false, true, false, procedure.NotPriming
			next = append(next, hot)
			broken := 0
			for len(next) > 0 && len(seen) < most {
				st := next[0]
				next = next[1:]
				if seen[st] {
					continue
				}
				seen[st] = true
				for _, act := range s.rig.Actions() {
					if _, ok := hands[act.Verb]; !ok {
						continue
					}
					if why := s.rig.Refuses(st, act); why != "" {
						broken++
						_, ok := harmOf(act, why)
						assert.True(t, ok, "%s: %s (%s)", act.Verb, words.Plain.Say(why), why.Key())
					}
					if after := s.rig.Anyhow(st, act); !seen[after] {
						next = append(next, after)
					}
				}
			}
			assert.Greater(t, broken, 500)
		})
	}
}

// Every verb of a hand has its place on the page, every need a way to it that breaks no
// rule, on every pad; and there is a way back.
func TestEveryNeedHasASafeWayToItAndBack(t *testing.T) {
	for v := range hands {
		assert.Contains(t, groups, v)
	}
	for _, name := range PadNames() {
		for need := range needs {
			if need == Any {
				continue
			}
			a := worked(t, plain(name), do(procedure.Stop), Event{Act: ActReady, Need: need})
			assert.True(t, needs[need].met(a.State), "%s: %s", name, need)
			require.NoError(t, a.Take(Event{Act: ActRestore}))
			require.NoError(t, a.Take(Event{Act: ActLeave}))
			assert.Empty(t, a.Harms, "%s: %s", name, need)
			assert.Equal(t, a.rig.Daily(), a.State, "%s: %s", name, need)
		}
	}
}

func TestAHandleTurnedWithThePumpOnTearsTheGasket(t *testing.T) {
	a := worked(t, plain(SandSpeeds), do(procedure.Turn, "backwash"))
	require.Len(t, a.Harms, 1)
	assert.Equal(t, torn.says, a.Harms[0].Says)
	assert.Greater(t, a.Minutes, 30.0)
	assert.Greater(t, a.Dollars, 0.0)
	assert.False(t, a.Over)
}

func TestADryStartMeltsAFitting(t *testing.T) {
	a := worked(t, plain(SandSpeeds), do(procedure.Stop), do(procedure.ShutSuction), do(procedure.Start))
	require.Len(t, a.Harms, 1)
	assert.Equal(t, melted.says, a.Harms[0].Says)
	assert.True(t, a.State.Hot)
	require.NoError(t, a.Take(do(procedure.LockOff)))
	require.NoError(t, a.Take(do(procedure.OpenPot)))
	assert.True(t, a.Hurt, "the pot boils")
	assert.True(t, a.Over)
}

func TestATankOpenedUnderPressureEndsTheCase(t *testing.T) {
	a := worked(t, plain(Cartridge), do(procedure.Stop), do(procedure.LockOff), do(procedure.OpenTank))
	assert.True(t, a.Over)
	assert.True(t, a.Hurt)
	assert.False(t, a.Solved())
	require.NotEmpty(t, a.Harms)
	assert.NotEmpty(t, a.Harms[0].Why, "the rule that the guided work keeps")
	assert.ErrorIs(t, a.Take(Event{Act: ActRead}), ErrOver)
}

func TestAPadLeftOpenIsTold(t *testing.T) {
	a := worked(t, plain(SandSpeeds), do(procedure.Stop), do(procedure.LockOff), Event{Act: ActLeave})
	require.Len(t, a.Harms, 1)
	assert.Equal(t, "practice.harm.left", string(a.Harms[0].Says))
}

// A look that asks for an open pot tells nothing while the pump runs, and hurts nobody.
func TestALookAsksForThePadThatItNeeds(t *testing.T) {
	a := worked(t, plain(SandSpeeds), Event{Act: ActLook, Sign: fault.BasketFull})
	assert.Empty(t, a.seen)
	assert.Empty(t, a.Harms)
	assert.Equal(t, []words.Message{needs[OpenPot].lack}, a.Steps[0].Told)
	require.NoError(t, a.Take(Event{Act: ActReady, Need: OpenPot}))
	require.NoError(t, a.Take(Event{Act: ActLook, Sign: fault.BasketFull}))
	assert.Equal(t, false, a.seen[fault.BasketFull].yes)
}

// Water that runs to waste is counted, and a backwash by hand cleans.
func TestABackwashByHandCleansAndCostsItsWater(t *testing.T) {
	c := plain(SandSpeeds)
	c.Load, c.Hidden = 1.5, one(fault.FilterLoaded, 0, 0)
	a := worked(
		t, c,
		do(procedure.Stop),
		do(procedure.Turn, "backwash"),
		do(procedure.Start),
		Event{Act: ActWait, Minutes: 3},
		do(procedure.Stop),
		do(procedure.Turn, "filter"),
		do(procedure.Start),
		do(procedure.Program),
		Event{Act: ActLeave},
	)
	assert.Empty(t, a.Harms)
	assert.Less(t, a.Load, dirty)
	assert.Greater(t, a.Gallons, 100.0)
	assert.True(t, a.Solved())
}

// What is left to a licensed trade is right when it is theirs, and costs when it was not.
func TestWhatIsLeftToOthers(t *testing.T) {
	c := plain(SandSpeeds)
	c.Hidden = one(fault.NoPower, 0, 0)
	right := worked(t, c, Event{Act: ActRefer, Fault: fault.NoPower}, Event{Act: ActLeave})
	assert.True(t, right.Solved())
	assert.Empty(t, right.Wrong)
	own := worked(t, c, Event{Act: ActReady, Need: LockedUp}, Event{Act: ActMend, Fault: fault.NoPower})
	require.NotEmpty(t, own.Harms, "one's own hands on a trade's work")
	wild := worked(t, c, Event{Act: ActRefer, Fault: fault.MotorHums})
	assert.Equal(t, []fault.ID{fault.MotorHums}, wild.Wrong)
	c.Hidden = one(fault.MotorHums, 0, 0) // a jam
	jam := worked(t, c, Event{Act: ActRefer, Fault: fault.MotorHums})
	assert.Empty(t, jam.Handed, "that was ours")
}
