package upkeep

import (
	"math"
	"time"

	"fairlap/core/pad"
	"fairlap/core/words"
)

// Heat is the mean of the known days' air before a time, °F, over a week; false
// when no day is known.
func Heat(sky Sky, now time.Time) (float64, bool) {
	if sky == nil {
		return 0, false
	}
	sum, n := 0.0, 0
	for d := 1; d <= 7; d++ {
		y, m, day := now.AddDate(0, 0, -d).Date()
		if w, known := sky(time.Date(y, m, day, 0, 0, 0, 0, now.Location())); known {
			sum += w.AirF
			n++
		}
	}
	return sum / math.Max(1, float64(n)), n > 0
}

// Run time (common practice): a single speed runs an hour for each 10 °F of air and
// eight at least; the water goes round once a day, twice in the heat.
const (
	leastHours    = 8
	degreesAnHour = 10
	hotF          = 90
)

// RunTime says in a sentence what a programme is short of at an air temperature, ""
// when of nothing. gallons is the pool's volume, 0 for not known.
func RunTime(d *pad.Document, kgalPerDay, gallons, airF float64) words.Message {
	hours := 0.0
	for _, s := range d.Programme {
		hours += s.Hours
	}
	if d.Pump.Kind == pad.SingleSpeed {
		if need := math.Max(leastHours, math.Round(airF/degreesAnHour)); hours < need-0.25 {
			return words.Of(
				"upkeep.the-pump-runs-a-day",
				"hours",
				words.QD("h", hours, -1),
				"airF",
				words.QD("°F", airF, 0),
				"need",
				words.QD("h", need, 0),
			)
		}
	}
	rounds := 1.0
	if airF >= hotF {
		rounds = 2
	}
	if gallons > 0 && kgalPerDay > 0 {
		if have := 1000 * kgalPerDay / gallons; have < 0.9*rounds {
			return words.Of(
				"upkeep.the-water-goes-round-times",
				"have",
				words.ND(have, 1),
				"airF",
				words.QD("°F", airF, 0),
				"rounds",
				words.N(rounds),
			)
		}
	}
	return ""
}
