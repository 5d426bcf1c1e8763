package plumbing

import (
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

var warm = units.Fahrenheit(80)

func ptr[T any](v T) *T { return &v }

func model(t testing.TB, doc pad.Document) *Model {
	m, err := Calibrate(doc, nil, warm, units.PSI(8))
	require.NoError(t, err)
	return m
}

func solve(t testing.TB, m *Model, rpm float64, e Effects) State {
	st, err := m.Solver().Solve(pad.Operation{Speed: units.Speed(rpm)}, e)
	require.NoError(t, err)
	return st
}

func TestLoadOneIsTheLimitRiseAtTopSpeed(t *testing.T) {
	m := model(t, padtest.SandPad())
	require.True(t, m.LimitReached)
	rise := solve(t, m, 3450, Effects{Load: 1}).Tank - solve(t, m, 3450, Effects{}).Tank
	assert.InDelta(t, 8, rise.PSI(), 0.01)
	// Handbook: the same dirt that shows +8 psi at full speed shows about +3 at half speed.
	half := solve(t, m, 1725, Effects{Load: 1}).Tank - solve(t, m, 1725, Effects{}).Tank
	assert.InDelta(t, 3, half.PSI(), 1)
}

func TestFaultsMoveTheMetersAsTheTradeKnows(t *testing.T) {
	m := model(t, padtest.SandPad())
	clean := solve(t, m, 2750, Effects{})
	for _, c := range []struct {
		name        string
		e           Effects
		tank, vac   int // −1 falls, +1 rises
		flow, power int
	}{
		{"dirty filter", Effects{Load: 1}, 1, -1, -1, -1},
		{"full basket", Effects{Basket: 4}, -1, 1, -1, -1},
		{"blocked skimmer", Effects{SuctionExtra: 8}, -1, 1, -1, -1},
		{"shut skimmer", Effects{SuctionShut: true}, -1, 1, -1, -1},
		{"return shut", Effects{ReturnLine: 0, ReturnExtra: 30}, 1, -1, -1, -1},
		{"clogged impeller", Effects{CapacityLost: 0.6}, -1, -1, -1, -1},
		{"worn impeller", Effects{HeadLost: 0.3}, -1, -1, -1, -1},
		{"air", Effects{Air: 0.15}, -1, -1, -1, -1},
		{"channelled bed", Effects{Load: -0.5}, -1, 1, 1, 1},
	} {
		st := solve(t, m, 2750, c.e)
		sign := func(v float64) int { return int(math.Copysign(1, v)) }
		assert.Equal(t, c.tank, sign(float64(st.Tank-clean.Tank)), "%s: tank gauge", c.name)
		assert.Equal(t, c.vac, sign(float64(st.Vacuum-clean.Vacuum)), "%s: vacuum", c.name)
		assert.Equal(t, c.flow, sign(float64(st.Flow-clean.Flow)), "%s: flow", c.name)
		assert.Equal(t, c.power, sign(float64(st.Power-clean.Power)), "%s: power", c.name)
	}
	// With the tap before it a full basket lowers the vacuum.
	doc := padtest.SandPad()
	doc.VacuumTap = pad.TapInlet
	m = model(t, doc)
	assert.Less(t, solve(t, m, 2750, Effects{Basket: 4}).Vacuum, solve(t, m, 2750, Effects{}).Vacuum)
}

func TestSpeedAndLoadAreMonotone(t *testing.T) {
	m := model(t, padtest.SandPad())
	rapid.Check(t, func(t *rapid.T) {
		rpm := rapid.Float64Range(900, 3300).Draw(t, "rpm")
		load := rapid.Float64Range(0, 2).Draw(t, "load")
		a, b := solve2(m, rpm, load), solve2(m, rpm+100, load)
		assert.Greater(t, b.Flow, a.Flow)
		assert.Greater(t, b.Tank, a.Tank)
		assert.Greater(t, b.Power, a.Power)
		dirty := solve2(m, rpm, load+0.2)
		assert.Less(t, dirty.Flow, a.Flow)
		assert.Greater(t, dirty.Tank, a.Tank)
	})
}

func solve2(m *Model, rpm, load float64) State {
	st, err := m.Solver().Solve(pad.Operation{Speed: units.Speed(rpm)}, Effects{Load: load})
	if err != nil {
		panic(err)
	}
	return st
}

func TestExtremesStayFiniteAndNamed(t *testing.T) {
	m := model(t, padtest.SandPad())
	for _, e := range []Effects{{Basket: 1e6}, {Air: 1}, {HeadLost: 1}, {CapacityLost: 1}, {Load: 1e3}, {Load: -5},
		{ReturnLine: -1, ReturnExtra: 1e7}} {
		st := solve(t, m, 3450, e)
		for _, meter := range pad.AllMeters {
			v := st.Value(meter)
			assert.False(t, math.IsNaN(v) || math.IsInf(v, 0), "%+v", e)
		}
		assert.LessOrEqual(t, st.Vacuum.InHg(), 28.0, "%+v", e)
	}
	doc := padtest.SandPad()
	doc.Suction[0].Opening, doc.Suction[1].Opening = 0, 0
	st := solve(t, model(t, doc), 2750, Effects{})
	assert.Equal(t, hydraulics.DrySource, st.Condition)
	assert.InDelta(t, -1.3, st.Tank.PSI(), 0.1, "near standing pressure")
	doc = padtest.SandPad()
	doc.Returns[0].Opening, doc.Returns[1].Opening = 0, 0
	st = solve(t, model(t, doc), 2750, Effects{})
	assert.Equal(t, hydraulics.DeadHead, st.Condition)
	assert.InDelta(t, 0, st.Flow.GPM(), 1e-3)
	assert.Equal(t, hydraulics.Still, solve(t, model(t, padtest.SandPad()), 0, Effects{}).Condition)
}

func TestTurnoverWorkedFigures(t *testing.T) {
	// Common practice: 20,000 gal at 40 gpm = 500 min; 15,000 gal at 40 gpm = 375 min.
	assert.InDelta(t, 500, TurnoverMinutes(units.Gallons(20000), units.GPM(40)), 1e-9)
	assert.InDelta(t, 375, TurnoverMinutes(units.Gallons(15000), units.GPM(40)), 1e-9)
}

func TestCalibrationRecoversAKnownPadWithinItsOwnUncertainty(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 1))
	inside, total := 0, 0
	for range 40 {
		truth := Nominal()
		for i, f := range truth.fields() {
			*f = math.Exp(rng.NormFloat64() * priorSpread[i])
		}
		real, err := New(padtest.SandPad(), truth, warm, units.PSI(8))
		require.NoError(t, err)
		var clean []pad.Reading
		for _, rpm := range []float64{1500, 2250, 3000, 3450} {
			st := solve(t, real, rpm, Effects{})
			n := func(meter pad.Meter) float64 {
				v := st.Value(meter)
				return v + rng.NormFloat64()*real.Doc.Meters.Noise(meter, v)
			}
			clean = append(
				clean,
				pad.Reading{
					Speed:  units.Speed(rpm),
					Tank:   ptr(units.Pressure(n(pad.MeterTank))),
					Vacuum: ptr(units.Pressure(n(pad.MeterVacuum))),
					Flow:   ptr(units.Flow(n(pad.MeterFlow))),
					Power:  ptr(units.Power(n(pad.MeterPower))),
				},
			)
		}
		fit, err := Calibrate(padtest.SandPad(), clean, warm, units.PSI(8))
		require.NoError(t, err)
		tf, ff := truth.fields(), fit.Params.fields()
		for i := range tf {
			total++
			if math.Abs(math.Log(*tf[i] / *ff[i])) < 1.645*fit.Fit.Spread[i] {
				inside++
			}
		}
	}
	share := float64(inside) / float64(total)
	t.Logf("true parameter inside the stated 90 %% interval: %.0f %% of %d", 100*share, total)
	assert.InDelta(t, 0.90, share, 0.06)
}

