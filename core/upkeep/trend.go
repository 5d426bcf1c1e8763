package upkeep

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/stat/distuv"
)

// Trend is a straight trend through points that may hold a few wild ones.
type Trend struct {
	N     int
	Slope float64 // per unit of x: the median of all pairwise slopes (Theil 1950, Sen 1968)
	// Low and High hold the slope with nine in ten (Sen's interval from Kendall's S).
	Low, High float64
	// S is Kendall's count of rising less falling pairs, and P the chance of one as
	// far from nought, either way, without any trend (Mann 1945, Kendall): exact up
	// to exactUpTo points, else normal with ties taken into account.
	S int
	P float64
}

// exactUpTo is how many points the exact distribution of S is counted for.
const exactUpTo = 10

// TrendOf finds the trend of y over x; fewer than three points have none (P 1).
// Points at the same x make no slope.
func TrendOf(x, y []float64) Trend {
	t := Trend{N: len(x), P: 1}
	slopes := make([]float64, 0, len(x)*(len(x)-1)/2)
	for i := range x {
		for j := range i {
			if dx := x[i] - x[j]; dx != 0 {
				slopes = append(slopes, (y[i]-y[j])/dx)
			}
			t.S += sign((y[i] - y[j]) * (x[i] - x[j]))
		}
	}
	if len(slopes) == 0 {
		return t
	}
	slices.Sort(slopes)
	t.Slope = median(slopes)
	t.Low, t.High = slopes[0], slopes[len(slopes)-1]
	if len(x) < 3 {
		return t
	}
	sd := math.Sqrt(varianceOfS(y))
	c := distuv.UnitNormal.Quantile(0.95) * sd
	m := float64(len(slopes))
	t.Low = slopes[max(0, int(math.Floor((m-c)/2)))]
	t.High = slopes[min(len(slopes)-1, int(math.Ceil((m+c)/2)))]
	switch {
	case t.S == 0 || sd == 0:
	case len(x) <= exactUpTo && !tied(y):
		t.P = exactP(len(x), t.S)
	default:
		t.P = 2 * distuv.UnitNormal.Survival((math.Abs(float64(t.S))-1)/sd)
	}
	t.P = math.Min(1, t.P)
	return t
}

func sign(v float64) int {
	switch {
	case v > 0:
		return 1
	case v < 0:
		return -1
	}
	return 0
}

func median(sorted []float64) float64 {
	n := len(sorted)
	return (sorted[(n-1)/2] + sorted[n/2]) / 2
}

// varianceOfS is that of Kendall's S without a trend, less what ties take.
func varianceOfS(y []float64) float64 {
	term := func(n float64) float64 { return n * (n - 1) * (2*n + 5) }
	v := term(float64(len(y)))
	for _, n := range counts(y) {
		v -= term(float64(n))
	}
	return math.Max(0, v/18)
}

func counts(y []float64) map[float64]int {
	out := map[float64]int{}
	for _, v := range y {
		out[v]++
	}
	return out
}

func tied(y []float64) bool { return len(counts(y)) < len(y) }

// exactP counts the orders of n values with at least |s| more rising than falling
// pairs, both ways: the numbers of inversions (Kendall's recurrence).
func exactP(n, s int) float64 {
	ways := []float64{1}
	for k := 2; k <= n; k++ {
		next := make([]float64, len(ways)+k-1)
		for i, w := range ways {
			for d := range k {
				next[i+d] += w
			}
		}
		ways = next
	}
	pairs := n * (n - 1) / 2
	if s < 0 {
		s = -s
	}
	total, far := 0.0, 0.0
	for inversions, w := range ways {
		total += w
		if pairs-2*inversions >= s {
			far += w
		}
	}
	return 2 * far / total
}
