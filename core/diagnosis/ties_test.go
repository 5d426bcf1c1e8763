package diagnosis

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// A difference in the last bits chooses nothing; one that can be told does, and nothing is above
// itself.
func TestTheLastBitsChooseNothing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		v := rapid.Float64Range(-700, 700).Draw(t, "v")
		bit := rapid.Float64Range(-1e-11, 1e-11).Draw(t, "bit") * math.Max(1, math.Abs(v))
		assert.False(t, above(v, v))
		assert.False(t, above(v+bit, v))
		assert.True(t, above(v+1e-6*math.Max(1, math.Abs(v)), v))
		p := rapid.Float64Range(0, 1).Draw(t, "p")
		assert.Greater(t, Steady(p+1e-6), Steady(p), "a millionth of a chance can be told")
		assert.LessOrEqual(t, Steady(p), Steady(p+1e-12))
	})
	assert.True(t, above(-1e6, math.Inf(-1)), "anything is above nothing")
	assert.False(t, above(math.Inf(-1), math.Inf(-1)))
}