func TestACleanLineNarrowsWhatIsExpected(t *testing.T) {
	loose := model(t, padtest.SandPad())
	st := solve(t, loose, 2750, Effects{})
	tight, err := Calibrate(
		padtest.SandPad(),
		[]pad.Reading{{Speed: 2750, Tank: &st.Tank, Flow: &st.Flow}},
		warm,
		units.PSI(8),
	)
	require.NoError(t, err)
	a, err := loose.Spread(pad.Operation{Speed: 2750}, 0)
	require.NoError(t, err)
	b, err := tight.Spread(pad.Operation{Speed: 2750}, 0)
	require.NoError(t, err)
	assert.Less(t, b[0], a[0]/2)
	assert.Less(t, b[2], a[2])
}

// The two measured speed tables: one pad fitted to each. Common practice
// figures, measured in the field by practitioners.
func TestMeasuredSpeedTables(t *testing.T) {
	for name, table := range map[string]struct {
		rows  [][3]float64 // rpm, gpm, W (0: not recorded)
		tank  float64      // psi at the last row, 0 when unknown
		curve []pad.CurveFt
	}{
		"measurement 1": {[][3]float64{{750, 18, 30}, {1000, 25, 51}, {1250, 30, 84.5}, {1500, 35, 131},
			{1750, 40, 195}, {2000, 45.5, 280},
			{2250, 55, 385}, {2500, 61, 517}, {2750, 68.5, 0}, {3000, 75, 870}, {3250, 79, 1105}, {3450, 84.5, 1310}},
			8.5,
			[]pad.CurveFt{{GPM: 0, Ft: 60}, {GPM: 50, Ft: 52}, {GPM: 85, Ft: 36}, {GPM: 120, Ft: 8}}},
		"measurement 2": {[][3]float64{{900, 25, 55}, {1500, 39, 166}, {3000, 82, 1040}}, 0,
			[]pad.CurveFt{{GPM: 0, Ft: 60}, {GPM: 50, Ft: 52}, {GPM: 95, Ft: 32}, {GPM: 130, Ft: 8}}},
	} {
		doc := padtest.SandPad()
		doc.Pump.Curve = table.curve
		doc.Filter = pad.Filter{
			Model:     "Pleat 150",
			Kind:      pad.Cartridge,
			AreaFt2:   150,
			Valve:     pad.NoValve,
			AtGPM:     60,
			MediaPsi:  0.1,
			VesselPsi: 1,
		}
		doc.GaugeHeightFt, doc.PumpHeightFt = 0, 0
		// Hardly any pipe and many fittings: what the tables' Q ∝ s asks for.
		for _, ls := range [][]pad.Line{doc.Suction, doc.Returns} {
			for i := range ls {
				ls[i].LengthFt, ls[i].FittingsK = 2, 10
			}
		}
		doc.ReturnTrunk, doc.SuctionTrunk, doc.Discharge = pad.Run{
			BoreIn:    2.067,
			LengthFt:  2,
			FittingsK: 8,
		}, pad.Run{
			BoreIn:    2.067,
			LengthFt:  1,
			FittingsK: 3,
		}, pad.Run{
			BoreIn:    2.067,
			LengthFt:  1,
			FittingsK: 3,
		}
		doc.Filter.MediaPsi = 0.05
		doc.Pump.IdleW, doc.Pump.BaseW, doc.Pump.PerGpmW = 14, 600, 8
		doc.Meters.PowerShare, doc.Meters.FlowShare = 0.03, 0.05
		var clean []pad.Reading
		for i, r := range table.rows {
			row := pad.Reading{Speed: units.Speed(r[0]), Flow: ptr(units.GPM(r[1]))}
			if r[2] > 0 {
				row.Power = ptr(units.Power(r[2]))
			}
			if table.tank > 0 && i == len(table.rows)-1 {
				row.Tank = ptr(units.PSI(table.tank))
			}
			clean = append(clean, row)
		}
		// Least squares alone strays 6.4 % at 2,000 rpm, where the table itself leaves
		// Q ∝ s by 6 %. The question is whether one pad can hold the whole table, so the
		// worst row is weighed again (Lawson 1961) until none is further off than 5 %.
		var m *Model
		for range 40 {
			var err error
			m, err = Calibrate(doc, clean, warm, units.PSI(8))
			require.NoError(t, err)
			worst, miss := 0, 0.0
			for i, r := range table.rows {
				q := solve(t, m, r[0], Effects{}).Flow.GPM()
				if off := math.Abs(q/r[1] - 1); off > miss {
					worst, miss = i, off
				}
			}
			if miss < 0.049 {
				break
			}
			clean = append(
				clean,
				pad.Reading{Speed: units.Speed(table.rows[worst][0]), Flow: ptr(units.GPM(table.rows[worst][1]))},
			)
		}
		for _, r := range table.rows {
			st := solve(t, m, r[0], Effects{})
			t.Logf(
				"%s %4.0f rpm: %5.1f gpm read, %5.1f fitted (%+.1f %%); %6.1f W read, %6.1f fitted",
				name,
				r[0],
				r[1],
				st.Flow.GPM(),
				100*(st.Flow.GPM()/r[1]-1),
				r[2],
				float64(st.Power),
			)
			assert.InEpsilon(t, r[1], st.Flow.GPM(), 0.05, "%s flow at %v", name, r[0])
			if r[2] > 0 {
				assert.InEpsilon(t, r[2], float64(st.Power), 0.08, "%s power at %v", name, r[0])
			}
		}
	}
}

