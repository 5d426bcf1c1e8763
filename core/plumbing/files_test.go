package plumbing

import (
	"bytes"
	"encoding/json"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/pad"
	"fairlap/core/pad/padtest"
	"fairlap/core/units"
)

func TestTheSchemaTakesWhatValidateTakes(t *testing.T) {
	c := jsonschema.NewCompiler()
	b, err := json.Marshal(pad.Schema(pad.Document{}, "A pool's pad"))
	require.NoError(t, err)
	tree, err := jsonschema.UnmarshalJSON(bytes.NewReader(b))
	require.NoError(t, err)
	require.NoError(t, c.AddResource("pad.json", tree))
	schema, err := c.Compile("pad.json")
	require.NoError(t, err)
	check := func(d pad.Document) error {
		b, err := json.Marshal(d)
		require.NoError(t, err)
		v, err := jsonschema.UnmarshalJSON(bytes.NewReader(b))
		require.NoError(t, err)
		return schema.Validate(v)
	}
	assert.NoError(t, check(padtest.SandPad()))
	assert.NoError(t, check(padtest.SpaPad()))
	for name, spoil := range map[string]func(*pad.Document){
		"zero bore":          func(d *pad.Document) { d.Suction[0].BoreIn = 0 },
		"unknown kind":       func(d *pad.Document) { d.Filter.Kind = "charcoal" },
		"no return":          func(d *pad.Document) { d.Returns = nil },
		"a name in capitals": func(d *pad.Document) { d.Returns[0].ID = "Return 1" },
	} {
		d := padtest.SpaPad()
		spoil(&d)
		assert.Error(t, check(d), name)
		assert.NotEmpty(t, d.Validate(), name)
	}
}

func TestDiffNamesWhatChanged(t *testing.T) {
	was, is := padtest.SpaPad(), padtest.SpaPad()
	assert.Empty(t, pad.Diff(was, is))
	is.Filter.Model, is.Heater.LeastGPM = "Stanchion S30", 40
	is.Cell = nil
	is.Suction = append(
		[]pad.Line{
			{
				ID:   "port",
				Name: "Vacuum port",
				Kind: pad.VacuumPort,
				Run:  pad.Run{BoreIn: 1.61, LengthFt: 20, FittingsK: 1},
			},
		},
		is.Suction...)
	is.Returns = is.Returns[:3]
	assert.Equal(t, []pad.Change{
		{Path: "filter.model", Was: "Stanchion S24", Is: "Stanchion S30"},
		{Path: "suction port", Was: "", Is: "Vacuum port"},
		{Path: "heater.leastGpm", Was: "30", Is: "40"},
		{Path: "cell", Was: "Halide 40", Is: ""},
		{Path: "returns jets", Was: "Spa jets", Is: ""},
	}, pad.Diff(was, is))
}

func TestSpeedWalkRoundTrip(t *testing.T) {
	text := "rpm,tank_psi,vacuum_inhg,flow_gpm,power_w\n1500,4,1.5,,131\n3450,17.5,,84.5,1310\n"
	walk, errs := pad.ReadWalk(strings.NewReader(text))
	require.Empty(t, errs)
	assert.InDelta(t, 4, walk[0].Tank.PSI(), 1e-9)
	assert.Nil(t, walk[0].Flow)
	var b bytes.Buffer
	require.NoError(t, pad.WriteWalk(&b, walk))
	assert.Equal(t, text, b.String())
	walk, errs = pad.ReadWalk(strings.NewReader("RPM, tank_psi\n2400, 1.1 bar\n"))
	require.Empty(t, errs)
	assert.InDelta(t, 15.95, walk[0].Tank.PSI(), 0.01)
	for _, c := range []struct{ text, path, message string }{
		{"", "", "empty"}, {"rpm\n", "", "no rows"}, {"rpm,colour\n", "line 1", "no column"},
		{"rpm,tank_psi\n,4\n", "line 2, rpm", "useless"},
		{"rpm,tank_psi\n2400,400\n", "line 2, tank_psi", "not believable"},
		{"rpm,tank_psi\n2400\n", "line 2", "wrong number of fields"},
		{"rpm\n" + strings.Repeat("2400\n", pad.LongestWalk+1), "line", "rows at most"},
	} {
		_, errs := pad.ReadWalk(strings.NewReader(c.text))
		if assert.NotEmpty(t, errs, c.text) {
			assert.Contains(t, errs[0].Path, c.path)
			assert.Contains(t, say(errs[0].Text), c.message)
		}
	}
}

func FuzzReadWalk(f *testing.F) {
	f.Add("rpm,tank_psi\n2400,14\n")
	f.Fuzz(func(t *testing.T, s string) {
		walk, errs := pad.ReadWalk(strings.NewReader(s))
		if len(errs) == 0 && len(walk) == 0 {
			t.Fatal("neither readings nor a sentence")
		}
	})
}

func TestASketchIsEnoughToStart(t *testing.T) {
	base := padtest.SandPad()
	for _, k := range []pad.Sketch{{Pump: base.Pump, Filter: base.Filter, PipeIn: 2, LengthFt: 40},
		{Pump: base.Pump, Filter: base.Filter, PipeIn: 1.5, LengthFt: 70, Spa: true, HasVacuum: true,
			Heater: &pad.Device{Model: "Ember 250", DropPsi: 2.4, AtGPM: 60, LeastGPM: 30},
			Cell:   &pad.Device{Model: "Halide 40", DropPsi: 1.2, AtGPM: 60, LeastGPM: 25}}} {
		d := k.Document()
		require.Empty(t, d.Validate())
		st := solve(t, model(t, d), 2400, Effects{})
		assert.Greater(t, st.Flow.GPM(), 15.0)
	}
	wide, err := model(
		t,
		pad.Sketch{Pump: base.Pump, Filter: base.Filter, PipeIn: 2, LengthFt: 40}.Document(),
	).Spread(pad.Operation{Speed: 3450}, 0)
	require.NoError(t, err)
	assert.Greater(t, units.Pressure(wide[0]).PSI(), 1.5, "a sketch does not know its gauge to the pound")
}
