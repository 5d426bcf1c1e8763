package judge

import (
	"encoding/json"
	"errors"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/figure"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/words"
)

func testPad(t testing.TB, change func(*pad.Document)) *plumbing.Model {
	run := pad.Run{BoreIn: 2.067, LengthFt: 40, FittingsK: 4}
	d := pad.Document{
		Pump: pad.Pump{
			Kind:     pad.VariableSpeed,
			TopRPM:   3450,
			LeastRPM: 600,
			Curve:    []pad.CurveFt{{GPM: 0, Ft: 80}, {GPM: 60, Ft: 65}, {GPM: 110, Ft: 30}},
			IdleW:    15,
			BaseW:    550,
			PerGpmW:  8,
		},
		Filter: pad.Filter{Kind: pad.Sand, AreaFt2: 3.1, Valve: pad.Multiport, AtGPM: 60, MediaPsi: 2.5, VesselPsi: 3},
		Suction: []pad.Line{
			{ID: "s", Name: "Skimmer", Kind: pad.Skimmer, Run: run, Opening: 1},
		}, SuctionTrunk: run, Discharge: run, ReturnTrunk: run,
		Returns: []pad.Line{
			{ID: "r", Name: "Return", Kind: pad.Return, Run: run, Opening: 1, EyeballIn: 1},
		}, VacuumTap: pad.TapPot, Meters: pad.UsualMeters(),
	}
	if change != nil {
		change(&d)
	}
	m, err := plumbing.Calibrate(d, nil, usualWater, units.PSI(8))
	require.NoError(t, err)
	return m
}

func says(err error, field string) string {
	var fs figure.FieldErrors
	if errors.As(err, &fs) {
		for _, f := range fs {
			if f.Field == field {
				return words.Plain.Say(f.Text)
			}
		}
	}
	return ""
}

func TestFindingsNameEveryMistakeAtOnce(t *testing.T) {
	m := testPad(t, nil)
	_, err := Findings{
		Readings: []TypedReading{
			{Speed: "2400", Tank: "14"},
			{Speed: "fast", Tank: "1 mile", Vacuum: "-1", Flow: "900", Power: "x"},
		},
		Signs: map[string]bool{"nonsense": true},
	}.Parse(
		m,
	)
	for _, f := range []string{"readings[1].speed", "readings[1].tank", "readings[1].vacuum", "readings[1].flow", "readings[1].power", "signs.nonsense"} {
		assert.NotEmpty(t, says(err, f), f)
	}
	assert.Empty(t, says(err, "readings[0].tank"))
}

func TestEmptyRowsAreNoReadings(t *testing.T) {
	rs, err := Findings{Readings: []TypedReading{{}, {Speed: "2400"}, {Speed: " ", Tank: "  "}}}.Parse(testPad(t, nil))
	require.NoError(t, err)
	assert.Empty(t, rs, "a speed alone is not a reading yet")
}

func TestASingleSpeedPumpNeedsNoSpeed(t *testing.T) {
	m := testPad(t, func(d *pad.Document) { d.Pump.Kind = pad.SingleSpeed })
	rs, err := Findings{Readings: []TypedReading{{Tank: "14"}}}.Parse(m)
	require.NoError(t, err)
	assert.Equal(t, 3450.0, rs[0].RPM)
}

func TestRecirculateNeedsAMultiport(t *testing.T) {
	r := Findings{Readings: []TypedReading{{Speed: "2400", Tank: "9", Setting: "recirculate"}}}
	rs, err := r.Parse(testPad(t, nil))
	require.NoError(t, err)
	assert.Equal(t, string(pad.SetRecirculate), rs[0].Setting)
	_, err = r.Parse(testPad(t, func(d *pad.Document) { d.Filter.Kind, d.Filter.Valve = pad.Cartridge, pad.NoValve }))
	assert.Contains(t, says(err, "readings[0].setting"), "no recirculate")
}

func TestPadsThatCannotBeComputedAreSaidSo(t *testing.T) {
	d := testPad(t, nil).Doc
	d.Suction = nil
	_, err := plumbing.Calibrate(d, nil, usualWater, units.PSI(8))
	assert.ErrorIs(t, Unsolved(err), ErrUnsolved)
	assert.ErrorContains(t, Unsolved(err), "suction")
	assert.NotErrorIs(t, Unsolved(errors.New("other")), ErrUnsolved)
}

// Whatever arrives, findings either read as finite numbers or name a field.
func FuzzFindings(f *testing.F) {
	f.Add(
		`{"readings":[{"speed":"2,400","tank":"14 psi","vacuum":"1,5","flow":"31","power":"320 W"}],"signs":{"air-in-pot":true}}`,
	)
	f.Add(`{"readings":[{"speed":"1e9","tank":"NaN"}],"signs":{"x":false}}`)
	f.Add(`{"readings":[{"setting":"recirculate","speed":"−5"}]}`)
	m := testPad(f, nil)
	f.Fuzz(func(t *testing.T, s string) {
		var in Findings
		if json.Unmarshal([]byte(s), &in) != nil || len(in.Readings) > 6 {
			return
		}
		rs, err := in.Parse(m)
		if err != nil {
			var fs figure.FieldErrors
			if !errors.As(err, &fs) || len(fs) == 0 || fs[0].Field == "" || fs[0].Text == "" {
				t.Fatalf("an error without a field: %v", err)
			}
			return
		}
		for _, r := range rs {
			for _, meter := range pad.AllMeters {
				if v, ok := r.Meters().Value(meter); ok && (math.IsNaN(v) || math.IsInf(v, 0)) {
					t.Fatalf("%s is %v", meter, v)
				}
			}
		}
	})
}
