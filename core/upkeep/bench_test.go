package upkeep

import (
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"fairlap/core/pad"
)

// fiveYears is a sand pool's record: weekly visits, cleaned when the load is high,
// read with noise.
func fiveYears(seed uint64) []Visit {
	rng := rand.New(rand.NewPCG(seed, 1))
	load, start := 0.05, time.Date(2021, 11, 1, 9, 0, 0, 0, time.UTC)
	var out []Visit
	for week := range 260 {
		at := start.AddDate(0, 0, 7*week)
		load += 0.3 + 0.1*rng.NormFloat64()
		v := Visit{
			Arrived: at,
			Closed:  at.Add(30 * time.Minute),
			Load:    &Belief{Mean: load + 0.08*rng.NormFloat64(), SD: 0.1},
		}
		if load > 0.8 {
			load = 0.05
			v.Cleaned, v.After = true, &Belief{Mean: 0.06, SD: 0.05}
		}
		out = append(out, v)
	}
	return out
}

func dueOf(visits []Visit, now time.Time) []Due {
	h := Follow(visits, pad.Sand, &Exposure{KGalPerDay: 25}, now)
	for i, v := range visits {
		h.Watts = append(h.Watts, WattsPoint{v.Arrived, 1 + 0.01*float64(i%5)})
	}
	l := Ledger{
		Now:      now,
		Later:    now.AddDate(0, 0, 7),
		Settings: Defaults(),
		Filter:   h.Filter,
		Worn:     h.Worn(pad.Sand),
		Since:    visits[0].Arrived,
		Gear:     Gear{Kind: pad.Sand, Heater: true},
		Parts:    []Part{{"sand", "", visits[0].Arrived, 5}},
	}
	return l.List()
}

// One pool's due work from five years of weekly visits; 2,000 of them are asked to
// take under 10 s on one core.
func BenchmarkDueWorkOfFiveYears(b *testing.B) {
	visits := fiveYears(1)
	now := visits[len(visits)-1].Closed.AddDate(0, 0, 3)
	require.NotEmpty(b, dueOf(visits, now))
	b.ReportAllocs()
	for b.Loop() {
		dueOf(visits, now)
	}
	b.ReportMetric(b.Elapsed().Seconds()/float64(b.N)*2000, "s/2000-pools")
}
