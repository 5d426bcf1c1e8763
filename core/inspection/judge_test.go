package inspection

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/catalogue"
	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/words"
)

func installation(t testing.TB, filter string, change func(*pad.Document)) *Installation {
	d := pad.Sketch{
		Pump:     *catalogue.Find("Brisk 150 VS").Pump,
		Filter:   *catalogue.Find(filter).Filter,
		PipeIn:   2,
		LengthFt: 40,
		Cell:     catalogue.Find("Halide 40").Cell,
		Heater:   catalogue.Find("Ember 250").Heater,
	}.Document()
	if change != nil {
		change(&d)
	}
	m, err := plumbing.New(
		d,
		plumbing.Parameters{Suction: 1, Return: 1, Media: 1, Head: 1, Idle: 1, Base: 1, PerFlow: 1},
		units.Fahrenheit(80),
		units.PSI(8),
	)
	require.NoError(t, err)
	return &Installation{Model: m, Pool: units.Gallons(18000), Facts: Facts{Year: 2026}}
}

func found(t testing.TB, in *Installation, a Answers) map[ItemID]Finding {
	fs, err := Judge(in, a)
	require.NoError(t, err)
	out := map[ItemID]Finding{}
	for _, f := range fs {
		out[f.Item] = f
		assert.NotEmpty(t, f.Text)
		assert.NotEmpty(t, f.Who)
		assert.NotEmpty(t, f.Source)
	}
	return out
}

func value(v float64) Answer { return Answer{Value: &v} }
func no() Answer             { f := false; return Answer{Yes: &f} }
func yes() Answer            { f := true; return Answer{Yes: &f} }

// Ten diameters of 2-in pipe are 20 in, four are 8: 28 in for a flow switch (common
// practice; four before the pump by the California Energy Code, from memory).
func TestStraightRuns(t *testing.T) {
	in := installation(t, "Stanchion S24", nil)
	assert.NotContains(t, found(t, in, Answers{"straight-run": value(20)}), ItemID("straight-run"))
	short := found(t, in, Answers{"straight-run": value(14)})["straight-run"]
	assert.Contains(t, say(short.Text), "6.0 in short of ten diameters of 2-in pipe")
	assert.Equal(t, Note, short.Severity)
	assert.Equal(t, Act, found(t, in, Answers{"straight-run": value(5)})["straight-run"].Severity, "short of four too")
	in.Schools.CodeRun = true
	assert.NotContains(t, found(t, in, Answers{"straight-run": value(8)}), ItemID("straight-run"), "the other school")
	assert.Contains(
		t,
		say(found(t, in, Answers{"straight-run": value(7)})["straight-run"].Text),
		"1.0 in short of the four diameters",
	)
	fs := found(t, in, Answers{"switch-before": value(20), "switch-after": value(8)})
	assert.NotContains(t, fs, ItemID("switch-before"))
	assert.NotContains(t, fs, ItemID("switch-after"))
	fs = found(t, in, Answers{"switch-before": value(19), "switch-after": value(7)})
	assert.Contains(t, say(fs["switch-before"].Text), "1.0 in short of ten diameters (20 in)")
	assert.Contains(t, say(fs["switch-after"].Text), "1.0 in short of four diameters (8 in)")
}

func TestDangersStopThePump(t *testing.T) {
	in := installation(t, "Stanchion S24", nil)
	fs := found(
		t,
		in,
		Answers{"drain-covers": no(), "drain-year": value(2024), "gauge-dirty": value(54), "drain-rating": value(20)},
	)
	for _, id := range []ItemID{"drain-covers", "drain-year", "gauge-dirty", "cover-flow"} {
		assert.Equal(t, Stop, fs[id].Severity, "%s: %s", id, say(fs[id].Text))
	}
	assert.Equal(t, Act, found(t, in, Answers{"gauge-dirty": value(34)})["gauge-dirty"].Severity)
	assert.Equal(
		t,
		Stop,
		found(t, in, Answers{"gauge-dirty": value(34), "label": value(30)})["gauge-dirty"].Severity,
		"the label rules",
	)
}

