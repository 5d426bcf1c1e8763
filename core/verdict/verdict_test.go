package verdict

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/danger"
	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/loads"
	"fairlap/core/pad"
	"fairlap/core/words"
)

// suspect is a fault of a sand pad with its chance.
func suspect(t require.TestingT, id fault.ID, p float64) diagnosis.Suspect {
	f, ok := fault.LookUp(id, pad.Sand)
	require.True(t, ok, id)
	return diagnosis.Suspect{Fault: f, P: p}
}

// What an answer amounts to, by what stands in it (common practice: a danger before all, one
// reading that fits nothing is read again, a sound pad and a loaded filter are one state).
func TestAnAnswerAmountsToOneThing(t *testing.T) {
	sound := suspect(t, fault.Healthy, 0.9)
	loaded := suspect(t, fault.FilterLoaded, 0.9)
	air := suspect(t, fault.AirInlet, 0.8)
	for name, x := range map[string]struct {
		result diagnosis.Result
		state  State
		says   string
	}{
		"a danger": {
			diagnosis.Result{Suspects: []diagnosis.Suspect{air}, Dangers: []danger.Danger{{Code: "x", Stop: true}}},
			StateStop, "safe first",
		},
		"no pad is sound beside a danger that binds nothing": {
			diagnosis.Result{Suspects: []diagnosis.Suspect{sound}, Known: true,
				Dangers: []danger.Danger{{Code: "x"}}},
			StateFix, "warning above first",
		},
		"a hot heater is said before the suspect": {
			diagnosis.Result{Suspects: []diagnosis.Suspect{air}, Known: true,
				Dangers: []danger.Danger{{Code: danger.HeaterHot}}},
			StateSuspect, "Heater off first",
		},
		"a reading that fits nothing": {
			diagnosis.Result{Suspects: []diagnosis.Suspect{sound},
				Misfit: &diagnosis.Misfit{Meter: pad.MeterTank, Fits: 68948}},
			StateReread, "10.0 psi",
		},
		"a misfit under a clear suspect": {
			diagnosis.Result{Suspects: []diagnosis.Suspect{air},
				Misfit: &diagnosis.Misfit{Meter: pad.MeterTank, Fits: 68948}},
			StateSuspect, "80 %",
		},
		"nothing wrong, hardly any dirt": {
			diagnosis.Result{Suspects: []diagnosis.Suspect{sound}, Known: true, Load: diagnosis.Belief{Mean: 0.2}},
			StateSound, "20 %",
		},
		"nothing wrong but dirt": {
			diagnosis.Result{Suspects: []diagnosis.Suspect{sound}, Known: true, Load: diagnosis.Belief{Mean: 0.7}},
			StateDirt, "70 %",
		},
		"past the limit": {
			diagnosis.Result{Suspects: []diagnosis.Suspect{loaded}, Known: true, Load: diagnosis.Belief{Mean: 1.3}},
			StatePast, "130 %",
		},
		"nothing read": {
			diagnosis.Result{Suspects: []diagnosis.Suspect{sound}, Load: diagnosis.Belief{Mean: 0.3}},
			StateSound, "30 %",
		},
		"a suspect leads": {
			diagnosis.Result{Suspects: []diagnosis.Suspect{air, suspect(t, fault.Healthy, 0.1)}, Known: true},
			StateSuspect, "80 %",
		},
		"nothing leads": {
			diagnosis.Result{Suspects: []diagnosis.Suspect{suspect(t, fault.AirInlet, 0.4),
				suspect(t, fault.Healthy, 0.3)}, Known: true},
			StateUnsure, "40 %",
		},
	} {
		v := Judge(&x.result)
		assert.Equal(t, x.state, v.State, name)
		assert.Contains(t, words.Plain.Say(v.Text), x.says, name)
	}
}

// Two faults at once lead together, and are no sound pad.
func TestTwoAtOnceAreASuspect(t *testing.T) {
	both := suspect(t, fault.FilterLoaded, 0.7)
	both.With = []diagnosis.Together{{Fault: suspect(t, fault.AirInlet, 0).Fault, P: 0.7}}
	v := Judge(&diagnosis.Result{Suspects: []diagnosis.Suspect{both}, Known: true})
	assert.Equal(t, StateSuspect, v.State)
	assert.InDelta(t, 0.7, v.P, 1e-9)
}

