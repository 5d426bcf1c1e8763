package diagnosis

import (
	"math"
	"math/rand/v2"
	"slices"
	"sort"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	few "fairlap/core/drawn"
	"fairlap/core/fault"
	"fairlap/core/hydraulics"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
)

// drawn is one made-up stop: a fault by its route frequency, a severity, a load,
// noisy meters and a few looks.
func drawn(t *testing.T, rng *rand.Rand, m *plumbing.Model, s *plumbing.Solver, evenly bool) (Case, fault.ID) {
	pick := func(weights []float64) int {
		total := 0.0
		for _, w := range weights {
			total += w
		}
		x := rng.Float64() * total
		for i, w := range weights {
			if x -= w; x < 0 {
				return i
			}
		}
		return len(weights) - 1
	}
	var w []float64
	for _, f := range fault.Catalogue {
		switch {
		case f.Chronic || len(f.Places(&m.Doc)) == 0: // not a rival, or not on this pad
			w = append(w, 0)
		case evenly:
			w = append(w, 1)
		case f.ID == fault.Healthy:
			w = append(w, 0.15) // so that faults are met often enough to count
		default:
			w = append(w, f.Prior)
		}
	}
	f := fault.Catalogue[pick(w)]
	places := f.Places(&m.Doc)
	var shares []float64
	for i := range places {
		shares = append(shares, placeShare(&places[i]))
	}
	place := places[pick(shares)]
	f = f.At(&place)
	is := cause{&f, pick(f.Weights)}
	e := place.Effects(is.step)
	if rng.Float64() < f.Mild {
		is.step, e = mild, plumbing.Effects{}
	}
	forecast := Belief{Mean: 0.2 + 0.5*rng.Float64(), SD: 0.15}
	load := forecast.Mean + forecast.SD*rng.NormFloat64()
	dry := e == plumbing.Effects{} && f.ID != fault.Healthy
	e.Load += load
	truth := f.ID
	if truth == fault.Healthy && load >= 1 {
		truth = fault.FilterLoaded
	}
	c := Case{Model: m, Load: forecast, Signs: map[fault.Sign]bool{}, Priors: map[fault.ID]float64{}}
	for i, x := range fault.Catalogue {
		if x.ID != fault.Healthy {
			total := 0.0
			for _, y := range w {
				total += y
			}
			c.Priors[x.ID] = w[i] / total
		}
	}
	bias := units.PSI(gaugeSlack * rng.NormFloat64())
	factor, stuck := 1.0, units.PSI(40*rng.Float64())
	switch place.Gauge {
	case fault.Offset:
		bias += units.PSI(offsetSD[is.step] * rng.NormFloat64())
	case fault.Scale:
		factor += scaleSD[is.step] * rng.NormFloat64()
	}
	var network [len(pad.AllMeters)]float64 // what it misses at every reading alike
	for k := range network {
		network[k] = 1 + modelShared*rng.NormFloat64()
	}
	sick := rng.NormFloat64()
	var flow float64
	for _, rpm := range []float64{2400, 3250} {
		st, err := s.Solve(pad.Operation{Speed: units.Speed(rpm)}, e)
		require.NoError(t, err)
		if rpm == 2400 {
			flow = float64(st.Flow)
		}
		st.Power += units.Power(sick * float64(st.PowerDoubt))
		read := func(meter pad.Meter) float64 {
			v := st.Value(meter)
			for k, x := range pad.AllMeters {
				if x == meter {
					v *= network[k] * (1 + modelOwn*rng.NormFloat64())
				}
			}
			return v + m.Doc.Meters.Noise(meter, v)*rng.NormFloat64()
		}
		tank := units.Pressure(read(pad.MeterTank)*factor) + bias
		switch place.Gauge {
		case fault.Stuck:
			tank = stuck
		case fault.Plugged:
			tank *= units.Pressure(pluggedMean + pluggedSD*rng.NormFloat64())
		}
		vac, q, p := units.Pressure(
			math.Max(0, read(pad.MeterVacuum)),
		), units.Flow(
			math.Max(0, read(pad.MeterFlow)),
		), units.Power(
			read(pad.MeterPower),
		)
		c.Readings = append(
			c.Readings,
			Reading{Reading: pad.Reading{Speed: units.Speed(rpm), Tank: &tank, Vacuum: &vac, Flow: &q, Power: &p}},
		)
	}
	air := rng.Float64() < is.air()
	for _, sg := range fault.Signs {
		p := is.sign(&sg)
		// Not everything is looked at; but what does nothing to the water is met only
		// by its one telling sign.
		if !sg.On(&m.Doc) || (rng.Float64() < 0.25 && !sg.Context && !(dry && p > 0.9)) {
			continue
		}
		switch {
		case sg.FromState && sg.ID == fault.WeakAll:
			p = 0.03 + 0.94/(1+math.Exp((flow/(topFlow(t, m))-looksWeak)/0.06))
		case sg.FromState:
			p = lampFalse
		case sg.Air && air:
			p = sg.GivenAir
		case sg.Air:
			p = sg.Base
		}
		c.Signs[sg.ID] = rng.Float64() < p
	}
	return c, truth
}