func TestTheGaugeAtRestIsHeldAgainstTheWaterAboveIt(t *testing.T) {
	in := installation(t, "Stanchion S24", nil)
	assert.NotContains(t, found(t, in, Answers{"gauge-rest": value(0.5)}), ItemID("gauge-rest"))
	assert.Contains(t, found(t, in, Answers{"gauge-rest": value(6)}), ItemID("gauge-rest"))
	below := installation(t, "Stanchion S24", func(d *pad.Document) { d.GaugeHeightFt = -10 })
	assert.NotContains(
		t,
		found(t, below, Answers{"gauge-rest": value(4.3)}),
		ItemID("gauge-rest"),
		"ten feet of water are 4.33 psi",
	)
	assert.Contains(t, found(t, below, Answers{"gauge-rest": value(0)}), ItemID("gauge-rest"))
}

func TestWhatThePadItselfSays(t *testing.T) {
	fast := func(d *pad.Document) { d.Programme = []pad.Slot{{StartHour: 8, Hours: 8, RPM: 3450}} }
	assert.Contains(t, found(t, installation(t, "Stanchion S20", fast), nil), ItemID("media-rate"))
	slow := func(d *pad.Document) { d.Programme = []pad.Slot{{StartHour: 8, Hours: 8, RPM: 1300}} }
	fs := found(t, installation(t, "Stanchion S30", slow), nil)
	assert.NotContains(t, fs, ItemID("media-rate"))
	assert.Contains(t, fs, ItemID("heater-flow"), "its least flow is not met at 1,300 rpm")
	// A pump that fits its sand lifts it; the same under a 42-in tank does not.
	weak := func(d *pad.Document) { d.Filter.AreaFt2 = 9.62 }
	assert.NotContains(t, found(t, installation(t, "Stanchion S20", nil), nil), ItemID("backwash-lift"))
	assert.Contains(
		t,
		say(found(t, installation(t, "Stanchion S30", weak), nil)["backwash-lift"].Text),
		"too little to clean it",
	)
	// 1½-in pipe at full speed runs over the 8 ft/s of good practice.
	narrow := func(d *pad.Document) {
		fast(d)
		d.SuctionTrunk.BoreIn = pad.Bores[1.5]
	}
	assert.Contains(t, found(t, installation(t, "Stanchion S30", narrow), nil), ItemID("velocity"))
	in := installation(t, "Pleat 320", nil)
	in.Old = []words.Message{"Cartridge, 2.4 of 2 years"}
	assert.Contains(t, say(found(t, in, nil)["part-age"].Text), "Cartridge, 2.4 of 2 years")
}

// A high-head pump on short, wide pipe runs far out on its curve; throttled by a long
// narrow line it does not.
func TestAPumpTooMuchForItsPad(t *testing.T) {
	bare := func(d *pad.Document) { d.Heater, d.Cell, d.Filter = nil, nil, *catalogue.Find("Pleat 420").Filter }
	wide := installation(t, "Pleat 420", func(d *pad.Document) {
		bare(d)
		for i := range d.Returns {
			d.Returns[i].EyeballIn = 2
		}
	})
	best := wide.Model.BestFlow().GPM()
	assert.True(t, best > 55 && best < 80, "%g gpm", best)
	assert.Contains(t, say(found(t, wide, nil)["pump-match"].Text), "high-head pump")
	narrow := installation(t, "Stanchion S20", func(d *pad.Document) {
		d.ReturnTrunk.BoreIn = pad.Bores[1.5]
		d.SuctionTrunk.BoreIn = pad.Bores[1.5]
	})
	assert.NotContains(t, found(t, narrow, nil), ItemID("pump-match"))
}