func TestGaugeFallsWithSpeedAsMeasuredOnACleanPad(t *testing.T) {
	// Common practice, one clean DE pad: 3,250 rpm 7 psi, 2,500 rpm 4, 1,750 rpm 2, 1,000 rpm unreadable.
	doc := padtest.SandPad()
	doc.GaugeHeightFt = 0
	doc.Filter = pad.Filter{
		Model:     "Lattice 48",
		Kind:      pad.DE,
		AreaFt2:   48,
		Valve:     pad.Multiport,
		AtGPM:     60,
		MediaPsi:  0.5,
		VesselPsi: 3,
	}
	doc.Pump.Curve = []pad.CurveFt{{GPM: 0, Ft: 62}, {GPM: 50, Ft: 54}, {GPM: 95, Ft: 34}, {GPM: 130, Ft: 8}}
	doc.Meters.TankPsi = 0.1
	at := []pad.Reading{{Speed: 3250, Tank: ptr(units.PSI(7))}}
	m, err := Calibrate(doc, at, warm, units.PSI(8))
	require.NoError(t, err)
	for rpm, psi := range map[float64]float64{3250: 7, 2500: 4, 1750: 2} {
		assert.InDelta(t, psi, solve(t, m, rpm, Effects{}).Tank.PSI(), 0.5, "%v rpm", rpm)
	}
	assert.Less(t, solve(t, m, 1000, Effects{}).Tank.PSI(), 1.0)
}

