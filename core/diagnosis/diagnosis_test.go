package diagnosis

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
)

var warm = units.Fahrenheit(80)

func document(kind pad.FilterKind) pad.Document {
	d := pad.Document{
		Pump: pad.Pump{Model: "Brisk 150 VS", Kind: pad.VariableSpeed, TopRPM: 3450, LeastRPM: 600,
			Curve: []pad.CurveFt{
				{GPM: 0, Ft: 92},
				{GPM: 40, Ft: 84},
				{GPM: 80, Ft: 64},
				{GPM: 110, Ft: 40},
			}, IdleW: 16, BaseW: 600, PerGpmW: 9},
		Filter: pad.Filter{
			Model:     "Stanchion S24",
			Kind:      pad.Sand,
			AreaFt2:   3.14,
			Valve:     pad.Multiport,
			AtGPM:     60,
			MediaPsi:  3,
			VesselPsi: 4,
		},
		Suction: []pad.Line{
			{
				ID:      "skimmer",
				Name:    "Skimmer",
				Kind:    pad.Skimmer,
				Run:     pad.Run{BoreIn: 2.067, LengthFt: 40, FittingsK: 3},
				Opening: 1,
			},
			{
				ID:      "drain",
				Name:    "Main drain",
				Kind:    pad.Drain,
				Run:     pad.Run{BoreIn: 2.067, LengthFt: 55, FittingsK: 3},
				Opening: 0.5,
			},
		},
		SuctionTrunk: pad.Run{
			BoreIn:    2.067,
			LengthFt:  6,
			FittingsK: 2,
		}, Discharge: pad.Run{BoreIn: 2.067, LengthFt: 4, FittingsK: 2},
		ReturnTrunk: pad.Run{BoreIn: 2.067, LengthFt: 40, FittingsK: 4},
		Returns: []pad.Line{
			{
				ID:        "r1",
				Name:      "Steps return",
				Kind:      pad.Return,
				Run:       pad.Run{BoreIn: 1.61, LengthFt: 20, FittingsK: 2},
				Opening:   1,
				EyeballIn: 0.9,
			},
			{
				ID:        "r2",
				Name:      "Deep-end return",
				Kind:      pad.Return,
				Run:       pad.Run{BoreIn: 1.61, LengthFt: 35, FittingsK: 2},
				Opening:   1,
				EyeballIn: 0.9,
			},
		},
		VacuumTap: pad.TapPot, GaugeHeightFt: 3, PumpHeightFt: 1, Meters: pad.UsualMeters(),
		Programme: []pad.Slot{{StartHour: 8, Hours: 8, RPM: 1750}},
	}
	switch kind {
	case pad.Cartridge:
		d.Filter = pad.Filter{
			Model:     "Pleat 320",
			Kind:      kind,
			AreaFt2:   320,
			Valve:     pad.NoValve,
			AtGPM:     60,
			MediaPsi:  0.5,
			VesselPsi: 2.5,
		}
	case pad.DE:
		d.Filter = pad.Filter{
			Model:     "Lattice 48",
			Kind:      kind,
			AreaFt2:   48,
			Valve:     pad.Multiport,
			AtGPM:     60,
			MediaPsi:  1.5,
			VesselPsi: 3,
		}
	}
	return d
}

// calibrated is a pad with a clean line at three speeds, exact.
func calibrated(t testing.TB, kind pad.FilterKind) *plumbing.Model { return fitted(t, document(kind)) }

func fitted(t testing.TB, d pad.Document) *plumbing.Model {
	m, err := plumbing.Calibrate(d, nil, warm, units.PSI(8))
	require.NoError(t, err)
	var clean []pad.Reading
	for _, rpm := range []float64{1500, 2400, 3450} {
		clean = append(clean, all(t, m, rpm, plumbing.Effects{}).Reading)
	}
	m, err = plumbing.Calibrate(d, clean, warm, units.PSI(8))
	require.NoError(t, err)
	return m
}

