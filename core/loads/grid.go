// Package loads is the grid of filter loads that the reasoning is kept on, and what a
// reading shows over it.
package loads

import (
	"math"
	"sort"

	"fairlap/core/upkeep"
)

// The grid of loads on which the posterior is kept: even steps up to half as much
// again as the limit, then steps that grow with the load, as far as a gauge can
// tell: there it stands at the pump's shut-off.
const (
	Low   = -0.2
	Step  = 0.05
	even  = 35 // −0.2 to 1.5
	grows = 1.09
	N     = 58 // to 10.9
)

// Grid are the loads and Wide the width of load that each stands for.
var Grid, Wide = func() (at, wide [N]float64) {
	for i := range at {
		if i < even {
			at[i] = Low + Step*float64(i)
		} else {
			at[i] = at[i-1] * grows
		}
	}
	for i := range wide {
		low, high := at[max(i-1, 0)], at[min(i+1, N-1)]
		wide[i] = (high - low) / 2
	}
	return at, wide
}()

// At is the load of a grid entry.
func At(i int) float64 { return Grid[i] }

// Entry is the entry of a load that lies on the grid, −1 for another.
func Entry(load float64) int {
	i := sort.SearchFloat64s(Grid[:], load)
	if i < N && Grid[i] == load {
		return i
	}
	return -1
}

// Limit is the first grid entry at or over the cleaning limit.
var Limit = sort.SearchFloat64s(Grid[:], 1-Step/2)

// Spread is a distribution over the grid: log probabilities.
type Spread [N]float64

// Summary is the mean and deviation of weights over the grid.
func Summary(p []float64) upkeep.Belief {
	var n, m, s float64
	for i, w := range p {
		n += w
		m += w * Grid[i]
	}
	m /= n
	for i, w := range p {
		d := Grid[i] - m
		s += w / n * d * d
	}
	return upkeep.Belief{Mean: m, SD: math.Sqrt(s)}
}

// Middle is a distribution's median with half of what lies between its 16 and 84 %:
// what a long tail of hardly likely loads does not move. (The two are mean and
// deviation of a normal.)
func Middle(p []float64) upkeep.Belief {
	whole := 0.0
	for _, w := range p {
		whole += w
	}
	quantile := func(share float64) float64 {
		sum := 0.0
		for i, w := range p {
			next := sum + w/whole
			if next >= share {
				return Grid[i] + Wide[i]*((share-sum)/(next-sum)-0.5)
			}
			sum = next
		}
		return Grid[N-1]
	}
	return upkeep.Belief{Mean: quantile(0.5), SD: (quantile(0.84134) - quantile(0.15866)) / 2}
}

// Normal is a normal distribution on the grid; of a mean off the grid, the end that is nearest.
func Normal(mean, sd float64) (out [N]float64) {
	least, sum := math.Inf(1), 0.0
	for _, l := range Grid {
		least = math.Min(least, math.Abs(l-mean)/sd)
	}
	for i, l := range Grid {
		z := (l - mean) / sd
		out[i] = math.Exp((least*least-z*z)/2) * Wide[i]
		sum += out[i]
	}
	for i := range out {
		out[i] /= sum
	}
	return out
}

// Mix is (1−share)·a + share·b, each made to add to one first.
func Mix(a, b [N]float64, share float64) (out Spread) {
	na, nb := 0.0, 0.0
	for i := range a {
		na += a[i]
		nb += b[i]
	}
	for i := range out {
		out[i] = math.Log((1-share)*a[i]/na + share*b[i]/nb + 1e-12/N)
	}
	return out
}
