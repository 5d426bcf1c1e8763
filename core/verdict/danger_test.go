package verdict

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/danger"
	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/pad/padtest"
	"fairlap/core/plumbing"
	"fairlap/core/units"
)

// dangers are those of some signs at a pad, and the headline over them.
func dangers(
	t *testing.T, d pad.Document, h diagnosis.Heater, signs map[fault.Sign]bool,
) ([]danger.Danger, Verdict) {
	t.Helper()
	m, err := plumbing.New(d, plumbing.Nominal(), units.Fahrenheit(80), units.PSI(8))
	require.NoError(t, err)
	r, err := diagnosis.Diagnose(diagnosis.Case{Model: m, Signs: signs, Heater: h,
		Load: diagnosis.Belief{Mean: 0.3, SD: 0.2}, Readings: []diagnosis.Reading{{Reading: pad.Reading{Speed: 2400}}}})
	require.NoError(t, err)
	return r.Dangers, Judge(r)
}

// A heater that crackles, or that the stop knows to be hot, comes before every other danger and does not stop the
// pump: water has to move. Cooled it is said no more.
func TestAHotHeaterComesFirst(t *testing.T) {
	d := padtest.SpaPad()
	crackles := map[fault.Sign]bool{fault.HeaterCrackles: true, fault.WaterGreen: true}
	hot := func(x danger.Danger) bool { return x.Code == danger.HeaterHot }
	for _, h := range []diagnosis.Heater{"", diagnosis.HeaterHot} {
		got, v := dangers(t, d, h, crackles)
		require.NotEmpty(t, got)
		assert.True(t, hot(got[0]))
		assert.False(t, got[0].Stop)
		assert.NotEqual(t, StateSound, v.State)
	}
	got, _ := dangers(t, d, diagnosis.HeaterHot, nil)
	assert.True(t, slices.ContainsFunc(got, hot), "a run found it firing")
	got, _ = dangers(t, d, diagnosis.HeaterCooled, crackles)
	assert.False(t, slices.ContainsFunc(got, hot))
	d.Heater, d.HeaterBypass = nil, nil
	got, _ = dangers(t, d, "", crackles)
	assert.False(t, slices.ContainsFunc(got, hot), "it has none")
}

// With the pool's one skimmer blocked the one cover of the drain takes the whole pull: over its rating the pump stops,
// under it nothing is said; two covers share, and a rating that nobody read is not known.
func TestABlockedSkimmerHoldsTheDrainToItsRating(t *testing.T) {
	stops := func(rating float64, covers int) bool {
		d := padtest.SpaPad()
		for i := range d.Suction {
			if d.Suction[i].Kind == pad.Drain {
				d.Suction[i].RatingGPM, d.Suction[i].Covers = rating, covers
			}
		}
		got, _ := dangers(t, d, "", map[fault.Sign]bool{fault.SkimmerFull: true})
		return slices.ContainsFunc(got, func(x danger.Danger) bool { return x.Code == "one-cover" && x.Stop })
	}
	assert.True(t, stops(5, 1))
	assert.False(t, stops(300, 1), "it bears it")
	assert.False(t, stops(5, 2), "two covers share")
	assert.False(t, stops(0, 1), "nobody read its rating")
	// It is asked for, and no check runs the pump faster until then.
	for _, rating := range []float64{0, 300} {
		d := padtest.SpaPad()
		for i := range d.Suction {
			if d.Suction[i].Kind == pad.Drain {
				d.Suction[i].RatingGPM, d.Suction[i].Covers = rating, 1
			}
		}
		m, err := plumbing.New(d, plumbing.Nominal(), units.Fahrenheit(80), units.PSI(8))
		require.NoError(t, err)
		r, err := diagnosis.Diagnose(diagnosis.Case{Model: m, Signs: map[fault.Sign]bool{fault.SkimmerFull: true},
			Load:     diagnosis.Belief{Mean: 0.3, SD: 0.2},
			Readings: []diagnosis.Reading{{Reading: pad.Reading{Speed: 1200}}}})
		require.NoError(t, err)
		asks := slices.ContainsFunc(r.Dangers, func(x danger.Danger) bool { return x.Code == danger.CoverUnknown })
		assert.Equal(t, rating == 0, asks)
		if asks {
			assert.NotEqual(t, StateSound, Judge(r).State)
			for _, n := range r.Next {
				assert.False(t, n.Reading != nil && n.Reading.Operation.Speed > 1200)
			}
		}
	}
}
