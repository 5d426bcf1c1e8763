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
		{2.5, "inHg", "2.5 inHg", "8.5 kPa"}, {30, "ft", "30.0 ft", "9.1 m"}, {15, "gpm/ft²", "15.0 gpm/ft²", "36.7 m/h"}, {2400, "rpm", "2,400 rpm", "2,400 rpm"}, {-0.01, "psi", "0.0 psi", "0.00 bar"},
	} {
		assert.Equal(t, x.us, US.Figure(x.v, x.unit))
		assert.Equal(t, x.metric, Metric.Figure(x.v, x.unit))
	}
}