func topFlow(t *testing.T, m *plumbing.Model) float64 {
	st, err := m.Solver().Solve(pad.Operation{Speed: m.TopSpeed()}, plumbing.Effects{})
	require.NoError(t, err)
	return float64(st.Flow)
}

// Chances must be honest: of suspects given 70 %, about 70 % are true. Cases are
// drawn from the engine's own physics, so this checks the reasoning, not the
// physics (that is EPANET's part).
func TestChancesAreHonest(t *testing.T) {
	rng := rand.New(rand.NewPCG(11, 4))
	m := calibrated(t, pad.Sand)
	s := m.Solver()
	const n = 400
	var first, three int
	var said, was [10]float64
	brier := 0.0
	for range n {
		c, truth := drawn(t, rng, m, s, false)
		r, err := Diagnose(c)
		require.NoError(t, err)
		var rows []Suspect // by their first name, each once
		for _, x := range r.Suspects {
			if i := slices.IndexFunc(rows, func(y Suspect) bool { return y.Fault.ID == x.Fault.ID }); i >= 0 {
				rows[i].P += x.P
			} else {
				rows = append(rows, x)
			}
		}
		sort.SliceStable(rows, func(a, b int) bool { return rows[a].P > rows[b].P })
		for i, sp := range rows {
			hit := 0.0
			if sp.Fault.ID == truth {
				hit = 1
				if i == 0 {
					first++
				}
				if i < 3 {
					three++
				}
			}
			brier += (sp.P - hit) * (sp.P - hit)
			b := min(9, int(sp.P*10))
			said[b] += sp.P
			was[b] += hit
		}
	}
	miss, total := 0.0, 0.0
	for b := range said {
		miss += math.Abs(said[b] - was[b])
		total += said[b]
	}
	t.Logf("first %.0f %%, in the first three %.0f %%, Brier %.3f, calibration error %.3f (%d cases)",
		100*float64(first)/n, 100*float64(three)/n, brier/n, miss/total, n)
	assert.Greater(t, float64(first)/n, 0.85)
	assert.Greater(t, float64(three)/n, 0.95)
	assert.Less(t, miss/total, 0.12)
}

func TestPadsWithoutAPathAreNamed(t *testing.T) {
	for code, shut := range map[string]func(*pad.Document){
		"dry":       func(d *pad.Document) { d.Suction[0].Opening, d.Suction[1].Opening = 0, 0 },
		"dead-head": func(d *pad.Document) { d.Returns[0].Opening, d.Returns[1].Opening = 0, 0 },
		"no-path": func(d *pad.Document) {
			d.Suction[0].Opening, d.Suction[1].Opening, d.Returns[0].Opening, d.Returns[1].Opening = 0, 0, 0, 0
		},
	} {
		d := document(pad.Sand)
		shut(&d)
		m, err := plumbing.Calibrate(d, nil, warm, units.PSI(8))
		require.NoError(t, err, code)
		tank := units.PSI(2)
		r, err := Diagnose(
			Case{Model: m, Load: midCycle, Readings: []Reading{{Reading: pad.Reading{Speed: 2400, Tank: &tank}}}},
		)
		require.NoError(t, err, code)
		require.NotEmpty(t, r.Dangers, code)
		assert.Equal(t, code, r.Dangers[0].Code)
		assert.True(t, r.Dangers[0].Stop)
	}
	s, err := surveyed(&Case{Model: calibrated(t, pad.DE), Load: midCycle})
	require.NoError(t, err)
	assert.Equal(t, hydraulics.Flowing, s.condition)
}