func all(t testing.TB, m *plumbing.Model, rpm float64, e plumbing.Effects) Reading {
	st, err := m.Solver().Solve(pad.Operation{Speed: units.Speed(rpm)}, e)
	require.NoError(t, err)
	return Reading{
		Reading: pad.Reading{
			Speed:  units.Speed(rpm),
			Tank:   &st.Tank,
			Vacuum: &st.Vacuum,
			Flow:   &st.Flow,
			Power:  &st.Power,
		},
	}
}

func diagnose(t testing.TB, m *plumbing.Model, load Belief, signs map[fault.Sign]bool, rs ...Reading) *Result {
	r, err := Diagnose(Case{Model: m, Readings: rs, Signs: signs, Load: load})
	require.NoError(t, err)
	sum := r.Other
	for _, s := range r.Suspects {
		sum += s.P
	}
	require.InDelta(t, 1, sum, 1e-9)
	return r
}

func first(r *Result) fault.ID { return r.Suspects[0].Fault.ID }

func chance(r *Result, id fault.ID) float64 {
	for _, s := range r.Suspects {
		if s.Fault.ID == id {
			return s.P
		}
	}
	return 0
}

func show(r *Result) string {
	s := ""
	for _, x := range r.Suspects[:4] {
		s += fmt.Sprintf("%s %.2f; ", x.Fault.ID, x.P)
		for _, w := range x.With {
			s += "(with " + string(w.Fault.ID) + ") "
		}
	}
	return s + fmt.Sprintf("other %.2f load %.2f±%.2f", r.Other, r.Load.Mean, r.Load.SD)
}

var midCycle = Belief{Mean: 0.75, SD: 0.2}

var justCleaned = Belief{Mean: 0.08, SD: 0.09}

// The five situations of the first stop; the trade's readings of them are common
// practice.
func TestFivePsiOverAtTheSameSpeedIsTheFilter(t *testing.T) {
	m := calibrated(t, pad.Sand)
	clean := all(t, m, 2400, plumbing.Effects{})
	// Dirt that lifts the gauge by 5 psi at 2,400 rpm: vacuum and flow come down with it.
	load := 0.5
	for all(t, m, 2400, plumbing.Effects{Load: load}).Tank.PSI() < clean.Tank.PSI()+5 {
		load += 0.01
	}
	r := diagnose(t, m, midCycle, nil, all(t, m, 2400, plumbing.Effects{Load: load}))
	assert.Equal(t, fault.FilterLoaded, first(r), show(r))
	assert.Greater(t, r.Suspects[0].P, 0.5, show(r)) // hardly over the limit at this speed
	assert.Greater(t, r.Load.Mean, 1.0)
	require.NotNil(t, r.Grade.Worst)
	assert.Equal(t, plumbing.StationFilter, r.Grade.Worst.Station)
	// The same gauge figure, reached only because the speed is higher.
	high := *all(t, m, 2400, plumbing.Effects{Load: load}).Tank
	rpm := 2400.0
	for all(t, m, rpm, plumbing.Effects{Load: 0.2}).Tank.PSI() < high.PSI() {
		rpm += 10
	}
	r = diagnose(t, m, Belief{Mean: 0.2, SD: 0.15}, nil, all(t, m, rpm, plumbing.Effects{Load: 0.2}))
	assert.Equal(t, fault.Healthy, first(r), show(r))
	assert.InDelta(t, 0.2, r.Load.Mean, 0.15)
}

func TestPressureNearZeroWithAirAndACleanBasketIsTheImpeller(t *testing.T) {
	m := calibrated(t, pad.Sand)
	r := diagnose(
		t,
		m,
		midCycle,
		map[fault.Sign]bool{fault.AirInPot: true, fault.BasketFull: false},
		all(t, m, 2750, plumbing.Effects{CapacityLost: 0.9}),
	)
	assert.Equal(t, fault.ImpellerClogged, first(r), show(r))
	// Common practice: about nine in ten.
	assert.Greater(t, r.Suspects[0].P, 0.8, show(r))
}

