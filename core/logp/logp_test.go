package logp

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// Sums of logs are the logs of the sums, wherever the plain ones can be formed.
func TestSumsAreLogsOfSums(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		x := rapid.SliceOfN(rapid.Float64Range(-50, 50), 1, 20).Draw(t, "logs")
		plain := 0.0
		for _, v := range x {
			plain += math.Exp(v)
		}
		assert.InEpsilon(t, plain, math.Exp(Sum(x)), 1e-9)
		if len(x) > 1 {
			assert.InDelta(t, Sum(x[:2]), Add(x[0], x[1]), 1e-12)
			assert.Equal(t, Add(x[0], x[1]), Add(x[1], x[0]), "whatever the order, to the bit")
		}
		// A common factor comes out of it.
		by := rapid.Float64Range(-300, 300).Draw(t, "by")
		moved := make([]float64, len(x))
		for i := range x {
			moved[i] = x[i] + by
		}
		assert.InDelta(t, Sum(x)+by, Sum(moved), 1e-9)
	})
}

func TestNothingAddsNothing(t *testing.T) {
	none := math.Inf(-1)
	assert.Equal(t, none, Sum(nil))
	assert.Equal(t, none, Sum([]float64{none, none}))
	assert.Equal(t, none, Add(none, none))
	assert.Equal(t, -2.0, Add(none, -2))
	assert.Equal(t, -2.0, Add(-2, none))
	// Far apart, the lesser is lost and nothing overflows.
	assert.Equal(t, 900.0, Add(900, -900))
	assert.False(t, math.IsInf(Sum([]float64{900, 899}), 0))
}

func TestAnswersAndOdds(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := rapid.Float64Range(1e-6, 1-1e-6).Draw(t, "p")
		assert.InDelta(t, 1, math.Exp(Answer(p, true))+math.Exp(Answer(p, false)), 1e-12, "yes or no")
		assert.InDelta(t, p, 1/(1+math.Exp(-Logit(p))), 1e-9, "and back")
		assert.InDelta(t, -Logit(p), Logit(1-p), 1e-6)
	})
	assert.Zero(t, Logit(0.5))
}