// A label tells the watts at the flows of a clean pad. Where its line is too flat, the watts of a
// dirty pad fall further than foretold: that is the line's fault, not the pump's.
func TestWattsOffAFlatLabelAreNotAWornPump(t *testing.T) {
	flat := document(pad.Sand)
	steep := flat.Pump
	flat.Pump.BaseW, flat.Pump.PerGpmW = steep.BaseW+50*steep.PerGpmW, 0.5
	m := fitted(t, flat)
	rng := rand.New(rand.NewPCG(44, 1))
	between := func(a, b float64) float64 { return a + (b-a)*rng.Float64() }
	for range few.Of(100) {
		load := between(1.3, 4)
		var rs []Reading
		for _, rpm := range []float64{2400, 3450} {
			r, clean := all(t, m, rpm, plumbing.Effects{Load: load}), all(t, m, rpm, plumbing.Effects{})
			// Really the wheel draws 45 % at shut-off (handbook: 40 to 50 %).
			fell := 1 - float64(*r.Flow)/float64(*clean.Flow)
			*r.Power = *clean.Power * units.Power(1-fell*between(0.2, 0.4))
			rs = append(rs, r)
		}
		got := diagnose(t, m, Belief{Mean: 1.2, SD: 0.3}, nil, rs...)
		assert.Equal(t, fault.FilterLoaded, first(got), "load %.1f: %s", load, show(got))
		assert.Less(t, chance(got, fault.ImpellerWorn), 0.1, show(got))
		assert.True(t, got.Misfit == nil || got.Misfit.Meter != pad.MeterPower, "load %.1f: the power is read again", load)
	}
}

// A needle that touches its limit at a slow speed is one meter of four: where flow, watts and
// vacuum have the filter half loaded, it is not called dirty for half a psi. Two needles are.
func TestOneNeedleAtItsLimitDoesNotOutvoteTheOtherMeters(t *testing.T) {
	m := calibrated(t, pad.Sand)
	rng := rand.New(rand.NewPCG(44, 2))
	for range few.Of(100) {
		load := 0.5 * rng.Float64()
		slow, fast := all(t, m, 1400, plumbing.Effects{Load: load}), all(t, m, 3450, plumbing.Effects{Load: load})
		*slow.Tank = *all(t, m, 1400, plumbing.Effects{Load: 1.05}).Tank
		got := diagnose(t, m, Belief{Mean: load, SD: 0.15}, nil, slow, fast)
		assert.NotEqual(t, fault.FilterLoaded, first(got), "load %.2f: %s", load, show(got))
		assert.Less(t, got.Load.Mean, 0.8)
		slow.Flow, slow.Power, slow.Vacuum = nil, nil, nil
		got = diagnose(t, m, Belief{Mean: load, SD: 0.15}, nil, slow)
		assert.Equal(t, 1, got.AtLimit)
		// By itself it may err too, at a speed where a whole load is hardly more than its own width.
		assert.Greater(t, got.Load.Mean, load)
		*fast.Tank = *all(t, m, 3450, plumbing.Effects{Load: 1.2}).Tank
		fast.Flow, fast.Power, fast.Vacuum = nil, nil, nil
		got = diagnose(t, m, Belief{Mean: load, SD: 0.15}, nil, slow, fast)
		assert.Equal(t, 2, got.AtLimit)
		assert.Greater(t, got.Load.Mean, 0.95, "load %.2f, both needles", load)
	}
}