// Whatever stands in an answer, its verdict has a state and words, and a chance that is one.
func TestEveryAnswerHasAVerdict(t *testing.T) {
	ids := []fault.ID{fault.Healthy, fault.FilterLoaded, fault.AirInlet, fault.MotorHums, fault.GaugeBad}
	rapid.Check(t, func(t *rapid.T) {
		left := 1.0
		r := diagnosis.Result{
			Known: rapid.Bool().Draw(t, "known"),
			Load:  diagnosis.Belief{Mean: rapid.Float64Range(-0.2, 10).Draw(t, "load"), SD: 0.1},
		}
		for _, id := range ids {
			p := left * rapid.Float64Range(0, 1).Draw(t, "p")
			left -= p
			r.Suspects = append(r.Suspects, suspect(t, id, p))
		}
		r.Other = left
		v := Judge(&r)
		assert.NotEmpty(t, v.State)
		assert.NotEmpty(t, words.Plain.Say(v.Text))
		assert.GreaterOrEqual(t, v.P, 0.0)
		assert.LessOrEqual(t, v.P, 1.0+1e-9)
		for _, f := range FixOrder(&r) {
			assert.NotEqual(t, fault.Healthy, f.Fault.ID, "nothing is mended on a sound pad")
			assert.GreaterOrEqual(t, f.Spent, 0.0)
		}
	})
}

// Under a danger nothing is offered to be mended.
func TestADangerLeavesNothingToFix(t *testing.T) {
	r := diagnosis.Result{Suspects: []diagnosis.Suspect{suspect(t, fault.AirInlet, 0.9)}}
	require.NotEmpty(t, FixOrder(&r))
	r.Dangers = []danger.Danger{{Code: "x", Stop: true}}
	assert.Empty(t, FixOrder(&r))
}

// What stands below a headline binds it: nothing seen wrong, no sign that nothing explains, no fair
// chance of something else, no dirt past its limit goes with "sound" or "only dirt".
func TestAHeadlineObeysWhatStandsBelowIt(t *testing.T) {
	basket, _ := fault.LookUpSign(fault.BasketFull)
	slurps, _ := fault.LookUpSign(fault.Slurping)
	rapid.Check(t, func(t *rapid.T) {
		healthy := rapid.Float64Range(0, 1).Draw(t, "healthy")
		other := (1 - healthy) * rapid.Float64Range(0, 1).Draw(t, "other")
		quiet := suspect(t, "basket-full", 1-healthy-other)
		quiet.Quiet = quiet.P * rapid.SampledFrom([]float64{0, 1}).Draw(t, "quiet")
		at := rapid.IntRange(0, loads.N-1).Draw(t, "load")
		grid := make([]float64, loads.N)
		grid[at] = 1
		load := loads.Grid[at]
		sound := suspect(t, fault.Healthy, healthy)
		if at >= loads.Limit {
			sound = suspect(t, fault.FilterLoaded, healthy)
		}
		r := &diagnosis.Result{
			Kind: pad.Sand, Known: true, Load: diagnosis.Belief{Mean: load}, LoadGrid: grid, Other: other,
			Suspects: []diagnosis.Suspect{sound, quiet},
		}
		if rapid.Bool().Draw(t, "found") {
			r.Found = []diagnosis.Found{{Sign: *basket, Mend: basket.Mend}}
		}
		if rapid.Bool().Draw(t, "unexplained") {
			r.Unexplained = []fault.SignFact{*slurps}
		}
		v := Judge(r)
		calm := v.State == StateSound || v.State == StateDirt
		if calm {
			assert.Empty(t, r.Found)
			assert.Empty(t, r.Unexplained)
			assert.LessOrEqual(t, other, mostElse)
			assert.Less(t, at, loads.Limit)
		}
		if at >= loads.Limit && (quiet.Quiet > 0 || healthy > quiet.P) && v.P >= 0.5 {
			assert.Equal(t, StatePast, v.State, "%+v", v)
			said := words.Plain.Say(v.Text)
			assert.Contains(t, said, "limit")
			if len(r.Found) > 0 || quiet.P > healthy {
				assert.Contains(t, said, "asket", "what was seen is named beside it")
			}
			fixes := FixOrder(r)
			assert.True(t, slices.ContainsFunc(fixes, func(f Fix) bool { return f.Fault.ID == fault.FilterLoaded }))
		}
	})
}