func TestValidateNamesEveryField(t *testing.T) {
	doc := padtest.SandPad()
	doc.Suction[1].BoreIn = 0
	doc.Filter.Kind = "charcoal"
	doc.Programme = []pad.Slot{{StartHour: 0, Hours: 20, RPM: 1000}, {StartHour: 20, Hours: 8, RPM: 9000}}
	var paths []string
	for _, e := range doc.Validate() {
		paths = append(paths, e.Path)
	}
	assert.ElementsMatch(t, []string{"suction[1].boreIn", "filter.kind", "programme[1].rpm", "programme"}, paths)
	_, err := Calibrate(doc, nil, warm, units.PSI(8))
	var fe *pad.FieldError
	assert.ErrorAs(t, err, &fe)
}

func TestRecirculateTakesTheFilterOut(t *testing.T) {
	m := model(t, padtest.SandPad())
	dirty := Effects{Load: 1.2}
	a, err := m.Solver().Solve(pad.Operation{Speed: 2750, Setting: pad.SetRecirculate}, dirty)
	require.NoError(t, err)
	b, err := m.Solver().Solve(pad.Operation{Speed: 2750, Setting: pad.SetRecirculate}, Effects{})
	require.NoError(t, err)
	assert.InDelta(t, float64(a.Tank), float64(b.Tank), 1)
	assert.Less(t, a.Tank, solve(t, m, 2750, dirty).Tank)
}

func BenchmarkSolvePad(b *testing.B) {
	s := model(b, padtest.SandPad()).Solver()
	b.ReportAllocs()
	for b.Loop() {
		if _, err := s.Solve(pad.Operation{Speed: 2750}, Effects{Load: 0.5, Basket: 1}); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkCalibrate(b *testing.B) {
	m := model(b, padtest.SandPad())
	st := solve(b, m, 2750, Effects{})
	clean := []pad.Reading{{Speed: 2750, Tank: &st.Tank, Vacuum: &st.Vacuum, Flow: &st.Flow, Power: &st.Power}}
	for b.Loop() {
		if _, err := Calibrate(padtest.SandPad(), clean, warm, units.PSI(8)); err != nil {
			b.Fatal(err)
		}
	}
}
