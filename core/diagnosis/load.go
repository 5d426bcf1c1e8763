package diagnosis

import (
	"math"
	"sort"
)

// The grid of loads on which the posterior is kept: even steps up to half as much
// again as the limit, then steps that grow with the load, as far as a gauge can
// tell: there it stands at the pump's shut-off.
const (
	loadLow   = -0.2
	loadStep  = 0.05
	evenLoads = 35 // −0.2 to 1.5
	loadGrows = 1.09
	loadN     = 58 // to 10.9
)

// loadAt are the grid's loads and loadWide the width of load that each stands for.
var loadAt, loadWide = func() (at, wide [loadN]float64) {
	for i := range at {
		if i < evenLoads {
			at[i] = loadLow + loadStep*float64(i)
		} else {
			at[i] = at[i-1] * loadGrows
		}
	}
	for i := range wide {
		low, high := at[max(i-1, 0)], at[min(i+1, loadN-1)]
		wide[i] = (high - low) / 2
	}
	return at, wide
}()

// LoadAt is the load of a grid entry.
func LoadAt(i int) float64 { return loadAt[i] }

// gridEntry is the entry of a load that lies on the grid, −1 for another.
func gridEntry(load float64) int {
	i := sort.SearchFloat64s(loadAt[:], load)
	if i < loadN && loadAt[i] == load {
		return i
	}
	return -1
}

// loadLimit is the first grid entry at or over the cleaning limit.
var loadLimit = sort.SearchFloat64s(loadAt[:], 1-loadStep/2)

// spreadLoad is a distribution over the grid: log probabilities.
type spreadLoad [loadN]float64

// forecastLoad lays a forecast on the grid, with a tail for what no forecast sees: a
// storm, a party, a cleaning that was not done. The tail lies mostly above.
func forecastLoad(b Belief, storm bool) spreadLoad {
	// A forecast fresh from a cleaning has had less time to go wrong.
	tail := calmTail * math.Max(freshTail, math.Min(1, b.SD*b.SD/settledSD/settledSD))
	if storm {
		tail = stormTail
	}
	sd := math.Max(b.SD, leastLoad)
	var near, far [loadN]float64
	for i, l := range loadAt {
		z := (l - b.Mean) / sd
		near[i] = math.Exp(-0.5*z*z) * loadWide[i]
		d := l - b.Mean
		if d < 0 {
			d *= -2
		}
		far[i] = math.Exp(-d/jumpScale) * loadWide[i]
	}
	return mixLoads(near, far, tail)
}

// readingsAlone is the load before any forecast: less and less likely the deeper
// the dirt, so that a reading that can't tell how deep does not say "very".
var readingsAlone = func() (out spreadLoad) {
	sum := 0.0
	for i, l := range loadAt {
		x := l / deepLoad
		out[i] = loadWide[i] / (1 + x*x)
		sum += out[i]
	}
	for i := range out {
		out[i] = math.Log(out[i] / sum)
	}
	return out
}()

// afterCleaning lays the load after a cleaning on the grid: clean, or with the given
// chance as it was.
func afterCleaning(before [loadN]float64, failed float64) spreadLoad {
	var clean [loadN]float64
	for i, l := range loadAt {
		z := (l - afterMean) / afterSD
		clean[i] = math.Exp(-0.5*z*z) * loadWide[i]
	}
	return mixLoads(clean, before, failed)
}

// mixLoads is the log of (1−share)·a + share·b, each made to add to one first.
func mixLoads(a, b [loadN]float64, share float64) (out spreadLoad) {
	na, nb := 0.0, 0.0
	for i := range a {
		na += a[i]
		nb += b[i]
	}
	if na < 1e-300 { // a forecast off the grid says nothing but its tail
		na, share = 1, 1
	}
	for i := range out {
		out[i] = math.Log((1-share)*a[i]/na + share*b[i]/nb + 1e-12/loadN)
	}
	return out
}

func belief(p []float64) Belief {
	var n, m, s float64
	for i, w := range p {
		n += w
		m += w * loadAt[i]
	}
	m /= n
	for i, w := range p {
		d := loadAt[i] - m
		s += w / n * d * d
	}
	return Belief{Mean: m, SD: math.Sqrt(s)}
}

// middle is a distribution's median with half of what lies between its 16 and 84 %:
// what a long tail of hardly likely loads does not move. (The two are mean and
// deviation of a normal.)
func middle(p []float64) Belief {
	whole := 0.0
	for _, w := range p {
		whole += w
	}
	quantile := func(share float64) float64 {
		sum := 0.0
		for i, w := range p {
			next := sum + w/whole
			if next >= share {
				return loadAt[i] + loadWide[i]*((share-sum)/(next-sum)-0.5)
			}
			sum = next
		}
		return loadAt[loadN-1]
	}
	return Belief{Mean: quantile(0.5), SD: (quantile(0.84134) - quantile(0.15866)) / 2}
}