// What stands wrong for good speaks for the diagnosis's chronic finding.
func TestFindingsSpeakForTheDiagnosis(t *testing.T) {
	in := installation(t, "Stanchion S24", nil)
	fs, err := Judge(in, Answers{"switch-arrow": no(), "switch-after": value(2), "rcd": no()})
	require.NoError(t, err)
	text := Speaks(fs)
	assert.Len(t, text, 1)
	assert.Contains(
		t,
		say(text[fault.CellNoFlow]),
		"2.0 in of clear run after the flow switch",
		"in the order of the walk",
	)
}

func TestTheAnodesYear(t *testing.T) {
	in := installation(t, "Stanchion S24", nil)
	assert.NotContains(
		t,
		found(t, in, Answers{"anode-year": value(2020)}),
		ItemID("anode-year"),
		"nobody says how long it lasts",
	)
	in.Anode = 2.5
	assert.NotContains(t, found(t, in, Answers{"anode-year": value(2024)}), ItemID("anode-year"))
	assert.Contains(
		t,
		say(found(t, in, Answers{"anode-year": value(2023)})["anode-year"].Text),
		"from 2023 and lasts 2.5 years",
	)
	assert.Contains(t, say(found(t, in, Answers{"anode-year": value(2031)})["anode-year"].Text), "in the future")
	in.AnodeOf = 2025
	assert.Contains(t, say(found(t, in, Answers{"anode-year": value(2019)})["anode-year"].Text), "One of them is wrong")
	assert.NotContains(t, found(t, in, Answers{"anode-year": value(2025)}), ItemID("anode-year"))
	in.Schools.CellClear = true
	for _, i := range On(&in.Model.Doc, in.Schools) {
		if i.ID == "switch-before" {
			assert.Contains(t, say(i.Look), "counted as clear run")
		}
	}
}

func TestEveryItemIsAnsweredAndJudged(t *testing.T) {
	in := installation(t, "Stanchion S24", func(d *pad.Document) { d.HeaterBypass = &pad.Bypass{BoreIn: 2.067} })
	good, bad := Answers{}, Answers{}
	for _, i := range On(&in.Model.Doc, in.Schools) {
		assert.NotEmpty(t, i.Look, i.ID)
		assert.NotEmpty(t, i.Who, i.ID)
		if i.Kind == YesNo {
			assert.NotEmpty(t, i.Finding, i.ID)
			good[i.ID], bad[i.ID] = yes(), no()
		}
	}
	for id := range found(t, in, good) {
		assert.Equal(t, Computed, lookUp(id).Kind, "%s: all is as it should be", id)
	}
	fs := found(t, in, bad)
	for id := range bad {
		assert.Contains(t, fs, id)
	}
	assert.NotEmpty(t, Wrong(Answers{"straight-run": value(900), "hearsay": yes(), "bonding": value(3)}))
	assert.Empty(t, Wrong(good))
}

func TestAnInspectionMovesIntoThePad(t *testing.T) {
	in := installation(t, "Stanchion S24", nil)
	d := Into(in.Model.Doc, Answers{"straight-run": value(14), "label": value(50), "drain-rating": value(120)})
	assert.Equal(t, 14.0, d.StraightIn)
	assert.Equal(t, 50.0, d.Filter.LabelPsi)
	assert.Equal(t, 120.0, d.Suction[1].RatingGPM)
	assert.Zero(t, in.Model.Doc.Suction[1].RatingGPM, "the pad before is as it was")
	assert.Empty(t, d.Validate())
}

func TestMorePipeIsNeverWorse(t *testing.T) {
	in := installation(t, "Stanchion S24", nil)
	rapid.Check(t, func(t *rapid.T) {
		v := rapid.Float64Range(0, 40).Draw(t, "in")
		less, more := found2(t, in, v), found2(t, in, v+rapid.Float64Range(0, 20).Draw(t, "more"))
		assert.LessOrEqual(t, more, less)
	})
}

func found2(t *rapid.T, in *Installation, v float64) int {
	fs, err := Judge(in, Answers{"straight-run": value(v), "switch-before": value(v), "switch-after": value(v)})
	require.NoError(t, err)
	return len(fs)
}
