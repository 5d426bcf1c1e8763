package upkeep

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// Hollander and Wolfe, Nonparametric Statistical Methods, the cloud-seeding
// example of Theil's slope (Smith 1967): slope −0.056, C = −6, one-sided P 0.117.
// Figures from memory.
func TestTheilSenOfAPublishedExample(t *testing.T) {
	tr := TrendOf([]float64{1, 2, 3, 4, 5}, []float64{1.26, 1.27, 1.12, 1.16, 1.03})
	assert.InDelta(t, -0.05625, tr.Slope, 1e-9)
	assert.Equal(t, -6, tr.S)
	assert.InDelta(t, 2*0.117, tr.P, 0.001)
}

// Kendall's table of S without ties: n = 4, S = 6 has P 1/24 one-sided; n = 10,
// S = 23 has 0.023 (published tables; from memory).
func TestMannKendallOfThePublishedTable(t *testing.T) {
	assert.InDelta(t, 2.0/24, exactP(4, 6), 1e-12)
	assert.InDelta(t, 2*0.023, exactP(10, 23), 0.001)
	// With ties the normal form's variance: Gilbert 1987, n = 10 with pairs tied.
	tied := TrendOf([]float64{1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12}, []float64{1, 2, 2, 3, 3, 4, 4, 5, 6, 6, 7, 8})
	assert.Less(t, tied.P, 0.001)
}

func TestTrendIsWhatItSays(t *testing.T) {
	assert.Equal(t, 1.0, TrendOf(nil, nil).P)
	assert.Equal(t, 1.0, TrendOf([]float64{1, 2}, []float64{1, 9}).P, "two points show no trend")
	assert.Equal(t, 1.0, TrendOf([]float64{3, 3, 3}, []float64{1, 2, 3}).P, "all at one time")
	flat := TrendOf([]float64{1, 2, 3, 4}, []float64{5, 5, 5, 5})
	assert.Zero(t, flat.Slope)
	assert.Equal(t, 1.0, flat.P)
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(3, 14).Draw(t, "n")
		x, y := make([]float64, n), make([]float64, n)
		for i := range x {
			x[i], y[i] = float64(i), rapid.Float64Range(-5, 5).Draw(t, "y")
		}
		a, slope := TrendOf(x, y), rapid.Float64Range(-3, 3).Draw(t, "slope")
		assert.True(t, a.Low <= a.Slope && a.Slope <= a.High)
		assert.True(t, a.P >= 0 && a.P <= 1)
		// Adding a line adds its slope; turning the values round turns the sign.
		b, c := make([]float64, n), make([]float64, n)
		for i := range x {
			b[i], c[i] = y[i]+slope*x[i], -y[i]
		}
		assert.InDelta(t, a.Slope+slope, TrendOf(x, b).Slope, 1e-9)
		assert.Equal(t, -a.S, TrendOf(x, c).S)
		// One wild point can't carry a clear trend away.
		if n >= 10 {
			copy(b, x)
			b[n/2] = 1e6 * math.Copysign(1, slope)
			assert.InDelta(t, 1, TrendOf(x, b).Slope, 0.2)
		}
	})
}