func TestPressureLowAndVacuumHighIsOnTheSuctionSide(t *testing.T) {
	m := calibrated(t, pad.Sand)
	for _, e := range []plumbing.Effects{{Basket: 5}, {SuctionExtra: 60}} {
		r := diagnose(t, m, midCycle, nil, all(t, m, 2750, e))
		assert.Contains(
			t,
			[]fault.ID{fault.BasketFullFault, fault.SkimmerBlocked, fault.SuctionValve},
			first(r),
			show(r),
		)
		suction := chance(r, fault.BasketFullFault) + chance(r, fault.SkimmerBlocked) + chance(r, fault.SuctionValve)
		assert.Greater(t, suction, 0.85, show(r))
	}
}

func TestHighRightAfterACleaningWithOneWeakReturnIsTheReturn(t *testing.T) {
	m := calibrated(t, pad.Sand)
	r := diagnose(
		t,
		m,
		justCleaned,
		map[fault.Sign]bool{fault.WeakOne: true},
		all(t, m, 2750, plumbing.Effects{ReturnLine: 0, ReturnExtra: 800}),
	)
	assert.Equal(t, fault.ReturnRestricted, first(r), show(r))
	assert.Greater(t, chance(r, fault.ReturnRestricted), 3*chance(r, fault.FilterLoaded), show(r))
	assert.Empty(t, r.Suspects[0].Place, "gauges can't tell two like returns apart")
	require.NotNil(t, r.Grade.Worst)
	assert.Equal(t, plumbing.StationReturns, r.Grade.Worst.Station, "the grade line parts where the fault is")
	r = diagnose(
		t,
		m,
		justCleaned,
		map[fault.Sign]bool{fault.HandleWrong: true},
		all(t, m, 2750, plumbing.Effects{ReturnLine: -1, ReturnExtra: 40}),
	)
	assert.Equal(t, plumbing.StationReturns, r.Grade.Worst.Station, "in the common run too")
}

func TestThePlaceIsNamedWhereReadingsTell(t *testing.T) {
	// The skimmer carries far more than the throttled drain: only it can starve the pump so.
	m := calibrated(t, pad.Sand)
	r := diagnose(
		t,
		m,
		midCycle,
		map[fault.Sign]bool{fault.HandleWrong: true},
		all(t, m, 2750, plumbing.Effects{SuctionShut: true}),
	)
	assert.Equal(t, fault.SuctionValve, first(r), show(r))
	assert.Equal(t, "Skimmer", say(r.Suspects[0].Place))
}

