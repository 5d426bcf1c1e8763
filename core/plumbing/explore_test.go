package plumbing

import (
	"bytes"
	"encoding/json"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/hydraulics"
	"fairlap/core/pad"
	"fairlap/core/pad/padtest"
	"fairlap/core/units"
)

func paths(t testing.TB, m *Model, op pad.Operation, load float64) *Paths {
	p, err := m.Paths(op, load)
	require.NoError(t, err)
	return p
}

func hazard(p *Paths, id string) *Hazard {
	for i := range p.Hazards {
		if p.Hazards[i].ID == id {
			return &p.Hazards[i]
		}
	}
	return nil
}

func reach(p *Paths, id string) Reach {
	for _, r := range p.Reaches {
		if r.ID == id {
			return r
		}
	}
	return Reach{}
}

// The handbook's table of suction and return sets.
func TestSpaSets(t *testing.T) {
	m := model(t, padtest.SpaPad())
	pool := paths(t, m, pad.Operation{Speed: 2400}, 0)
	assert.Zero(t, pool.State.SpaGain)
	assert.Empty(t, pool.MinutesToEmpty)
	drains := paths(t, m, pad.Operation{Speed: 2400, Handles: pad.Handles{"suction-valve": 0}}, 0)
	require.NotNil(t, hazard(drains, "spa-drains"))
	assert.Equal(t, MarkStop, drains.Hazards[0].Mark, "the grave come first")
	// 450 gallons above the suction at the flow that the pump takes from it.
	assert.InDelta(t, 450/drains.State.Flow.GPM(), drains.MinutesToEmpty, 0.1)
	assert.Contains(t, say(hazard(drains, "spa-drains").Text), "minutes")
	fills := paths(t, m, pad.Operation{Speed: 2400, Handles: pad.Handles{"return-valve": 0}}, 0)
	assert.Equal(t, MarkNote, hazard(fills, "spa-spills").Mark)
	doc := padtest.SpaPad()
	doc.Spa.Spills, doc.Spa.RoomGallons = false, 60
	brims := paths(t, model(t, doc), pad.Operation{Speed: 2400, Handles: pad.Handles{"return-valve": 0}}, 0)
	assert.Equal(t, MarkStop, hazard(brims, "spa-fills").Mark)
	assert.InDelta(t, 60/brims.State.SpaGain.GPM(), brims.MinutesToSpill, 0.1)
	spa := paths(t, m, pad.Operation{Speed: 2400, Handles: pad.Handles{"suction-valve": 0, "return-valve": 0}}, 0)
	assert.InDelta(t, 0, spa.State.SpaGain.GPM(), 0.2, "what is drawn comes back")
	assert.NotNil(t, hazard(spa, "spa-only"))
	// Off, a raised spa runs back through an open suction valve unless held.
	off := paths(t, m, pad.Operation{Handles: pad.Handles{"suction-valve": 90}}, 0)
	assert.Equal(t, hydraulics.Still, off.State.Condition)
	require.NotNil(t, hazard(off, "spa-runs-back"))
	assert.Nil(t, hazard(paths(t, m, pad.Operation{}, 0), "spa-runs-back"))
}

func TestSettingsOfTheMultiportSendTheWaterWhereTheTableSays(t *testing.T) {
	m := model(t, padtest.SpaPad())
	for set, want := range map[pad.Setting]struct{ filter, waste, back float64 }{
		pad.SetFilter: {1, 0, 1}, pad.SetBackwash: {-1, 1, 0}, pad.SetRinse: {1, 1, 0}, pad.SetWaste: {0, 1, 0},
		pad.SetRecirculate: {0, 0, 1}, pad.SetClosed: {0, 0, 0},
	} {
		p := paths(t, m, pad.Operation{Speed: 2400, Setting: set}, 0.3)
		q := math.Max(1e-6, float64(p.State.Flow))
		assert.InDelta(t, want.filter, float64(reach(p, "filter").Flow)/q, 0.01, set)
		assert.InDelta(t, want.waste, float64(p.State.ToWaste)/q, 0.01, set)
		assert.InDelta(t, want.back, float64(reach(p, "return-trunk").Flow)/q, 0.01, set)
		if set == pad.SetClosed {
			assert.Equal(t, hydraulics.DeadHead, p.State.Condition)
			assert.NotNil(t, hazard(p, "never-run"))
		}
	}
	winter := paths(t, m, pad.Operation{Speed: 2400, Setting: pad.SetWinter}, 0)
	assert.NotNil(t, hazard(winter, "never-run"))
	_, err := model(
		t,
		func() pad.Document { d := padtest.SandPad(); d.Filter.Valve = pad.NoValve; return d }(),
	).Paths(pad.Operation{Speed: 2400, Setting: pad.SetBackwash}, 0)
	assert.ErrorContains(t, err, "no setting")
}

