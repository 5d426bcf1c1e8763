package plumbing

import (
	"bytes"
	"encoding/json"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/hydraulics"
	"fairlap/core/pad"
	"fairlap/core/pad/padtest"
	"fairlap/core/units"
)

// Whatever the least says, the pad drawn round it is sound, and longer pipes pass
// less water.
func TestEverySketchIsASoundPad(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		k := padtest.DrawnSketch(t)
		d := k.Document()
		require.Empty(t, d.Validate())
		flow := func(d pad.Document) float64 {
			m, err := New(d, Nominal(), warm, units.PSI(8))
			require.NoError(t, err)
			st, err := m.Solver().Solve(pad.Operation{Speed: 2750}, Effects{})
			require.NoError(t, err)
			require.Equal(t, hydraulics.Flowing, st.Condition)
			return st.Flow.GPM()
		}
		k.LengthFt += 40
		assert.Less(t, flow(k.Document()), flow(d))
	})
}

// A document goes out as JSON and comes back the same, and nothing has changed.
func TestADocumentSurvivesItsFile(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := padtest.DrawnSketch(t).Document()
		b, err := json.Marshal(d)
		require.NoError(t, err)
		back, errs := pad.Read(bytes.NewReader(b))
		require.Empty(t, errs)
		require.Equal(t, d, back)
		require.Empty(t, pad.Diff(d, back))
		back.ReturnTrunk.LengthFt += 1
		require.Equal(t, "returnTrunk.lengthFt", pad.Diff(d, back)[0].Path)
	})
}

// An exported network always reads back as the pad that it was.
func TestAnyExportReadsBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := padtest.DrawnSketch(t).Document()
		m, err := New(d, Nominal(), warm, units.PSI(8))
		require.NoError(t, err)
		op := pad.Operation{
			Speed: units.Speed(rapid.Float64Range(600, 3450).Draw(t, "rpm")),
			Setting: rapid.SampledFrom([]pad.Setting{pad.SetFilter, pad.SetBackwash, pad.SetRinse, pad.SetWaste,
				pad.SetRecirculate}).
				Draw(t, "setting"),
		}
		var b bytes.Buffer
		require.NoError(t, m.WriteINP(&b, op, rapid.Float64Range(0, 2).Draw(t, "load")))
		back, err := ReadINP(&b)
		require.NoError(t, err)
		require.Equal(t, d, back.Model.Doc)
		require.Equal(t, op.Setting, back.Operation.Setting)
	})
}

// The combined flow lies inside its own stated interval as often as it says.
func TestFlowThreeWaysKeepsItsWord(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 9))
	truth, err := New(padtest.SandPad(), Nominal(), warm, units.PSI(8))
	require.NoError(t, err)
	var clean []pad.Reading
	for _, rpm := range []float64{1500, 2250, 3000, 3450} {
		st := solve(t, truth, rpm, Effects{})
		clean = append(
			clean,
			pad.Reading{
				Speed:  units.Speed(rpm),
				Tank:   ptr(st.Tank),
				Vacuum: ptr(st.Vacuum),
				Flow:   ptr(st.Flow),
				Power:  ptr(st.Power),
			},
		)
	}
	m, err := Calibrate(padtest.SandPad(), clean, warm, units.PSI(8))
	require.NoError(t, err)
	const n = 400
	inside, agreed := 0, 0
	for range n {
		rpm := 1500 + 1900*rng.Float64()
		st := solve(t, truth, rpm, Effects{Load: 1.2 * rng.Float64()})
		read := func(meter pad.Meter) float64 {
			v := st.Value(meter)
			return v + rng.NormFloat64()*m.Doc.Meters.Noise(meter, v)
		}
		e := m.EstimateFlow(
			pad.Reading{
				Speed:  units.Speed(rpm),
				Tank:   ptr(units.Pressure(read(pad.MeterTank))),
				Vacuum: ptr(units.Pressure(math.Max(0, read(pad.MeterVacuum)))),
				Flow:   ptr(units.Flow(read(pad.MeterFlow))),
				Power:  ptr(units.Power(read(pad.MeterPower))),
			},
		)
		if math.Abs(float64(e.Mean-st.Flow)) < 1.645*float64(e.SD) {
			inside++
		}
		if e.Agree {
			agreed++
		}
	}
	t.Logf(
		"true flow inside the stated 90 %% interval: %.0f %%; the ways agree in %.0f %% of %d sound readings",
		100*float64(inside)/n,
		100*float64(agreed)/n,
		n,
	)
	assert.InDelta(t, 0.90, float64(inside)/n, 0.06)
	assert.Greater(t, float64(agreed)/n, 0.80)
}

// Handles move only what hangs on them: the water that a valve does not part
// stays in the loop.
func TestWhatTheSpaGainsThePoolLoses(t *testing.T) {
	m := model(t, padtest.SpaPad())
	rapid.Check(t, func(t *rapid.T) {
		op := pad.Operation{Speed: units.Speed(rapid.Float64Range(900, 3400).Draw(t, "rpm")),
			Handles: pad.Handles{
				"suction-valve": rapid.Float64Range(0, 180).Draw(t, "suction"),
				"return-valve":  rapid.Float64Range(0, 180).Draw(t, "return"),
			}}
		p, err := m.Paths(op, 0.3)
		require.NoError(t, err)
		// The balance is the water's own: a reach that is all but still is told as still.
		s := m.Solver()
		_, err = s.Solve(op, Effects{Load: 0.3})
		require.NoError(t, err)
		pool := 0.0
		for i, r := range p.Reaches {
			q := s.View.sol.Flow[i]
			if math.Abs(q) >= float64(stillBelow) {
				assert.InDelta(t, q, float64(r.Flow), 1e-9)
			} else {
				assert.Zero(t, r.Flow)
			}
			if r.Body == pad.PoolBody || r.Body == pad.OpenAir {
				if r.Side == pad.SuctionSide {
					pool -= q
				} else {
					pool += q
				}
			}
		}
		assert.InDelta(t, -pool, float64(p.State.SpaGain), 1e-6)
		if p.MinutesToEmpty > 0 {
			assert.InDelta(t, float64(m.Doc.Spa.Draw()), -float64(p.State.SpaGain)*p.MinutesToEmpty*60, 1e-6)
		}
	})
}