func TestEachFaultWinsWithItsOwnReadingsAndSigns(t *testing.T) {
	m := calibrated(t, pad.Sand)
	type signs = map[fault.Sign]bool
	for _, c := range []struct {
		id    fault.ID
		e     plumbing.Effects
		load  Belief
		signs signs
	}{
		{fault.Healthy, plumbing.Effects{Load: 0.5}, Belief{Mean: 0.5, SD: 0.2}, nil},
		{fault.FilterLoaded, plumbing.Effects{Load: 1.3}, midCycle, nil},
		{fault.BasketFullFault, plumbing.Effects{Basket: 5}, midCycle, signs{fault.BasketFull: true}},
		{fault.SkimmerBlocked, plumbing.Effects{SuctionExtra: 25}, midCycle,
			signs{fault.NoPull: true, fault.BasketFull: false}},
		{fault.SuctionValve, plumbing.Effects{SuctionShut: true}, midCycle,
			signs{fault.HandleWrong: true, fault.WorkedHere: true}},
		{fault.WaterLow, plumbing.Effects{Air: 0.1}, midCycle,
			signs{fault.LevelLow: true, fault.Slurping: true, fault.AirInPot: true}},
		{fault.AirLid, plumbing.Effects{Air: 0.1}, midCycle,
			signs{fault.AirInPot: true, fault.PotDrains: true, fault.LidTestHolds: true, fault.LevelLow: false}},
		{fault.AirInlet, plumbing.Effects{Air: 0.1}, midCycle,
			signs{fault.AirInPot: true, fault.PotDrains: true, fault.LidTestHolds: false, fault.DripOutlet: true,
				fault.LevelLow: false}},
		{fault.ImpellerClogged, plumbing.Effects{CapacityLost: 0.8}, midCycle,
			signs{fault.AirInPot: true, fault.DebrisFound: true}},
		{fault.PrimeLost, plumbing.Effects{Air: 0.9, HeadLost: 0.8}, midCycle,
			signs{fault.PotNotFull: true, fault.AirInPot: true, fault.BasketFull: false, fault.DebrisFound: false}},
		{fault.ReturnRestricted, plumbing.Effects{ReturnLine: -1, ReturnExtra: 15}, justCleaned,
			signs{fault.HandleWrong: true}},
		{fault.MediaFouled, plumbing.Effects{Load: 0.9}, Belief{Mean: 0.05, SD: 0.1},
			signs{fault.SlowDrainTest: true, fault.WeakOne: false}},
		{fault.BedChannelled, plumbing.Effects{Load: -0.7}, Belief{Mean: 0.6, SD: 0.15}, signs{fault.WaterDull: true}},
	} {
		r := diagnose(t, m, c.load, c.signs, all(t, m, 2750, c.e))
		assert.Equal(t, c.id, first(r), "%s: %s", c.id, show(r))
		// And every one of them can lose: a clean, quiet pad.
		if c.id != fault.Healthy {
			quiet := diagnose(t, m, Belief{Mean: 0.3, SD: 0.15}, nil, all(t, m, 2750, plumbing.Effects{Load: 0.3}))
			assert.Less(t, chance(quiet, c.id), 0.05, "%s on a sound pad", c.id)
		}
	}
	// A worn impeller needs several speeds and a gauge that was checked.
	worn := plumbing.Effects{HeadLost: 0.32, Load: 0.2}
	r := diagnose(
		t,
		m,
		Belief{Mean: 0.2, SD: 0.15},
		signs{fault.AirInPot: false, fault.DebrisFound: false, fault.NeedleAtRest: false},
		all(t, m, 1750, worn),
		all(t, m, 2750, worn),
		all(t, m, 3450, worn),
	)
	assert.Equal(t, fault.ImpellerWorn, first(r), show(r))
	// A gauge 8 psi high at every speed while flow and watts say all is well.
	a, b := all(t, m, 2750, plumbing.Effects{Load: 0.3}), all(t, m, 1500, plumbing.Effects{Load: 0.3})
	*a.Tank += units.PSI(8)
	*b.Tank += units.PSI(8)
	r = diagnose(t, m, Belief{Mean: 0.3, SD: 0.15}, map[fault.Sign]bool{fault.NeedleAtRest: true}, a, b)
	assert.Equal(t, fault.GaugeBad, first(r), show(r))
}

// everything is a sand pad that can have nearly every fault: a spa with valves on
// both sides, a heater with a bypass, a check valve, a cell.
func everything(t testing.TB) *plumbing.Model {
	d := document(pad.Sand)
	d.Heater, d.HeaterBypass = &pad.Device{
		Model:    "Ember 250",
		DropPsi:  2.4,
		AtGPM:    60,
		LeastGPM: 30,
	}, &pad.Bypass{
		BoreIn: 2.067,
	}
	d.Cell, d.CheckValve = &pad.Device{Model: "Halide 40", DropPsi: 1.2, AtGPM: 60, LeastGPM: 25}, true
	d.Spa = &pad.Spa{SurfaceFt: 1, Gallons: 600, Spills: true}
	d.Valves = []pad.Diverter{
		{ID: "suction-valve", Name: "Suction valve", Side: pad.SuctionSide, BoreIn: 2.067, AngleDeg: 180},
		{ID: "return-valve", Name: "Return valve", Side: pad.ReturnSide, BoreIn: 2.067, AngleDeg: 180},
	}
	for i := range d.Suction {
		d.Suction[i].On = "suction-valve:a"
	}
	for i := range d.Returns {
		d.Returns[i].On = "return-valve:a"
	}
	d.Suction = append(
		d.Suction,
		pad.Line{
			ID:      "spa-drain",
			Name:    "Spa drain",
			Kind:    pad.SpaDrain,
			Run:     pad.Run{BoreIn: 2.067, LengthFt: 30, FittingsK: 3},
			Opening: 1,
			On:      "suction-valve:b",
		},
	)
	d.Returns = append(
		d.Returns,
		pad.Line{
			ID:         "jets",
			Name:       "Spa jets",
			Kind:       pad.SpaJets,
			Run:        pad.Run{BoreIn: 2.067, LengthFt: 30, FittingsK: 4},
			Opening:    1,
			EyeballIn:  1.5,
			On:         "return-valve:b",
			CheckValve: true,
		},
	)
	return fitted(t, d)
}

