package amounts

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/catalogue"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/procedure"
	"fairlap/core/units"
	"fairlap/core/words"
)

// Amounts of common practice (handbook).
func TestWorkedAmounts(t *testing.T) {
	assert.InDelta(t, 4.8, DECharge(48, false), 1e-9, "48 ft² of grid: about 4.8 lb (common practice)")
	assert.InDelta(t, 3.84, DECharge(48, true), 1e-9, "after a backwash four fifths (common practice)")
	// 15 parts of water to one of acid, in whole measures of both (common practice).
	for _, c := range []struct {
		gallons     float64
		metric      bool
		water, acid string
	}{{16, false, "15 US gal", "1 US gal"}, {15, true, "60 L", "4 L"}, {5, false, "30 qt", "2 qt"},
		{30, true, "120 L", "8 L"}} {
		water, acid := Bath(c.gallons)
		read := words.Plain
		if c.metric {
			read.Units = units.Metric
		}
		assert.Equal(t, c.water, read.Say(words.Of("words.list", "list", water)))
		assert.Equal(t, c.acid, read.Say(words.Of("words.list", "list", acid)))
	}
	assert.Equal(t, 30.0, bathGallons(&pad.Filter{Kind: pad.DE, AreaFt2: 48}), "grids of 48 ft² lie in some 30 gal")
	assert.Equal(
		t,
		15.0,
		bathGallons(&pad.Filter{Kind: pad.Cartridge, AreaFt2: 420}),
		"four elements of 105 ft²: one at a time",
	)
	assert.Equal(t, 300.0, SandPounds(3.1), "a two-foot tank holds about 300 lb (common practice)")
	// 18,000 gal, five feet deep: 300 gal an inch, six minutes at 50 gpm.
	assert.InDelta(t, 6, InchMinutes(18000, units.GPM(50)), 1e-9)
	assert.True(t, math.IsInf(InchMinutes(18000, 0), 1))
}

func sandPad(t *testing.T) *plumbing.Model {
	d := pad.Document{Pump: *catalogue.Find("Brisk 150 VS").Pump, Filter: *catalogue.Find("Stanchion S24").Filter,
		Suction: []pad.Line{
			{
				ID:      "skimmer",
				Name:    "Skimmer",
				Kind:    pad.Skimmer,
				Run:     pad.Run{BoreIn: 2.067, LengthFt: 40, FittingsK: 3},
				Opening: 1,
			},
			{
				ID:        "drain",
				Name:      "Main drain",
				Kind:      pad.Drain,
				Run:       pad.Run{BoreIn: 2.067, LengthFt: 50, FittingsK: 3},
				Opening:   0.5,
				RatingGPM: 90,
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
				Name:      "Return",
				Kind:      pad.Return,
				Run:       pad.Run{BoreIn: 1.61, LengthFt: 20, FittingsK: 2},
				Opening:   1,
				EyeballIn: 0.9,
			},
		},
		VacuumTap: pad.TapPot, GaugeHeightFt: 3, PumpHeightFt: 1, Meters: pad.UsualMeters()}
	m, err := plumbing.New(d, plumbing.Nominal(), units.Fahrenheit(80), units.PSI(8))
	require.NoError(t, err)
	return m
}

func TestFiguresAreSolvedForThePad(t *testing.T) {
	m := sandPad(t)
	known, err := Measure(&Known{Model: m, PoolGallons: 18000, Speed: 2400, HoldHours: 24})
	require.NoError(t, err)
	f := known.Figures
	// The working speed lifts the bed by a quarter, no more than a step of 50 rpm over:
	// at full speed this pad would lift it by more than half and lose sand.
	wash, err := m.WorkingBackwash()
	require.NoError(t, err)
	assert.InDelta(t, wash.Flow.GPM(), known.Waste[procedure.CountBackwash], 1e-9)
	assert.InDelta(t, 0.26, wash.Rise, 0.03)
	assert.Equal(t, rpm(wash.Speed), f["backSpeed"])
	assert.Less(t, wash.Speed, m.TopSpeed())
	st, err := m.Solver().Solve(pad.Operation{Speed: m.TopSpeed(), Setting: pad.SetBackwash}, plumbing.Effects{})
	require.NoError(t, err)
	assert.Greater(t, m.BedRise(st.ToWaste), plumbing.SandLoss)
	assert.NotContains(t, f, "backwashNote")
	for _, name := range []string{"wasteGpm", "expansion", "drainShare", "backwashGal", "inchMinutes", "expectPsi",
		"speed", "walkTop", "walk1", "walk2", "walk3", "wasteSpeed", "wastePathGpm", "rinseSpeed", "drainSpeed",
		"vacuumSpeed", "coverFlow", "holdHours", "bathWater", "bathAcid"} {
		assert.NotEmpty(t, f[name], name)
	}
	assert.Equal(t, 90.0, f["coverRating"].Value())
	cold := sandPad(t)
	cold.Water = sandPad(t).Water
	colder, err := plumbing.New(m.Doc, plumbing.Nominal(), units.Fahrenheit(50), units.PSI(8))
	require.NoError(t, err)
	assert.Greater(
		t,
		colder.BedRise(st.ToWaste),
		m.BedRise(st.ToWaste),
		"cold water is thicker and lifts the bed higher",
	)
}

// A drain that stands shut every day stays so when the pool is closed, and a spa's line is
// none of the pool's: both ran into a step that no hand may do, or named a line that the
// level never passes.
func TestLinesOfDailyUseAreThePools(t *testing.T) {
	m := sandPad(t)
	d := m.Doc
	d.Suction = append([]pad.Line{}, d.Suction...)
	measured := func() *procedure.Setup {
		m, err := plumbing.New(d, plumbing.Nominal(), units.Fahrenheit(80), units.PSI(8))
		require.NoError(t, err)
		s, err := Measure(&Known{Model: m, PoolGallons: 18000})
		require.NoError(t, err)
		for _, p := range procedure.For(s) {
			_, err := p.Write(s)
			require.NoError(t, err, p.ID)
		}
		return s
	}
	d.Waste = &pad.WasteLine{Run: pad.Run{BoreIn: 2.067, LengthFt: 30, FittingsK: 3}}
	require.Positive(t, measured().DrainInchSeconds, "open and rated: it lowers the pool")
	d.Suction[1].Opening = 0
	s := measured()
	assert.Zero(t, s.DrainInchSeconds)
	c, err := procedure.Find(procedure.SeasonClose).Write(s)
	require.NoError(t, err)
	assert.True(t, slices.ContainsFunc(c.Steps, func(s procedure.ScriptStep) bool { return s.ID == "submersible" }))
	spa := pad.Sketch{Pump: d.Pump, Filter: d.Filter, PipeIn: 2, LengthFt: 40, Spa: true}.Document()
	r := procedure.RigOf(&spa)
	for i, l := range spa.Suction {
		assert.Equal(t, l.Kind != pad.SpaDrain, r.Usual.Has(i), l.Name)
	}
	assert.True(t, r.Spa)
}