func TestHazardsSayWhatIsWrong(t *testing.T) {
	m := model(t, padtest.SpaPad())
	one := paths(t, m, pad.Operation{Speed: 2400, Handles: pad.Handles{"skimmer": 0}}, 0)
	assert.Equal(t, MarkStop, hazard(one, "one-suction").Mark, "closing the skimmer onto a single drain")
	fast := paths(t, m, pad.Operation{Speed: 3450, Handles: pad.Handles{"skimmer": 0}}, 0)
	assert.NotNil(t, hazard(fast, "cover-rating"))
	bypass := paths(t, m, pad.Operation{Speed: 1800, Handles: pad.Handles{pad.HeaterBypass: 1}}, 0)
	assert.Contains(t, say(hazard(bypass, "short-heater").Text), "bypass")
	assert.Contains(
		t,
		say(hazard(paths(t, m, pad.Operation{Speed: 1200, Setting: pad.SetBackwash}, 0), "weak-backwash").Text),
		"faster",
	)
	assert.NotNil(t, hazard(paths(t, m, pad.Operation{Speed: 2400, Setting: pad.SetRecirculate}, 0), "unfiltered"))
	assert.Equal(
		t,
		hydraulics.DrySource,
		paths(
			t,
			m,
			pad.Operation{Speed: 2400, Handles: pad.Handles{"suction-valve": 0, "spa-drain": 0}},
			0,
		).State.Condition,
	)
	_, err := m.Paths(pad.Operation{Speed: 2400, Handles: pad.Handles{"garden-hose": 1}}, 0)
	assert.ErrorContains(t, err, "no valve")
	_, err = m.Paths(pad.Operation{Speed: 2400, Handles: pad.Handles{"return-valve": 400}}, 0)
	assert.ErrorContains(t, err, "between 0 and 180")
}

func TestSetByWords(t *testing.T) {
	d := padtest.SpaPad()
	var op pad.Operation
	for _, w := range []string{"multiport=backwash", "suction-valve=spa", "return-valve=45", "skimmer=shut",
		"heater-bypass=0.5"} {
		require.NoError(t, d.SetByWords(&op, w))
	}
	assert.Equal(
		t,
		pad.Operation{
			Setting: pad.SetBackwash,
			Handles: pad.Handles{"suction-valve": 0, "return-valve": 45, "skimmer": 0, "heater-bypass": 0.5},
		},
		op,
	)
	for _, w := range []string{"multiport=sideways", "suction-valve=lake", "skimmer-valve=spa", "skimmer=2", "nothing",
		"hose=open"} {
		assert.Error(t, d.SetByWords(&op, w), w)
	}
}

// drawnEffects are what air, shut lines and dirt do together, still water among it.
func drawnEffects(t *rapid.T, label string) (e Effects) {
	e.Load = rapid.Float64Range(-0.3, 8).Draw(t, label+" load")
	often := func(what string) bool { return rapid.IntRange(0, 2).Draw(t, label+" "+what) == 0 }
	e.ReturnAllShut, e.Stopped = often("returns shut"), often("stopped")
	e.SuctionAllShut = !e.ReturnAllShut && often("suction shut") // between two shut valves nothing tells the pressure
	if often("air") {
		e.Air = rapid.Float64Range(0, 0.6).Draw(t, label+" share")
	}
	if often("worn") {
		e.HeadLost = rapid.Float64Range(0, 0.9).Draw(t, label+" head lost")
	}
	if often("spa valves") {
		e.SpaSuction = rapid.SampledFrom([]pad.Body{pad.PoolBody, pad.SpaBody}).Draw(t, label+" suction")
		e.SpaReturn = rapid.SampledFrom([]pad.Body{pad.PoolBody, pad.SpaBody}).Draw(t, label+" return")
	}
	return e
}

