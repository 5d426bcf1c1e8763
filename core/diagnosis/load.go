package diagnosis

import (
	"math"

	"fairlap/core/loads"
)

// forecastLoad lays a forecast on the grid, with a tail for what no forecast sees: a
// storm, a party, a cleaning that was not done. The tail lies mostly above.
func forecastLoad(b Belief, storm bool) loads.Spread {
	// A forecast fresh from a cleaning has had less time to go wrong.
	tail := calmTail * math.Max(freshTail, math.Min(1, b.SD*b.SD/settledSD/settledSD))
	if storm {
		tail = stormTail
	}
	var far [loads.N]float64
	for i, l := range loads.Grid {
		d := l - b.Mean
		if d < 0 {
			d *= -2
		}
		far[i] = math.Exp(-d/jumpScale) * loads.Wide[i]
	}
	return loads.Mix(loads.Normal(b.Mean, math.Max(b.SD, leastLoad)), far, tail)
}

// readingsAlone is the load before any forecast: less and less likely the deeper
// the dirt, so that a reading that can't tell how deep does not say "very".
var readingsAlone = func() (out loads.Spread) {
	sum := 0.0
	for i, l := range loads.Grid {
		x := l / deepLoad
		out[i] = loads.Wide[i] / (1 + x*x)
		sum += out[i]
	}
	for i := range out {
		out[i] = math.Log(out[i] / sum)
	}
	return out
}()

// afterCleaning lays the load after a cleaning on the grid: clean, or with the given
// chance as it was.
func afterCleaning(before [loads.N]float64, failed float64) loads.Spread {
	return loads.Mix(loads.Normal(afterMean, afterSD), before, failed)
}
