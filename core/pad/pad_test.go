package pad

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/hydraulics"
	"fairlap/core/units"
)

var warm = units.Fahrenheit(80)

func ptr[T any](v T) *T { return &v }

// sandPad is a plain variable-speed sand pad.
func sandPad() Document {
	return Document{
		Pump: Pump{Model: "Brisk 150 VS", Kind: VariableSpeed, TopRPM: 3450, LeastRPM: 600,
			Curve: []CurveFt{{0, 92}, {40, 84}, {80, 64}, {110, 40}}, IdleW: 16, BaseW: 600, PerGpmW: 9},
		Filter:       Filter{Model: "Stanchion S24", Kind: Sand, AreaFt2: 3.14, Valve: Multiport, AtGPM: 60, MediaPsi: 3, VesselPsi: 4},
		Suction:      []Line{{ID: "skimmer", Name: "Skimmer", Kind: Skimmer, Run: Run{2.067, 40, 3}, Opening: 1}, {ID: "drain", Name: "Main drain", Kind: Drain, Run: Run{2.067, 55, 3}, Opening: 0.5}},
		SuctionTrunk: Run{2.067, 6, 2}, Discharge: Run{2.067, 4, 2}, ReturnTrunk: Run{2.067, 40, 4},
		Returns:   []Line{{ID: "return-1", Name: "Return by the steps", Kind: Return, Run: Run{1.61, 20, 2}, Opening: 1, EyeballIn: 0.9}, {ID: "return-2", Name: "Deep-end return", Kind: Return, Run: Run{1.61, 35, 2}, Opening: 1, EyeballIn: 0.9}},
		VacuumTap: TapPot, GaugeHeightFt: 3, PumpHeightFt: 1, Meters: UsualMeters(),
		Programme: []Slot{{8, 8, 1750}},
	}
}

// spaPad is a sand pad with nearly everything: a raised spa that spills, valves
// on both sides, a heater with a bypass, in-floor heads and a feature.
func spaPad() Document {
	d := sandPad()
	d.Heater, d.HeaterBypass = &Device{"Ember 250", 2.4, 60, 30}, &Bypass{2.067, 0}
	d.Cell, d.CheckValve = &Device{"Halide 40", 1.2, 60, 25}, true
	d.Spa = &Spa{SurfaceFt: 1.5, Gallons: 600, DrawGallons: 450, Spills: true}
	d.Waste = &WasteLine{Run{2.067, 40, 4}, -1}
	d.Valves = []Diverter{{ID: "suction-valve", Name: "Suction valve", Side: SuctionSide, BoreIn: 2.067, AngleDeg: 180},
		{ID: "skimmer-valve", Name: "Skimmer and drain", Side: SuctionSide, On: "suction-valve:a", BoreIn: 2.067, AngleDeg: 120},
		{ID: "return-valve", Name: "Return valve", Side: ReturnSide, BoreIn: 2.067, AngleDeg: 180}}
	d.Suction[0].On, d.Suction[1].On, d.Suction[1].RatingGPM = "skimmer-valve:a", "skimmer-valve:b", 60
	d.Suction = append(d.Suction, Line{ID: "spa-drain", Name: "Spa drain", Kind: SpaDrain, Run: Run{2.067, 30, 3}, Opening: 1, On: "suction-valve:b", RatingGPM: 100})
	d.Returns = []Line{{ID: "return-1", Name: "Pool returns", Kind: Return, Run: Run{1.61, 30, 3}, Opening: 1, EyeballIn: 1.4, On: "return-valve:a"},
		{ID: "heads", Name: "Floor heads", Kind: InFloor, Run: Run{1.61, 40, 5}, Opening: 1, EyeballIn: 0.8, On: "return-valve:a", LeastGPM: 20},
		{ID: "sheet-fall", Name: "Sheet fall", Kind: Feature, Run: Run{1.61, 25, 3}, Opening: 0.4, EyeballIn: 1, OutletFt: 2, On: "return-valve:a"},
		{ID: "jets", Name: "Spa jets", Kind: SpaJets, Run: Run{2.067, 30, 4}, Opening: 1, EyeballIn: 1.5, On: "return-valve:b", CheckValve: true}}
	return d
}

func model(t testing.TB, doc Document) *Model {
	m, err := Calibrate(doc, nil, warm, units.PSI(8))
	require.NoError(t, err)
	return m
}

func solve(t testing.TB, m *Model, rpm float64, e Effects) State {
	st, err := m.Solver().Solve(Operation{Speed: units.Speed(rpm)}, e)
	require.NoError(t, err)
	return st
}

func TestLoadOneIsTheLimitRiseAtTopSpeed(t *testing.T) {
	m := model(t, sandPad())
	require.True(t, m.LimitReached)
	rise := solve(t, m, 3450, Effects{Load: 1}).Tank - solve(t, m, 3450, Effects{}).Tank
	assert.InDelta(t, 8, rise.PSI(), 0.01)
	// Handbook: the same dirt that shows +8 psi at full speed shows about +3 at half speed.
	half := solve(t, m, 1725, Effects{Load: 1}).Tank - solve(t, m, 1725, Effects{}).Tank
	assert.InDelta(t, 3, half.PSI(), 1)
}

