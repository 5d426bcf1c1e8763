package catalogue

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/pad"
)

// Whatever a plate says within its spans makes a pump and a filter that a pad can be drawn with: the curve falls, a
// larger one moves more, its power is about its horsepower's (common practice).
func TestAPlateIsEnough(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		hp := rapid.Float64Range(0.25, 4).Draw(t, "hp")
		kind := rapid.SampledFrom([]pad.PumpKind{pad.SingleSpeed, pad.TwoSpeed, pad.VariableSpeed,
			pad.FlowHolding}).Draw(t, "pump")
		i, errs := Plate{Part: "pump", Model: "X", Pump: kind, HP: hp}.Item()
		require.Empty(t, errs)
		for n := 1; n < len(i.Pump.Curve); n++ {
			assert.Greater(t, i.Pump.Curve[n].GPM, i.Pump.Curve[n-1].GPM)
			assert.Less(t, i.Pump.Curve[n].Ft, i.Pump.Curve[n-1].Ft)
		}
		larger, errs := Plate{Part: "pump", Model: "X", Pump: kind, HP: hp * 1.2}.Item()
		require.Empty(t, errs)
		assert.Greater(t, larger.Pump.Curve[0].Ft, i.Pump.Curve[0].Ft)
		filter := rapid.SampledFrom([]pad.FilterKind{pad.Sand, pad.Cartridge, pad.DE}).Draw(t, "filter")
		usual := ordinaryFilter[filter]
		f, errs := Plate{Part: "filter", Model: "Y", Filter: filter, Valve: pad.Multiport,
			Area: rapid.Float64Range(usual.leastFt2, usual.mostFt2).Draw(t, "area")}.Item()
		require.Empty(t, errs)
		d := pad.Sketch{Pump: *i.Pump, Filter: *f.Filter, PipeIn: 2, LengthFt: 40}.Document()
		assert.Empty(t, d.Validate())
	})
	for part, p := range map[string]Plate{
		"hp":      {Part: "pump", Pump: pad.SingleSpeed, HP: mostHP + 0.1},
		"pump":    {Part: "pump", HP: 1},
		"areaFt2": {Part: "filter", Filter: pad.Sand, Area: 0.7},
		"filter":  {Part: "filter", Area: 100},
	} {
		p.Model = "Z"
		_, errs := p.Item()
		require.NotEmpty(t, errs, part)
		assert.Equal(t, part, errs[0].Path)
	}
}
