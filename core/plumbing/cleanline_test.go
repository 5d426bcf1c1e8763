package plumbing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
)

// walked is what a clean pad's tank gauge reads at speeds, each off by so many of its deviations.
func walked(t require.TestingT, m *plumbing.Model, speeds, off []float64) []pad.Reading {
	var out []pad.Reading
	for i, v := range speeds {
		st, err := m.Solver().Solve(pad.Operation{Speed: units.Speed(v)}, plumbing.Effects{})
		require.NoError(t, err)
		tank := st.Tank + units.Pressure(off[i]*m.Doc.Meters.Noise(pad.MeterTank, float64(st.Tank)))
		out = append(out, pad.Reading{Speed: units.Speed(v), Tank: &tank})
	}
	return out
}

// A pad's own clean line, with its meters' noise, may be kept; the same with two of its readings the
// other way round is refused at the slower of them; and one reading far off its fit is named.
func TestAWalkIsJudgedBeforeItIsKept(t *testing.T) {
	for name, d := range examples(t) {
		if d.Pump.Kind == pad.SingleSpeed || d.SmallUnit() {
			continue
		}
		m, err := plumbing.New(d, plumbing.Nominal(), units.Fahrenheit(80), units.PSI(8))
		require.NoError(t, err, name)
		top := d.Pump.TopRPM
		speeds := []float64{top, 0.8 * top, 0.6 * top, 0.45 * top}
		rapid.Check(t, func(t *rapid.T) {
			off := make([]float64, len(speeds))
			for i := range off {
				off[i] = rapid.Float64Range(-1, 1).Draw(t, "noise")
			}
			rows := walked(t, m, speeds, off)
			assert.Nil(t, plumbing.Reversed(&d, rows), "%s: pressure falls with the speed", name)
			fit, err := plumbing.Calibrate(d, rows, units.Fahrenheit(80), units.PSI(8))
			require.NoError(t, err)
			assert.Nil(t, fit.Fit.Refused(), "%s: a sound walk may be kept", name)

			turned := append([]pad.Reading{}, rows...)
			turned[0].Tank, turned[3].Tank = rows[3].Tank, rows[0].Tank
			r := plumbing.Reversed(&d, turned)
			require.NotNil(t, r, name)
			assert.Equal(t, pad.MeterTank, r.Meter)
			assert.Less(t, turned[r.Slow].Speed, turned[r.Fast].Speed)
			assert.Greater(t, *turned[r.Slow].Tank, *turned[r.Fast].Tank)
		})
	}
}

// Readings within three deviations of each other are no reversal (value ± 1), and one that lacks a
// meter says nothing of it.
func TestAReversalIsMoreThanNoise(t *testing.T) {
	d := examples(t)["vs-cartridge-heater-cell"]
	noise := d.Meters.Noise(pad.MeterTank, float64(units.PSI(10)))
	pair := func(deviations float64) []pad.Reading {
		fast := units.PSI(10)
		slow := fast + units.Pressure(deviations*1.4142136*noise)
		return []pad.Reading{{Speed: 2400, Tank: &fast}, {Speed: 1800, Tank: &slow}}
	}
	assert.Nil(t, plumbing.Reversed(&d, pair(2)))
	assert.NotNil(t, plumbing.Reversed(&d, pair(4)))
	rows := pair(4)
	rows[0].Tank = nil
	assert.Nil(t, plumbing.Reversed(&d, rows))
	rows = pair(4)
	rows[0].Speed = rows[1].Speed
	assert.Nil(t, plumbing.Reversed(&d, rows), "at one speed they are two readings of one thing")
}

// A tank carries the usual ceiling, or its label's where that is lower.
func TestATankCarriesItsLabel(t *testing.T) {
	d := pad.Document{}
	assert.Equal(t, plumbing.ServiceCeiling, plumbing.Ceiling(&d))
	d.Filter.LabelPsi = 24
	assert.InDelta(t, 24, plumbing.Ceiling(&d).PSI(), 1e-9)
	d.Filter.LabelPsi = 60
	assert.Equal(t, plumbing.ServiceCeiling, plumbing.Ceiling(&d))
}