// What a pad reads does not depend on what was solved before it: the solver begins with the last flows, and must not
// end with them where water that was still begins to move, nor make heads of what is left of them where it stops.
func TestASolveForgetsTheOneBefore(t *testing.T) {
	for name, d := range map[string]pad.Document{"spa": padtest.SpaPad(), "sand": padtest.SandPad()} {
		m := model(t, d)
		t.Run(name, func(t *testing.T) {
			rapid.Check(t, func(t *rapid.T) {
				before := pad.Operation{Speed: units.Speed(rapid.Float64Range(600, 3450).Draw(t, "rpm before"))}
				now := pad.Operation{Speed: units.Speed(rapid.Float64Range(600, 3450).Draw(t, "rpm"))}
				was, is := drawnEffects(t, "was"), drawnEffects(t, "is")
				warm := m.Solver()
				_, err := warm.Solve(before, was)
				require.NoError(t, err)
				got, err := warm.Solve(now, is)
				require.NoError(t, err)
				want, err := m.Solver().Solve(now, is)
				require.NoError(t, err)
				assert.Equal(t, want.Condition, got.Condition)
				near := 1e-5
				if is.ReturnAllShut || is.SuctionAllShut || is.Stopped {
					near = 0.05 // how leaks share is not waited for: half a mark of the finest gauge
				}
				assert.InDelta(t, want.Flow.GPM(), got.Flow.GPM(), near, "flow")
				assert.InDelta(t, want.Tank.PSI(), got.Tank.PSI(), near, "filter pressure")
				assert.InDelta(t, want.Vacuum.InHg(), got.Vacuum.InHg(), near, "vacuum")
				assert.InDelta(t, float64(want.Power), float64(got.Power), 100*near, "power")
			})
		})
	}
}

// Mass is kept at every junction and energy round every loop, in any pad state.
func TestMassAndEnergyBalance(t *testing.T) {
	m := model(t, padtest.SpaPad())
	rapid.Check(t, func(t *rapid.T) {
		op := pad.Operation{Speed: units.Speed(rapid.Float64Range(600, 3450).Draw(t, "rpm")),
			Setting: rapid.SampledFrom([]pad.Setting{pad.SetFilter, pad.SetBackwash, pad.SetRinse, pad.SetWaste,
				pad.SetRecirculate}).
				Draw(t, "setting"),
			Handles: pad.Handles{
				"suction-valve": rapid.Float64Range(5, 175).Draw(t, "suction"),
				"return-valve":  rapid.Float64Range(5, 175).Draw(t, "return"),
				"skimmer": rapid.Float64Range(0.1, 1).
					Draw(t, "skimmer"),
				pad.HeaterBypass: rapid.Float64Range(0, 1).Draw(t, "bypass"),
			}}
		s := m.Solver()
		_, err := s.Solve(op, Effects{Load: rapid.Float64Range(0, 2).Draw(t, "load")})
		require.NoError(t, err)
		sum := make([]float64, len(s.View.nodes))
		top := 0.0
		for i, l := range s.View.links {
			q := s.View.sol.Flow[i]
			sum[l.From] -= q
			sum[l.To] += q
			top = math.Max(top, math.Abs(q))
			if l.Shut || q < 0 && l.OneWay || l.Pump != nil {
				continue
			}
			// A link's own law gives the difference of its ends' heads.
			lost := l.Linear*q + l.Pipe*q*math.Pow(math.Abs(q), 0.852) + l.Quadratic*q*math.Abs(q)
			assert.InDelta(t, s.View.sol.Head[l.From]-s.View.sol.Head[l.To], lost, 1e-4, l.Name)
		}
		for i, n := range s.View.nodes {
			if !n.Fixed {
				assert.InDelta(t, 0, sum[i]/top, 1e-6, n.Name)
			}
		}
	})
}