func TestFaultsMoveTheMetersAsTheTradeKnows(t *testing.T) {
	m := model(t, sandPad())
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
	doc := sandPad()
	doc.VacuumTap = TapInlet
	m = model(t, doc)
	assert.Less(t, solve(t, m, 2750, Effects{Basket: 4}).Vacuum, solve(t, m, 2750, Effects{}).Vacuum)
}

func TestSpeedAndLoadAreMonotone(t *testing.T) {
	m := model(t, sandPad())
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
	st, err := m.Solver().Solve(Operation{Speed: units.Speed(rpm)}, Effects{Load: load})
	if err != nil {
		panic(err)
	}
	return st
}

func TestExtremesStayFiniteAndNamed(t *testing.T) {
	m := model(t, sandPad())
	for _, e := range []Effects{{Basket: 1e6}, {Air: 1}, {HeadLost: 1}, {CapacityLost: 1}, {Load: 1e3}, {Load: -5}, {ReturnLine: -1, ReturnExtra: 1e7}} {
		st := solve(t, m, 3450, e)
		for _, meter := range AllMeters {
			v := st.Value(meter)
			assert.False(t, math.IsNaN(v) || math.IsInf(v, 0), "%+v", e)
		}
		assert.LessOrEqual(t, st.Vacuum.InHg(), 28.0, "%+v", e)
	}
	doc := sandPad()
	doc.Suction[0].Opening, doc.Suction[1].Opening = 0, 0
	st := solve(t, model(t, doc), 2750, Effects{})
	assert.Equal(t, hydraulics.DrySource, st.Condition)
	assert.InDelta(t, -1.3, st.Tank.PSI(), 0.1, "near standing pressure")
	doc = sandPad()
	doc.Returns[0].Opening, doc.Returns[1].Opening = 0, 0
	st = solve(t, model(t, doc), 2750, Effects{})
	assert.Equal(t, hydraulics.DeadHead, st.Condition)
	assert.InDelta(t, 0, st.Flow.GPM(), 1e-3)
	assert.Equal(t, hydraulics.Still, solve(t, model(t, sandPad()), 0, Effects{}).Condition)
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
		real, err := New(sandPad(), truth, warm, units.PSI(8))
		require.NoError(t, err)
		var clean []Reading
		for _, rpm := range []float64{1500, 2250, 3000, 3450} {
			st := solve(t, real, rpm, Effects{})
			n := func(meter Meter) float64 {
				v := st.Value(meter)
				return v + rng.NormFloat64()*real.Doc.Meters.Noise(meter, v)
			}
			clean = append(clean, Reading{units.Speed(rpm), ptr(units.Pressure(n(MeterTank))), ptr(units.Pressure(n(MeterVacuum))),
				ptr(units.Flow(n(MeterFlow))), ptr(units.Power(n(MeterPower)))})
		}
		fit, err := Calibrate(sandPad(), clean, warm, units.PSI(8))
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
	loose := model(t, sandPad())
	st := solve(t, loose, 2750, Effects{})
	tight, err := Calibrate(sandPad(), []Reading{{Speed: 2750, Tank: &st.Tank, Flow: &st.Flow}}, warm, units.PSI(8))
	require.NoError(t, err)
	a, err := loose.Spread(Operation{Speed: 2750}, 0)
	require.NoError(t, err)
	b, err := tight.Spread(Operation{Speed: 2750}, 0)
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
		curve []CurveFt
	}{
		"measurement 1": {[][3]float64{{750, 18, 30}, {1000, 25, 51}, {1250, 30, 84.5}, {1500, 35, 131}, {1750, 40, 195}, {2000, 45.5, 280},
			{2250, 55, 385}, {2500, 61, 517}, {2750, 68.5, 0}, {3000, 75, 870}, {3250, 79, 1105}, {3450, 84.5, 1310}}, 8.5,
			[]CurveFt{{0, 60}, {50, 52}, {85, 36}, {120, 8}}},
		"measurement 2": {[][3]float64{{900, 25, 55}, {1500, 39, 166}, {3000, 82, 1040}}, 0, []CurveFt{{0, 60}, {50, 52}, {95, 32}, {130, 8}}},
	} {
		doc := sandPad()
		doc.Pump.Curve = table.curve
		doc.Filter = Filter{Model: "Pleat 150", Kind: Cartridge, AreaFt2: 150, Valve: NoValve, AtGPM: 60, MediaPsi: 0.1, VesselPsi: 1}
		doc.GaugeHeightFt, doc.PumpHeightFt = 0, 0
		// Hardly any pipe and many fittings: what the tables' Q ∝ s asks for.
		for _, ls := range [][]Line{doc.Suction, doc.Returns} {
			for i := range ls {
				ls[i].LengthFt, ls[i].FittingsK = 2, 10
			}
		}
		doc.ReturnTrunk, doc.SuctionTrunk, doc.Discharge = Run{2.067, 2, 8}, Run{2.067, 1, 3}, Run{2.067, 1, 3}
		doc.Filter.MediaPsi = 0.05
		doc.Pump.IdleW, doc.Pump.BaseW, doc.Pump.PerGpmW = 14, 600, 8
		doc.Meters.PowerShare, doc.Meters.FlowShare = 0.03, 0.05
		var clean []Reading
		for i, r := range table.rows {
			row := Reading{Speed: units.Speed(r[0]), Flow: ptr(units.GPM(r[1]))}
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
			clean = append(clean, Reading{Speed: units.Speed(table.rows[worst][0]), Flow: ptr(units.GPM(table.rows[worst][1]))})
		}
		for _, r := range table.rows {
			st := solve(t, m, r[0], Effects{})
			t.Logf("%s %4.0f rpm: %5.1f gpm read, %5.1f fitted (%+.1f %%); %6.1f W read, %6.1f fitted", name, r[0], r[1], st.Flow.GPM(), 100*(st.Flow.GPM()/r[1]-1), r[2], float64(st.Power))
			assert.InEpsilon(t, r[1], st.Flow.GPM(), 0.05, "%s flow at %v", name, r[0])
			if r[2] > 0 {
				assert.InEpsilon(t, r[2], float64(st.Power), 0.08, "%s power at %v", name, r[0])
			}
		}
	}
}

