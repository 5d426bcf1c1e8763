package diagnosis

import "math"

// tied is how near two numbers, of their size, are as good as one: the last bits of a processor's
// own arithmetic must not choose between them, so that the core answers alike wherever it runs.
const tied = 1e-9

// above tells whether a is larger than b, and not by the last bits alone.
func above(a, b float64) bool {
	return a > b+tied*math.Max(1, math.Abs(b)) || math.IsInf(b, -1) && !math.IsInf(a, -1)
}

// Steady is a number without its last bits, to sort by.
func Steady(v float64) float64 { return math.Round(v / tied) }
