package plumbing

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/pad"
	"fairlap/core/pad/padtest"
	"fairlap/core/units"
)

func TestShortfallsNameTheSlotAndTheSpeedThatMendsIt(t *testing.T) {
	d := padtest.SandPad()
	d.Cell = &pad.Device{Model: "Halide 40", DropPsi: 1.2, AtGPM: 60, LeastGPM: 25}
	d.Programme = []pad.Slot{{StartHour: 8, Hours: 4, RPM: 2400}, {StartHour: 21, Hours: 9, RPM: 900}}
	m := model(t, d)
	short, err := m.Shortfalls(0)
	require.NoError(t, err)
	require.Len(t, short, 1, "only the night is short")
	s := short[0]
	assert.Equal(t, StationCell, s.Device)
	assert.Equal(t, 900.0, s.Slot.RPM)
	assert.Less(t, s.Flow.GPM(), 25.0)
	assert.GreaterOrEqual(t, solve(t, m, float64(s.Mend), Effects{}).Flow.GPM(), 25.0)
	assert.Less(t, solve(t, m, float64(s.Mend)-50, Effects{}).Flow.GPM(), 25.0, "the lowest that does")
	loaded, err := m.Shortfalls(1)
	require.NoError(t, err)
	assert.Greater(t, loaded[0].Mend, s.Mend, "a dirty filter needs more speed")
	d.Cell.LeastGPM = 500
	short, err = model(t, d).Shortfalls(0)
	require.NoError(t, err)
	assert.Zero(t, short[0].Mend, "no speed gives that")
}

func TestFastestUnderKeepsTheTankBelowItsCeiling(t *testing.T) {
	m := model(t, padtest.SandPad())
	for _, load := range []float64{0, 1, 2} {
		rpm := m.FastestUnder(units.PSI(25), load)
		assert.Less(t, solve(t, m, float64(rpm), Effects{Load: load}).Tank.PSI(), 25.0)
		if rpm < m.TopSpeed() {
			assert.GreaterOrEqual(t, solve(t, m, float64(rpm)+50, Effects{Load: load}).Tank.PSI(), 25.0)
		}
	}
	assert.Equal(t, m.TopSpeed(), m.FastestUnder(units.PSI(90), 0))
}
