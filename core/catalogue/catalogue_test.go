package catalogue

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
)

func TestEveryPumpSolvesWithEveryFilter(t *testing.T) {
	items := BuiltIn()
	for _, p := range items {
		for _, f := range items {
			if p.Pump == nil || f.Filter == nil {
				continue
			}
			doc := pad.Sketch{
				Pump:     *p.Pump,
				Filter:   *f.Filter,
				PipeIn:   2,
				LengthFt: 45,
				Spa:      p.Model == "Brisk 270 VS",
			}.Document()
			require.Empty(t, doc.Validate(), "%s with %s", p.Model, f.Model)
			m, err := plumbing.Calibrate(doc, nil, units.Fahrenheit(80), units.PSI(8))
			require.NoError(t, err)
			st, err := m.Solver().Solve(pad.Operation{Speed: m.TopSpeed()}, plumbing.Effects{})
			require.NoError(t, err)
			assert.Greater(t, st.Flow.GPM(), 15.0, "%s with %s", p.Model, f.Model)
			wide, err := m.Spread(pad.Operation{Speed: m.TopSpeed()}, 0)
			require.NoError(t, err)
			assert.Greater(t, wide[2]/float64(st.Flow), 0.03, "a bare sketch is not sure of its flow")
		}
	}
}

func TestCatalogueRoundTrip(t *testing.T) {
	var b bytes.Buffer
	require.NoError(t, Write(&b, BuiltIn()))
	back, errs := Read(bytes.NewReader(b.Bytes()))
	require.Empty(t, errs)
	assert.Equal(t, BuiltIn(), back)
}

func TestReadSaysWhatIsWrongByLineAndColumn(t *testing.T) {
	head := strings.Join(columns, ",") + "\n"
	pump := "pump,Torrent,variable,3450,600,,0:84 40:77 80:58,16,560,8.5,,,,,,,,,,,\n"
	items, errs := Read(strings.NewReader(head + pump))
	require.Empty(t, errs)
	assert.Equal(t, 84.0, items[0].Pump.Curve[0].Ft)
	for _, c := range []struct{ file, path, text string }{
		{"", "", "empty"},
		{"kind,model,colour\n", "line 1", "no column"},
		{head, "", "no models"},
		{head + strings.Replace(pump, "3450", "fast", 1), "line 2, top_rpm", "not a number"},
		{head + strings.Replace(pump, "3450", "99999", 1), "line 2, top_rpm", "between"},
		{head + strings.Replace(pump, "80:58", "80:95", 1), "line 2, curve_gpm_ft", "rises"},
		{head + strings.Replace(pump, "80:58", "80", 1), "line 2, curve_gpm_ft", "not a point"},
		{head + strings.Replace(pump, "pump", "lamp", 1), "line 2, kind", "must be"},
		{head + pump + pump, "line 3, model", "already"},
		{head + strings.Replace(pump, ",,,,,,,,,,,\n", ",,,3,,,,,,,,\n", 1), "line 2", "doesn't have this figure"},
		{head + "filter,Bed,sand,,,,,,,,,,3.1,sideways,60,2,3,,,,\n", "line 2, valve", "one of"},
		{head + "filter,\"Bed", "line 2", ""},
	} {
		items, errs := Read(strings.NewReader(c.file))
		assert.Empty(t, items, "nothing is taken in part")
		if assert.NotEmpty(t, errs, c.file) {
			assert.Contains(t, errs[0].Path, c.path, say(errs[0].Text))
			assert.Contains(t, say(errs[0].Text), c.text)
		}
	}
}

func FuzzRead(f *testing.F) {
	var b bytes.Buffer
	require.NoError(f, Write(&b, BuiltIn()))
	f.Add(b.String())
	f.Fuzz(func(t *testing.T, s string) {
		items, errs := Read(strings.NewReader(s))
		if len(errs) > 0 && len(items) > 0 {
			t.Fatal("a refused file gave items")
		}
	})
}
