package units

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Factors: NIST SP 811 (from memory); worked by hand.
func TestFiguresInBothSystems(t *testing.T) {
	for _, x := range []struct {
		v          float64
		unit       string
		us, metric string
	}{
		{14.5, "psi", "14.5 psi", "1.00 bar"}, {40, "gpm", "40 gpm", "9.1 m³/h"}, {18500, "gal", "18,500 gal", "70,030 L"}, {80, "°F", "80 °F", "27 °C"},
		{2.5, "inHg", "2.5 inHg", "8.5 kPa"}, {30, "ft", "30.0 ft", "9.1 m"}, {15, "gpm/ft²", "15.00 gpm/ft²", "36.7 m/h"}, {2400, "rpm", "2,400 rpm", "2,400 rpm"}, {-0.01, "psi", "0.0 psi", "0.00 bar"},
	} {
		assert.Equal(t, x.us, US.Figure(x.v, x.unit))
		assert.Equal(t, x.metric, Metric.Figure(x.v, x.unit))
	}
}

// The table's factors are those of the units themselves.
func TestTheTableOfUnitsIsTheUnits(t *testing.T) {
	for unit, si := range map[string]float64{
		"psi": psi / bar, "inHg": inHg / kPa, "gpm": gpm * 3600, "gpm/ft²": gpm * 3600 / (foot * foot), "gal": gallon * 1000,
		"gallons": gallon * 1000, "kgal": gallon * 1000, "ft": foot, "ft/s": foot, "ft²": foot * foot, "in": inch * 100,
	} {
		assert.InEpsilon(t, si, measures[unit].Times, 1e-9, unit)
	}
	for unit, m := range measures {
		assert.True(t, m.Metric == "" || m.Times > 0, unit)
	}
	assert.InDelta(t, 0, Metric.In(32, "°F"), 1e-9)
	assert.InDelta(t, 100, Metric.In(212, "°F"), 1e-9)
}