// small is an above-ground unit below the water.
func small(t testing.TB) *plumbing.Model {
	d := document(pad.Cartridge)
	d.PumpHeightFt, d.GaugeHeightFt, d.Filter.AreaFt2 = -2, -1, 60
	return fitted(t, d)
}

func padThatHas(f *fault.Fault, ms ...*plumbing.Model) *plumbing.Model {
	for _, m := range ms {
		if len(f.Places(&m.Doc)) > 0 {
			return m
		}
	}
	return nil
}

func TestAnswersMoveTheirFaultsBothWays(t *testing.T) {
	whole, little := everything(t), small(t)
	for _, f := range fault.Catalogue {
		m := padThatHas(&f, whole, little)
		require.NotNil(t, m, "no pad here can have %s", f.ID)
		rds := []Reading{all(t, m, 2400, plumbing.Effects{Load: 0.4})}
		if e := f.Places(&m.Doc)[0].Effects(0); e.Stopped || e.SuctionAllShut || e.ReturnAllShut {
			rds = nil // such a reading would rule it out
		}
		weighed := func(signs map[fault.Sign]bool) float64 {
			return weight(diagnose(t, m, Belief{Mean: 0.4, SD: 0.2}, signs, rds...), f.ID)
		}
		was := weighed(nil)
		for sign, p := range f.Signs {
			fact, ok := fault.LookUpSign(sign)
			require.True(t, ok, "%s names a sign that does not exist: %s", f.ID, sign)
			if fact.Air || p == fact.Base || f.Chronic || !fact.On(&m.Doc) {
				continue
			}
			yes, no := weighed(map[fault.Sign]bool{sign: true}), weighed(map[fault.Sign]bool{sign: false})
			if p > fact.Base {
				assert.Less(t, no, was*1.0001, "%s without %s", f.ID, sign)
				if p > 0.5 {
					assert.Greater(t, yes, was, "%s with %s", f.ID, sign)
				}
			} else {
				assert.Less(t, yes, was, "%s with %s", f.ID, sign)
			}
		}
	}
}

// weight is a suspect's odds against a sound pad, which other faults' shares do
// not move.
func weight(r *Result, id fault.ID) float64 {
	if id == fault.Healthy {
		return chance(r, id)
	}
	return chance(r, id) / (chance(r, fault.Healthy) + chance(r, fault.FilterLoaded))
}

func TestThreeSignsOfAirAreNotThreeProofs(t *testing.T) {
	m := calibrated(t, pad.Sand)
	rd := all(t, m, 2750, plumbing.Effects{Load: 0.3})
	odds := func(signs map[fault.Sign]bool) float64 {
		r := diagnose(t, m, Belief{Mean: 0.3, SD: 0.2}, signs, rd)
		return chance(r, fault.AirLid) / chance(r, fault.Healthy)
	}
	none := odds(nil)
	oneSign := odds(map[fault.Sign]bool{fault.AirInPot: true})
	three := odds(map[fault.Sign]bool{fault.AirInPot: true, fault.Bubbles: true, fault.NeedleBounces: true})
	assert.Greater(t, oneSign, none)
	assert.Less(t, three/none, 0.95/fault.Catalogue[0].Air*1.01, "bounded by the hidden cause's own odds")
}

