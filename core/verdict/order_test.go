package verdict

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/diagnosis"
	"fairlap/core/fault"
)

// The order by probability over cost has the least mean time of all orders.
func TestFixOrderIsTheBestOrder(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 5).Draw(t, "n")
		var suspects []diagnosis.Suspect
		total := 0.0
		for range n {
			p := rapid.Float64Range(0.05, 1).Draw(t, "p")
			total += p
			suspects = append(
				suspects,
				diagnosis.Suspect{
					P: p,
					Fault: fault.Fault{
						ID:      fault.ID(rune('a' + len(suspects))),
						Minutes: rapid.Float64Range(1, 60).Draw(t, "minutes"),
					},
				},
			)
		}
		for i := range suspects {
			suspects[i].P /= total * 1.0001
			suspects[i].P = math.Max(suspects[i].P, worthTrying)
		}
		sum := 0.0
		for _, s := range suspects {
			sum += s.P
		}
		mean := func(order []int) float64 {
			left, spent := sum, 0.0
			for _, i := range order {
				spent += suspects[i].Fault.Minutes * left / sum
				left -= suspects[i].P
			}
			return spent
		}
		best := math.Inf(1)
		permute(n, func(order []int) { best = math.Min(best, mean(order)) })
		got := FixOrder((&diagnosis.Result{Suspects: suspects}))
		require.Len(t, got, n)
		assert.InDelta(t, best, got[n-1].Spent, 1e-9)
	})
	assert.Empty(
		t,
		FixOrder((&diagnosis.Result{Suspects: []diagnosis.Suspect{{P: 1, Fault: fault.Catalogue[0]}}})),
		"a sound pad needs no fix",
	)
}

func permute(n int, visit func([]int)) {
	order := make([]int, n)
	for i := range order {
		order[i] = i
	}
	var walk func(int)
	walk = func(k int) {
		if k == n {
			visit(order)
			return
		}
		for i := k; i < n; i++ {
			order[k], order[i] = order[i], order[k]
			walk(k + 1)
			order[k], order[i] = order[i], order[k]
		}
	}
	walk(0)
}
