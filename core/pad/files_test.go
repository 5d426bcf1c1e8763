package pad

import (
	"bytes"
	"encoding/json"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/units"
)

func TestTheSchemaTakesWhatValidateTakes(t *testing.T) {
	c := jsonschema.NewCompiler()
	b, err := json.Marshal(Schema(Document{}, "A pool's pad"))
	require.NoError(t, err)
	tree, err := jsonschema.UnmarshalJSON(bytes.NewReader(b))
	require.NoError(t, err)
	require.NoError(t, c.AddResource("pad.json", tree))
	schema, err := c.Compile("pad.json")
	require.NoError(t, err)
	check := func(d Document) error {
		b, err := json.Marshal(d)
		require.NoError(t, err)
		v, err := jsonschema.UnmarshalJSON(bytes.NewReader(b))
		require.NoError(t, err)
		return schema.Validate(v)
	}
	assert.NoError(t, check(sandPad()))
	assert.NoError(t, check(spaPad()))
	for name, spoil := range map[string]func(*Document){
		"zero bore":          func(d *Document) { d.Suction[0].BoreIn = 0 },
		"unknown kind":       func(d *Document) { d.Filter.Kind = "charcoal" },
		"no return":          func(d *Document) { d.Returns = nil },
		"a name in capitals": func(d *Document) { d.Returns[0].ID = "Return 1" },
	} {
		d := spaPad()
		spoil(&d)
		assert.Error(t, check(d), name)
		assert.NotEmpty(t, d.Validate(), name)
	}
}

func TestDiffNamesWhatChanged(t *testing.T) {
	was, is := spaPad(), spaPad()
	assert.Empty(t, Diff(was, is))
	is.Filter.Model, is.Heater.LeastGPM = "Stanchion S30", 40
	is.Cell = nil
	is.Suction = append([]Line{{ID: "port", Name: "Vacuum port", Kind: VacuumPort, Run: Run{1.61, 20, 1}}}, is.Suction...)
	is.Returns = is.Returns[:3]
	assert.Equal(t, []Change{
		{"filter.model", "Stanchion S24", "Stanchion S30"},
		{"suction port", "", "Vacuum port"},
		{"heater.leastGpm", "30", "40"},
		{"cell", "Halide 40", ""},
		{"returns jets", "Spa jets", ""},
	}, Diff(was, is))
}

func TestSpeedWalkRoundTrip(t *testing.T) {
	text := "rpm,tank_psi,vacuum_inhg,flow_gpm,power_w\n1500,4,1.5,,131\n3450,17.5,,84.5,1310\n"
	walk, errs := ReadWalk(strings.NewReader(text))
	require.Empty(t, errs)
	assert.InDelta(t, 4, walk[0].Tank.PSI(), 1e-9)
	assert.Nil(t, walk[0].Flow)
	var b bytes.Buffer
	require.NoError(t, WriteWalk(&b, walk))
	assert.Equal(t, text, b.String())
	walk, errs = ReadWalk(strings.NewReader("RPM, tank_psi\n2400, 1.1 bar\n"))
	require.Empty(t, errs)
	assert.InDelta(t, 15.95, walk[0].Tank.PSI(), 0.01)
	for _, c := range []struct{ text, path, message string }{
		{"", "", "empty"}, {"rpm\n", "", "no rows"}, {"rpm,colour\n", "line 1", "no column"}, {"rpm,tank_psi\n,4\n", "line 2, rpm", "useless"},
		{"rpm,tank_psi\n2400,400\n", "line 2, tank_psi", "not believable"}, {"rpm,tank_psi\n2400\n", "line 2", "wrong number of fields"},
		{"rpm\n" + strings.Repeat("2400\n", longestWalk+1), "line", "rows at most"},
	} {
		_, errs := ReadWalk(strings.NewReader(c.text))
		if assert.NotEmpty(t, errs, c.text) {
			assert.Contains(t, errs[0].Path, c.path)
			assert.Contains(t, say(errs[0].Text), c.message)
		}
	}
}

func FuzzReadWalk(f *testing.F) {
	f.Add("rpm,tank_psi\n2400,14\n")
	f.Fuzz(func(t *testing.T, s string) {
		walk, errs := ReadWalk(strings.NewReader(s))
		if len(errs) == 0 && len(walk) == 0 {
			t.Fatal("neither readings nor a sentence")
		}
	})
}

func TestASketchIsEnoughToStart(t *testing.T) {
	base := sandPad()
	for _, k := range []Sketch{{Pump: base.Pump, Filter: base.Filter, PipeIn: 2, LengthFt: 40},
		{Pump: base.Pump, Filter: base.Filter, PipeIn: 1.5, LengthFt: 70, Spa: true, HasVacuum: true, Heater: &Device{"Ember 250", 2.4, 60, 30}, Cell: &Device{"Halide 40", 1.2, 60, 25}}} {
		d := k.Document()
		require.Empty(t, d.Validate())
		st := solve(t, model(t, d), 2400, Effects{})
		assert.Greater(t, st.Flow.GPM(), 15.0)
	}
	wide, err := model(t, Sketch{Pump: base.Pump, Filter: base.Filter, PipeIn: 2, LengthFt: 40}.Document()).Spread(Operation{Speed: 3450}, 0)
	require.NoError(t, err)
	assert.Greater(t, units.Pressure(wide[0]).PSI(), 1.5, "a sketch does not know its gauge to the pound")
}