func TestGaugeFallsWithSpeedAsMeasuredOnACleanPad(t *testing.T) {
	// Common practice, one clean DE pad: 3,250 rpm 7 psi, 2,500 rpm 4, 1,750 rpm 2, 1,000 rpm unreadable.
	doc := sandPad()
	doc.GaugeHeightFt = 0
	doc.Filter = Filter{Model: "Lattice 48", Kind: DE, AreaFt2: 48, Valve: Multiport, AtGPM: 60, MediaPsi: 0.5, VesselPsi: 3}
	doc.Pump.Curve = []CurveFt{{0, 62}, {50, 54}, {95, 34}, {130, 8}}
	doc.Meters.TankPsi = 0.1
	at := []Reading{{Speed: 3250, Tank: ptr(units.PSI(7))}}
	m, err := Calibrate(doc, at, warm, units.PSI(8))
	require.NoError(t, err)
	for rpm, psi := range map[float64]float64{3250: 7, 2500: 4, 1750: 2} {
		assert.InDelta(t, psi, solve(t, m, rpm, Effects{}).Tank.PSI(), 0.5, "%v rpm", rpm)
	}
	assert.Less(t, solve(t, m, 1000, Effects{}).Tank.PSI(), 1.0)
}

func TestValidateNamesEveryField(t *testing.T) {
	doc := sandPad()
	doc.Suction[1].BoreIn = 0
	doc.Filter.Kind = "charcoal"
	doc.Programme = []Slot{{0, 20, 1000}, {20, 8, 9000}}
	var paths []string
	for _, e := range doc.Validate() {
		paths = append(paths, e.Path)
	}
	assert.ElementsMatch(t, []string{"suction[1].boreIn", "filter.kind", "programme[1].rpm", "programme"}, paths)
	_, err := Calibrate(doc, nil, warm, units.PSI(8))
	var fe *FieldError
	assert.ErrorAs(t, err, &fe)
}

func TestRecirculateTakesTheFilterOut(t *testing.T) {
	m := model(t, sandPad())
	dirty := Effects{Load: 1.2}
	a, err := m.Solver().Solve(Operation{Speed: 2750, Setting: SetRecirculate}, dirty)
	require.NoError(t, err)
	b, err := m.Solver().Solve(Operation{Speed: 2750, Setting: SetRecirculate}, Effects{})
	require.NoError(t, err)
	assert.InDelta(t, float64(a.Tank), float64(b.Tank), 1)
	assert.Less(t, a.Tank, solve(t, m, 2750, dirty).Tank)
}

func BenchmarkSolvePad(b *testing.B) {
	s := model(b, sandPad()).Solver()
	b.ReportAllocs()
	for b.Loop() {
		if _, err := s.Solve(Operation{Speed: 2750}, Effects{Load: 0.5, Basket: 1}); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkCalibrate(b *testing.B) {
	m := model(b, sandPad())
	st := solve(b, m, 2750, Effects{})
	clean := []Reading{{Speed: 2750, Tank: &st.Tank, Vacuum: &st.Vacuum, Flow: &st.Flow, Power: &st.Power}}
	for b.Loop() {
		if _, err := Calibrate(sandPad(), clean, warm, units.PSI(8)); err != nil {
			b.Fatal(err)
		}
	}
}
