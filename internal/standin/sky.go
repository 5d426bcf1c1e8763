package standin

import (
	"math"
	"math/rand/v2"
	"time"

	"fairlap/core/upkeep"
)

// Sky is a made-up place's daily weather, the same for a seed and a day. Days come
// warm in July; rain falls one day in nine and storms, mostly in late summer, one
// in forty.
func Sky(seed uint64) upkeep.Sky {
	return func(day time.Time) (upkeep.Weather, bool) {
		y, m, d := day.Date()
		n := uint64(time.Date(y, m, d, 0, 0, 0, 0, time.UTC).Unix() / 86400)
		rng := rand.New(rand.NewPCG(seed, n))
		swing := math.Cos(2 * math.Pi * float64(day.YearDay()-200) / 365.25)
		w := upkeep.Weather{AirF: 76 + 16*swing + 5*rng.NormFloat64(), WindMph: math.Max(0, 8+4*rng.NormFloat64())}
		stormy := 0.025 * (1 + 0.8*math.Cos(2*math.Pi*float64(day.YearDay()-225)/365.25))
		switch x := rng.Float64(); {
		case x < stormy:
			w.RainIn, w.WindMph = 0.5+0.8*rng.ExpFloat64(), 22+6*rng.NormFloat64()
		case x < 0.11:
			w.RainIn = math.Min(0.45, 0.15*rng.ExpFloat64())
		}
		return w, true
	}
}