func TestFlowGrowsWithOpeningAndSpeed(t *testing.T) {
	m := model(t, padtest.SpaPad())
	rapid.Check(t, func(t *rapid.T) {
		rpm := rapid.Float64Range(800, 3300).Draw(t, "rpm")
		id := rapid.SampledFrom([]string{"skimmer", "drain", "return-1", "heads"}).Draw(t, "valve")
		o := rapid.Float64Range(0.1, 0.9).Draw(t, "opening")
		flow := func(rpm, o float64) float64 {
			st, err := m.Solver().Solve(pad.Operation{Speed: units.Speed(rpm), Handles: pad.Handles{id: o}}, Effects{})
			require.NoError(t, err)
			return float64(st.Flow)
		}
		assert.GreaterOrEqual(t, flow(rpm, o+0.1), flow(rpm, o)*(1-1e-9))
		assert.Greater(t, flow(rpm+100, o), flow(rpm, o))
	})
}

func TestPortOpening(t *testing.T) {
	for _, c := range []struct{ angle, a, b float64 }{{0, 0, 1}, {45, 0.5, 1}, {90, 1, 1}, {135, 1, 0.5}, {180, 1, 0}} {
		assert.InDelta(t, c.a, pad.PortOpening('a', c.angle), 1e-12)
		assert.InDelta(t, c.b, pad.PortOpening('b', c.angle), 1e-12)
	}
}

func TestAFlowHoldingPumpClimbsInSpeedAsTheFilterLoads(t *testing.T) {
	doc := padtest.SandPad()
	doc.Pump.Kind, doc.Pump.HoldGPM = pad.FlowHolding, 45
	m := model(t, doc)
	clean, dirty := paths(t, m, pad.Operation{Speed: 1}, 0), paths(t, m, pad.Operation{Speed: 1}, 1)
	assert.InDelta(t, 45, clean.State.Flow.GPM(), 0.1)
	assert.InDelta(t, 45, dirty.State.Flow.GPM(), 0.1)
	assert.Greater(t, dirty.Speed, clean.Speed+100)
	assert.Greater(t, dirty.State.Power, clean.State.Power)
	assert.Greater(t, dirty.State.Tank, clean.State.Tank)
	doc.Pump.HoldGPM = 200
	assert.InDelta(
		t,
		3450,
		float64(paths(t, model(t, doc), pad.Operation{Speed: 1}, 0).Speed),
		1,
		"what can't be reached ends at top speed",
	)
}

func TestCavitationIsWarnedOfAtHeightAndHeat(t *testing.T) {
	doc := padtest.SandPad()
	doc.Pump.NPSHrFt, doc.Pump.NPSHrGPM = 12, 80
	m := model(t, doc)
	st := solve(t, m, 3450, Effects{})
	// Water stands 33.9 ft high at sea level; what is left is that less vapour, lift and loss.
	assert.InDelta(t, 33.9-1.2-st.Vacuum.InHg()*1.134, st.NPSHAvailable.Feet(), 0.3)
	assert.Greater(t, st.NPSHAvailable, st.NPSHRequired)
	doc.AltitudeFt, doc.PumpHeightFt = 7000, 8
	high := paths(t, model(t, doc), pad.Operation{Speed: 3450, Handles: pad.Handles{"skimmer": 0.25}}, 0)
	assert.NotNil(t, hazard(high, "cavitation"))
}

