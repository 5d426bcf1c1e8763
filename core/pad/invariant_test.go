package pad

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
	"fairlap/core/units"
)

// drawnSketch is a believable bare minimum.
func drawnSketch(t *rapid.T) Sketch {
	k := Sketch{Pump: sandPad().Pump, Filter: sandPad().Filter,
		PipeIn:   rapid.SampledFrom([]float64{1.5, 2, 2.5, 3}).Draw(t, "pipe"),
		LengthFt: rapid.Float64Range(5, 200).Draw(t, "length"),
		Spa:      rapid.Bool().Draw(t, "spa"), HasVacuum: rapid.Bool().Draw(t, "vacuum"), HasFlow: rapid.Bool().Draw(t, "flow")}
	if rapid.Bool().Draw(t, "heater") {
		k.Heater = &Device{"Ember 250", 2.4, 60, 30}
	}
	if rapid.Bool().Draw(t, "cell") {
		k.Cell = &Device{"Halide 40", 1.2, 60, 25}
	}
	return k
}

// Whatever the least says, the pad drawn round it is sound, and longer pipes pass
// less water.
func TestEverySketchIsASoundPad(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		k := drawnSketch(t)
		d := k.Document()
		require.Empty(t, d.Validate())
		flow := func(d Document) float64 {
			m, err := New(d, Nominal(), warm, units.PSI(8))
			require.NoError(t, err)
			st, err := m.Solver().Solve(Operation{Speed: 2750}, Effects{})
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
		d := drawnSketch(t).Document()
		b, err := json.Marshal(d)
		require.NoError(t, err)
		back, errs := Read(bytes.NewReader(b))
		require.Empty(t, errs)
		require.Equal(t, d, back)
		require.Empty(t, Diff(d, back))
		back.ReturnTrunk.LengthFt += 1
		require.Equal(t, "returnTrunk.lengthFt", Diff(d, back)[0].Path)
	})
}

// At any speed inside a window every limit of its job is kept; just outside, the
// one that ends it is not.
func TestInsideAWindowEveryLimitIsKept(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		k := drawnSketch(t)
		doc := k.Document()
		m, err := New(doc, Nominal(), warm, units.PSI(8))
		require.NoError(t, err)
		rep, err := m.Limits(units.Gallons(rapid.Float64Range(6000, 40000).Draw(t, "pool")))
		require.NoError(t, err)
		for _, w := range rep.Windows {
			if w.Empty || w.Top-w.Low < 20 {
				continue
			}
			share := rapid.Float64Range(0.05, 0.95).Draw(t, "share")
			rpm := w.Low + units.Speed(share)*(w.Top-w.Low)
			doc.Programme = []Slot{{8, 8, float64(rpm)}}
			at, err := New(doc, Nominal(), warm, units.PSI(8))
			require.NoError(t, err)
			for _, l := range mustFigures(t, at, rep, rpm) {
				if l.Job == w.Job && l.SpeedBound != "" {
					assert.True(t, l.At[0].OK, "%s at %.0f rpm in %v: %v against %v", l.ID, float64(rpm), w, l.At[0].Value, l.Value)
				}
			}
		}
	})
}

// mustFigures evaluates the limits at one programmed speed, with the bounds of a
// report (the pool's volume is in them).
func mustFigures(t *rapid.T, m *Model, rep *LimitsReport, rpm units.Speed) []Limit {
	limits, err := m.LimitFigures(0)
	require.NoError(t, err)
	for i := range limits {
		require.InDelta(t, float64(rpm), float64(limits[i].At[0].Speed), 1e-9)
		for _, l := range rep.Limits {
			if l.ID == limits[i].ID {
				require.InDelta(t, l.Value, limits[i].Value, 1e-9)
			}
		}
	}
	return limits
}

// An exported network always reads back as the pad that it was.
func TestAnyExportReadsBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := drawnSketch(t).Document()
		m, err := New(d, Nominal(), warm, units.PSI(8))
		require.NoError(t, err)
		op := Operation{Speed: units.Speed(rapid.Float64Range(600, 3450).Draw(t, "rpm")), Setting: rapid.SampledFrom([]Setting{SetFilter, SetBackwash, SetRinse, SetWaste, SetRecirculate}).Draw(t, "setting")}
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
	truth, err := New(sandPad(), Nominal(), warm, units.PSI(8))
	require.NoError(t, err)
	var clean []Reading
	for _, rpm := range []float64{1500, 2250, 3000, 3450} {
		st := solve(t, truth, rpm, Effects{})
		clean = append(clean, Reading{units.Speed(rpm), ptr(st.Tank), ptr(st.Vacuum), ptr(st.Flow), ptr(st.Power)})
	}
	m, err := Calibrate(sandPad(), clean, warm, units.PSI(8))
	require.NoError(t, err)
	const n = 400
	inside, agreed := 0, 0
	for range n {
		rpm := 1500 + 1900*rng.Float64()
		st := solve(t, truth, rpm, Effects{Load: 1.2 * rng.Float64()})
		read := func(meter Meter) float64 {
			v := st.Value(meter)
			return v + rng.NormFloat64()*m.Doc.Meters.Noise(meter, v)
		}
		e := m.EstimateFlow(Reading{units.Speed(rpm), ptr(units.Pressure(read(MeterTank))), ptr(units.Pressure(math.Max(0, read(MeterVacuum)))),
			ptr(units.Flow(read(MeterFlow))), ptr(units.Power(read(MeterPower)))})
		if math.Abs(float64(e.Mean-st.Flow)) < 1.645*float64(e.SD) {
			inside++
		}
		if e.Agree {
			agreed++
		}
	}
	t.Logf("true flow inside the stated 90 %% interval: %.0f %%; the ways agree in %.0f %% of %d sound readings", 100*float64(inside)/n, 100*float64(agreed)/n, n)
	assert.InDelta(t, 0.90, float64(inside)/n, 0.06)
	assert.Greater(t, float64(agreed)/n, 0.80)
}

// Handles move only what hangs on them: the water that a valve does not part
// stays in the loop.
func TestWhatTheSpaGainsThePoolLoses(t *testing.T) {
	m := model(t, spaPad())
	rapid.Check(t, func(t *rapid.T) {
		op := Operation{Speed: units.Speed(rapid.Float64Range(900, 3400).Draw(t, "rpm")),
			Handles: Handles{"suction-valve": rapid.Float64Range(0, 180).Draw(t, "suction"), "return-valve": rapid.Float64Range(0, 180).Draw(t, "return")}}
		p, err := m.Paths(op, 0.3)
		require.NoError(t, err)
		// The balance is the water's own: a reach that is all but still is told as still.
		s := m.Solver()
		_, err = s.Solve(op, Effects{Load: 0.3})
		require.NoError(t, err)
		pool := 0.0
		for i, r := range p.Reaches {
			q := s.view.sol.Flow[i]
			if math.Abs(q) >= float64(stillBelow) {
				assert.InDelta(t, q, float64(r.Flow), 1e-9)
			} else {
				assert.Zero(t, r.Flow)
			}
			if r.Body == PoolBody || r.Body == OpenAir {
				if r.Side == SuctionSide {
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