func TestSignsAloneStillRank(t *testing.T) {
	m := calibrated(t, pad.Cartridge)
	r := diagnose(t, m, midCycle, map[fault.Sign]bool{fault.AirInPot: true, fault.LevelLow: true, fault.Slurping: true})
	assert.Equal(t, fault.WaterLow, first(r), show(r))
	assert.False(t, r.Known)
	assert.InDelta(t, 0.75, r.Load.Mean, 0.1, "the forecast stands")
	assert.Nil(t, r.Grade)
}

func TestALowSpeedReadingIsVagueAboutTheLoad(t *testing.T) {
	m := calibrated(t, pad.Sand)
	bare := func(rpm float64) Reading {
		r := all(t, m, rpm, plumbing.Effects{Load: 0.8})
		r.Flow, r.Power, r.Vacuum = nil, nil, nil
		return r
	}
	slow := diagnose(t, m, Belief{Mean: 0.6, SD: 0.4}, nil, bare(1000))
	fast := diagnose(t, m, Belief{Mean: 0.6, SD: 0.4}, nil, bare(3250))
	assert.Greater(t, slow.Observed.SD, 2*fast.Observed.SD)
	assert.InDelta(t, 0.8, fast.Observed.Mean, 0.25)
}

func TestTheSameDirtReadsTheSameLoadAtAnySpeed(t *testing.T) {
	m := calibrated(t, pad.Sand)
	rapid.Check(t, func(rt *rapid.T) {
		load := rapid.Float64Range(0.1, 1.6).Draw(rt, "load")
		rpm := rapid.Float64Range(1750, 3450).Draw(rt, "rpm")
		r := diagnose(t, m, Belief{Mean: 0.8, SD: 0.8}, nil, all(t, m, rpm, plumbing.Effects{Load: load}))
		assert.InDelta(rt, load, r.Observed.Mean, math.Max(0.2, 1.5*r.Observed.SD), "%v rpm: %s", rpm, show(r))
	})
}

// What an earlier record's reading says of the load is what the whole diagnosis
// has when nothing else is amiss.
func TestObserveIsTheLoadWhenNothingElseIsAmiss(t *testing.T) {
	m := calibrated(t, pad.Sand)
	rapid.Check(t, func(rt *rapid.T) {
		load := rapid.Float64Range(0.1, 1.4).Draw(rt, "load")
		r := all(t, m, rapid.Float64Range(1900, 3450).Draw(rt, "rpm"), plumbing.Effects{Load: load})
		b, err := Observe(m, []Reading{r})
		require.NoError(rt, err)
		assert.InDelta(rt, load, b.Mean, math.Max(0.1, 2*b.SD))
	})
	none, err := Observe(m, nil)
	require.NoError(t, err)
	assert.False(t, (&none).Tells(), "no reading says nothing")
}

func BenchmarkObserve(b *testing.B) {
	m := calibrated(b, pad.Sand)
	r := all(b, m, 2400, plumbing.Effects{Load: 0.5})
	for b.Loop() {
		if _, err := Observe(m, []Reading{r}); err != nil {
			b.Fatal(err)
		}
	}
}

func TestReadingsThatDoNotFitAreNamed(t *testing.T) {
	m := calibrated(t, pad.Sand)
	rd := all(t, m, 2750, plumbing.Effects{Load: 0.3})
	*rd.Power *= 2.5
	r := diagnose(t, m, Belief{Mean: 0.3, SD: 0.2}, nil, rd)
	require.NotNil(t, r.Misfit, show(r))
	assert.Equal(t, pad.MeterPower, r.Misfit.Meter)
}

func TestNextCheckSplitsTheLeaders(t *testing.T) {
	m := calibrated(t, pad.Sand)
	r := diagnose(t, m, midCycle, nil, all(t, m, 2750, plumbing.Effects{Basket: 5}))
	require.NotEmpty(t, r.Next)
	best := r.Next[0]
	assert.GreaterOrEqual(t, best.Bits, worthBits)
	if best.Reading == nil {
		assert.NotEqual(t, best.IfYes.Fault, best.IfNo.Fault, "its answers point at different suspects")
	}
	assert.NotEmpty(t, r.Suspects[0].For)
}