func TestFlowThreeWaysAgreeOnASoundPadAndPartOnABadOne(t *testing.T) {
	m := model(t, padtest.SandPad())
	st := solve(t, m, 2750, Effects{})
	sound := m.EstimateFlow(
		pad.Reading{Speed: 2750, Tank: &st.Tank, Vacuum: &st.Vacuum, Flow: &st.Flow, Power: &st.Power},
	)
	require.Len(t, sound.Ways, 3)
	for _, w := range sound.Ways {
		assert.InDelta(t, st.Flow.GPM(), w.Flow.GPM(), 0.5, w.Way)
	}
	assert.True(t, sound.Agree)
	off := st.Flow * 2
	bad := m.EstimateFlow(pad.Reading{Speed: 2750, Tank: &st.Tank, Vacuum: &st.Vacuum, Flow: &off, Power: &st.Power})
	assert.False(t, bad.Agree)
	assert.Equal(t, ByMeter, bad.Strays)
	assert.Empty(t, m.EstimateFlow(pad.Reading{Speed: 2750}).Ways)
}

func TestAnOddReadingIsNamedAndTheNextOneHelps(t *testing.T) {
	real, err := New(padtest.SandPad(), Parameters{1.2, 0.9, 1, 1, 1, 1, 1}, warm, units.PSI(8))
	require.NoError(t, err)
	var clean []pad.Reading
	for _, rpm := range []float64{1500, 2250, 3000, 3450} {
		st := solve(t, real, rpm, Effects{})
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
	sound, err := Calibrate(padtest.SandPad(), clean, warm, units.PSI(8))
	require.NoError(t, err)
	assert.Nil(t, sound.Fit.Odd)
	clean[2].Tank = ptr(*clean[2].Tank + units.PSI(3))
	m, err := Calibrate(padtest.SandPad(), clean, warm, units.PSI(8))
	require.NoError(t, err)
	require.NotNil(t, m.Fit.Odd)
	assert.Equal(t, pad.MeterTank, m.Fit.Odd.Meter)
	assert.InDelta(t, 3000, float64(m.Fit.Odd.Speed), 0)
	assert.InDelta(
		t,
		solve(t, real, 3000, Effects{}).Tank.PSI(),
		units.Pressure(m.Fit.Odd.Rest).PSI(),
		0.6,
		"what it should have been",
	)

	loose := model(t, padtest.SandPad())
	next, err := loose.NextReading()
	require.NoError(t, err)
	require.NotNil(t, next)
	assert.Less(t, next.After, next.Before*0.8, "it narrows what it names")
}

func TestInpRoundTrip(t *testing.T) {
	m := model(t, padtest.SpaPad())
	op := pad.Operation{Speed: 2400, Setting: pad.SetFilter, Handles: pad.Handles{"return-valve": 120}}
	var b bytes.Buffer
	require.NoError(t, m.WriteINP(&b, op, 0.4))
	for _, line := range strings.Split(b.String(), "\n") {
		assert.LessOrEqual(t, len(line), 1024, "EPANET's longest line")
	}
	back, err := ReadINP(bytes.NewReader(b.Bytes()))
	require.NoError(t, err)
	assert.Equal(t, m.Doc, back.Model.Doc)
	assert.Equal(t, op, back.Operation)
	a, c := paths(t, m, op, 0.4), paths(t, back.Model, back.Operation, back.Load)
	for i := range a.Reaches {
		assert.InDelta(t, float64(a.Reaches[i].Flow), float64(c.Reaches[i].Flow), 1e-9)
	}
	_, err = ReadINP(strings.NewReader(strings.Replace(b.String(), "\tOpen", "\tClosed", 1)))
	assert.ErrorContains(t, err, "no longer matches")
	_, err = ReadINP(strings.NewReader("[JUNCTIONS]\nn1 0 0\n"))
	assert.ErrorContains(t, err, "not written by Fair Lap")
	_, err = ReadINP(strings.NewReader(b.String()[:len(b.String())/3]))
	assert.Error(t, err)
}

func TestReadRefusesBadDocumentsWithAPath(t *testing.T) {
	good, err := json.Marshal(padtest.SpaPad())
	require.NoError(t, err)
	_, errs := pad.Read(bytes.NewReader(good))
	require.Empty(t, errs)
	for _, c := range []struct{ from, to, path, text string }{
		{`"boreIn":2.067`, `"boreIn":0`, "suction[0].boreIn", "between"},
		{`"boreIn":2.067`, `"boreIn":"two inches"`, "boreIn", "must be a number"},
		{`"boreIn":2.067`, `"boreInches":2`, "boreInches", "unknown field"},
		{`"id":"drain"`, `"id":"skimmer"`, "suction[1].id", "already names"},
		{`"on":"suction-valve:b"`, `"on":"suction-valve:c"`, "suction[2].on", "no valve port"},
		{`"on":"suction-valve:a"`, `"on":"skimmer-valve:a"`, "valves[1].on", "ring"},
		{`"on":"suction-valve:a"`, `"on":"return-valve:a"`, "valves[1].on", "return side"},
		{`"kind":"spa-drain"`, `"kind":"return"`, "suction[2].kind", "not on the suction side"},
		{`"ft":92`, `"ft":20`, "pump.curve", "rises"},
		{`"spa":{`, `"spa":null,"x":{`, "x", "unknown field"},
		{`{"pump"`, `{"pump`, "", "not JSON"},
	} {
		_, errs := pad.Read(strings.NewReader(strings.Replace(string(good), c.from, c.to, 1)))
		if assert.NotEmpty(t, errs, c.to) {
			found := false
			for _, e := range errs {
				found = found || strings.Contains(e.Path, c.path) && strings.Contains(say(e.Text), c.text)
			}
			assert.True(t, found, "%s: %v", c.to, errs)
		}
	}
	_, errs = pad.Read(strings.NewReader(strings.Repeat(" ", pad.LargestDocument+5)))
	assert.Contains(t, say(errs[0].Text), "1 MB")
	_, errs = pad.Read(strings.NewReader(string(good[:len(good)/2])))
	assert.NotEmpty(t, errs)
	_, errs = pad.Read(strings.NewReader(string(good) + "{}"))
	assert.Contains(t, say(errs[0].Text), "follows")
}

// Whatever a document says, it is refused with a path or it solves to finite
// numbers.
func FuzzReadAndSolve(f *testing.F) {
	for _, d := range []pad.Document{padtest.SandPad(), padtest.SpaPad()} {
		b, err := json.Marshal(d)
		require.NoError(f, err)
		f.Add(b, 2400.0, 0.5)
	}
	f.Add([]byte(`{"pump":`), 0.0, 0.0)
	f.Fuzz(func(t *testing.T, b []byte, rpm, load float64) {
		doc, errs := pad.Read(bytes.NewReader(b))
		if len(errs) > 0 || !(rpm >= 0 && rpm <= 4000) || !(load > -2 && load < 50) {
			return
		}
		m, err := New(doc, Nominal(), warm, units.PSI(8))
		if err != nil {
			return
		}
		for _, set := range doc.Settings() {
			p, err := m.Paths(pad.Operation{Speed: units.Speed(rpm), Setting: set}, load)
			if err != nil {
				continue
			}
			for _, r := range p.Reaches {
				if math.IsNaN(float64(r.Flow)) || math.IsInf(float64(r.Flow), 0) {
					t.Fatalf("%s: %v", r.ID, r.Flow)
				}
			}
		}
	})
}

func FuzzReadINP(f *testing.F) {
	m := model(f, padtest.SpaPad())
	var b bytes.Buffer
	require.NoError(f, m.WriteINP(&b, pad.Operation{Speed: 2400}, 0))
	f.Add(b.String())
	f.Add(inpMark + `"{}"`)
	f.Fuzz(func(_ *testing.T, s string) { _, _ = ReadINP(strings.NewReader(s)) })
}

func BenchmarkSolveSpaPad(b *testing.B) {
	s := model(b, padtest.SpaPad()).Solver()
	op := pad.Operation{Speed: 2400, Handles: pad.Handles{"return-valve": 120}}
	b.ReportAllocs()
	for b.Loop() {
		if _, err := s.Solve(op, Effects{Load: 0.5}); err != nil {
			b.Fatal(err)
		}
	}
}
