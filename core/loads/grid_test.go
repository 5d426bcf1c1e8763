package loads

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

// A belief on the grid is a distribution, wherever its mean lies; off the grid it is at the end that is nearest.
func TestABeliefLiesOnTheGrid(t *testing.T) {
	for _, sd := range []float64{0.03, 0.2, 5} {
		for mean := -3.0; mean <= 20; mean += 0.25 {
			p := Normal(mean, sd)
			sum := 0.0
			for _, x := range p {
				sum += x
			}
			assert.InDelta(t, 1, sum, 1e-9, "%g ± %g", mean, sd)
		}
	}
	p := Normal(0.6, 0.1)
	b := Summary(p[:])
	assert.InDelta(t, 0.6, b.Mean, 0.005)
	assert.InDelta(t, 0.1, b.SD, 0.005)
	for mean, end := range map[float64]int{-3: 0, 20: N - 1} {
		p := Normal(mean, 0.03)
		assert.Greater(t, p[end], 0.9)
		mixed := Mix(p, Normal(0.5, 0.1), 0.1)
		assert.False(t, math.IsNaN(mixed[end]))
	}
}