// Common practice: recirculate for a minute tells the filter from what lies
// beyond it. P drops always; what counts is how far.
func TestRecirculateTellsTheFilterFromTheReturn(t *testing.T) {
	m := calibrated(t, pad.Sand)
	shut := plumbing.Effects{ReturnLine: -1, ReturnExtra: 30}
	doubt := Belief{Mean: 0.75, SD: 0.35}
	r := diagnose(
		t,
		m,
		doubt,
		map[fault.Sign]bool{fault.WeakOne: true, fault.HandleWrong: false},
		all(t, m, 2750, shut),
	)
	var rc *Check
	for i := range r.Next {
		if r.Next[i].Reading != nil && r.Next[i].Reading.Operation.Setting == pad.SetRecirculate {
			rc = &r.Next[i]
		}
	}
	require.NotNil(t, rc, "%+v", r.Next)
	assert.NotEmpty(t, rc.Sign.Caution)
	require.GreaterOrEqual(t, len(rc.Reading.Would), 2)
	apart := rc.Reading.Would[0].Tank - rc.Reading.Would[1].Tank
	assert.Greater(t, math.Abs(apart.PSI()), 1.5, "the figures it would read lie apart")
	// Taking it settles the matter, either way.
	st, err := m.Solver().Solve(rc.Reading.Operation, shut)
	require.NoError(t, err)
	second := Reading{
		Reading: pad.Reading{Speed: rc.Reading.Operation.Speed, Tank: &st.Tank},
		Setting: pad.SetRecirculate,
	}
	after := diagnose(
		t,
		m,
		doubt,
		map[fault.Sign]bool{fault.WeakOne: true, fault.HandleWrong: false},
		all(t, m, 2750, shut),
		second,
	)
	assert.Greater(t, chance(after, fault.ReturnRestricted), chance(r, fault.ReturnRestricted), show(after))
	assert.Equal(t, fault.ReturnRestricted, first(after), show(after))
	for _, c := range after.Next {
		assert.False(t, c.Reading != nil && c.Reading.Operation.Setting == pad.SetRecirculate, "not asked twice")
	}
	// Nothing asks for a reading over the tank's usual ceiling.
	for _, c := range diagnose(t, m, doubt, nil,
		all(t, m, 2750, plumbing.Effects{ReturnLine: -1, ReturnExtra: 200})).Next {
		if c.Reading != nil {
			for _, w := range c.Reading.Would {
				assert.Less(t, w.Tank.PSI(), 30.0)
			}
		}
	}
	// A cartridge has no such setting.
	cart := calibrated(t, pad.Cartridge)
	for _, c := range diagnose(t, cart, doubt, map[fault.Sign]bool{fault.WeakOne: true},
		all(t, cart, 2750, shut)).Next {
		assert.False(t, c.Reading != nil && c.Reading.Operation.Setting == pad.SetRecirculate)
	}
}

func TestATankOverItsCeilingIsADanger(t *testing.T) {
	m := calibrated(t, pad.Sand)
	for psi, stop := range map[float64]bool{34: false, 52: true} {
		p := units.PSI(psi)
		r := diagnose(t, m, midCycle, nil, Reading{Reading: pad.Reading{Speed: 3450, Tank: &p}})
		require.Len(t, r.Dangers, 1)
		assert.Equal(t, stop, r.Dangers[0].Stop)
	}
}

func BenchmarkDiagnoseTwoReadings(b *testing.B) {
	m := calibrated(b, pad.Sand)
	rs := []Reading{all(b, m, 2400, plumbing.Effects{Load: 0.9}), all(b, m, 3250, plumbing.Effects{Load: 0.9})}
	c := Case{
		Model:    m,
		Readings: rs,
		Load:     midCycle,
		Signs:    map[fault.Sign]bool{fault.AirInPot: false, fault.WaterDull: true},
	}
	b.ReportAllocs()
	for b.Loop() {
		if _, err := Diagnose(c); err != nil {
			b.Fatal(err)
		}
	}
}
