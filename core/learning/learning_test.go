package learning

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"fairlap/core/fault"
)

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
