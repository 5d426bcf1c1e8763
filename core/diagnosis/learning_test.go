package diagnosis

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/fault"
	"fairlap/core/pad"
)

func TestLearningMovesPriorsTowardsWhatIsMet(t *testing.T) {
	shipped := Learn(nil, 0)
	for _, f := range fault.Catalogue {
		if f.ID != fault.Healthy {
			assert.InDelta(t, f.Prior, shipped[f.ID], 1e-12, f.ID)
		}
	}
	rapid.Check(t, func(t *rapid.T) {
		visits := rapid.IntRange(0, 5000).Draw(t, "visits")
		n := rapid.IntRange(0, visits).Draw(t, "lids")
		p := Learn(map[fault.ID]int{fault.AirLid: n}, visits)[fault.AirLid]
		rate := float64(n) / float64(max(1, visits))
		lo, hi := min(rate, 0.02), max(rate, 0.02)
		assert.True(t, p >= lo-1e-9 && p <= hi+1e-9, "%v lies between the shipped frequency and the company's own %v", p, rate)
		more := Learn(map[fault.ID]int{fault.AirLid: n + 1}, visits+1)[fault.AirLid]
		assert.Greater(t, more, p*(1-1e-3))
	})
	// What is met often is thought of sooner.
	m := calibrated(t, pad.Sand)
	rd := run(t, m, 2400, pad.SetFilter, pad.Effects{Air: 0.08, Load: 0.4})
	c := Case{Model: m, Readings: []Reading{rd}, Signs: signs{fault.AirInPot: true}, Load: Belief{Mean: 0.4, SD: 0.2}}
	before, err := Diagnose(c)
	require.NoError(t, err)
	c.Priors = Learn(map[fault.ID]int{fault.AirInlet: 40}, 600)
	after, err := Diagnose(c)
	require.NoError(t, err)
	assert.Greater(t, chance(after, fault.AirInlet), 3*chance(before, fault.AirInlet))
}

func TestScoreCountsAndCalibrates(t *testing.T) {
	said := func(p ...float64) []Said {
		ids := []fault.ID{fault.AirLid, fault.WaterLow, fault.BasketFullFault, fault.Healthy}
		var out []Said
		for i, x := range p {
			out = append(out, Said{ids[i], x})
		}
		return out
	}
	got := Score([]Settled{
		{said(0.7, 0.2, 0.1), fault.AirLid}, {said(0.7, 0.2, 0.1), fault.AirLid}, {said(0.7, 0.2, 0.1), fault.WaterLow},
		{said(0.5, 0.3, 0.1, 0.1), fault.Healthy},
	})
	assert.Equal(t, 4, got.Settled)
	assert.Equal(t, 2, got.First)
	assert.Equal(t, 3, got.Three)
	assert.Equal(t, FaultTrack{fault.AirLid, 2, 2, 2}, got.Faults[0])
	for _, b := range got.Bins {
		if b.N == 3 && b.Said > 0.65 {
			assert.InDelta(t, 2.0/3, b.Was, 1e-9)
		}
	}
	assert.Greater(t, got.Brier, 0.0)
	perfect := Score([]Settled{{[]Said{{fault.AirLid, 1}}, fault.AirLid}})
	assert.Zero(t, perfect.Brier)
	assert.Zero(t, perfect.Calibration)
	assert.Zero(t, Score(nil).Settled)
}
