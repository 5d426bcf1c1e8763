package misses

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/stat/distmv"
	"pgregory.net/rapid"
)

// Without strays it is the multivariate normal (gonum's), and what is far by it is far by that.
func TestMissesAreNormalWithoutStrays(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 5).Draw(t, "meters")
		e := &Errors{N: n}
		cov := mat.NewSymDense(n, nil)
		shared := rapid.Float64Range(0, 1).Draw(t, "shared")
		for i := range n {
			e.Miss[i] = rapid.Float64Range(-3, 3).Draw(t, "miss")
			for j := range i + 1 {
				v := shared
				if i == j {
					e.Alone[i] = rapid.Float64Range(0.2, 2).Draw(t, "alone")
					v += e.Alone[i]
				}
				cov.SetSym(i, j, v)
				e.Cov[i*Most+j], e.Cov[j*Most+i] = v, v
			}
		}
		normal, ok := distmv.NewNormal(make([]float64, n), cov, nil)
		require.True(t, ok)
		want := normal.LogProb(e.Miss[:n])
		assert.InDelta(t, want, e.Weigh(), 1e-9)
		// A share that may stray makes what is far less far, and never the impossible sure.
		strayed := e.Weigh(Stray{0.1, 3})
		assert.GreaterOrEqual(t, strayed, want+math.Log(0.9)*float64(n)-1e-9)
		_, ok = e.Invert()
		require.True(t, ok)
		assert.InDelta(t, -2*(want-normal.LogProb(make([]float64, n))), e.Far(e), 1e-6)
	})
}
