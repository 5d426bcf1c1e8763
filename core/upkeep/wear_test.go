package upkeep

import (
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/pad"
)

// worn lives through cycles whose post-clean load and growth change by so much a
// cycle, read weekly with noise.
func worn(seed uint64, cycles int, creep, faster float64) History {
	rng := rand.New(rand.NewPCG(seed, 3))
	e := Exposure{KGalPerDay: 25}
	var vs []Visit
	day, growth := 0, 0.0036
	for c := range cycles {
		start := 0.05 + creep*float64(c)
		load := start
		for {
			at := monday.AddDate(0, 0, day)
			load += growth * (1 + faster*float64(c)) * e.Between(at.AddDate(0, 0, -7), at)
			v := Visit{
				Arrived: at,
				Closed:  at.Add(time.Hour),
				Load:    &Belief{Mean: load + 0.04*rng.NormFloat64(), SD: 0.06},
			}
			day += 7
			if load > 0.8 {
				v.Cleaned = true
				v.After = &Belief{Mean: 0.05 + creep*float64(c+1) + 0.02*rng.NormFloat64(), SD: 0.05}
			}
			vs = append(vs, v)
			if v.Cleaned {
				break
			}
		}
	}
	return Follow(vs, pad.Sand, &e, monday.AddDate(0, 0, day))
}

func ids(ws []Wear) []WearID {
	var out []WearID
	for _, w := range ws {
		out = append(out, w.ID)
	}
	return out
}

func TestWearIsFoundAndNotMadeUp(t *testing.T) {
	h := worn(1, 9, 0.03, 0)
	got := h.Worn(pad.Sand)
	require.Contains(t, ids(got), PostCleanCreep)
	assert.Contains(t, say(got[0].Text), "over 9 cleanings")
	assert.Contains(t, say(got[0].Plan), "Deep-clean")
	h = worn(2, 12, 0, 0.12)
	assert.Contains(t, ids(h.Worn(pad.Sand)), ShorterCycles, "media that loads ever faster")
	h = worn(3, 3, 0.2, 0)
	assert.Empty(t, h.Worn(pad.Sand), "three cycles are too few to speak of")
	// A filter that only ages by chance is called worn no oftener than luck allows,
	// a year with its seasons included.
	called := 0
	for seed := range uint64(60) {
		h := worn(100+seed, 14, 0, 0)
		called += len(h.Worn(pad.Sand))
	}
	assert.LessOrEqual(t, called, 6, "of 60 sound filters, two trends each")
}

func TestWattsDrift(t *testing.T) {
	for name, c := range map[string]struct {
		perDay float64
		want   []WearID
	}{"up": {0.0006, []WearID{WattsDriftUp}}, "down": {-0.0006, []WearID{WattsDriftDown}}, "steady": {0, nil}} {
		rng := rand.New(rand.NewPCG(5, 5))
		h := History{}
		for week := range 26 {
			h.Watts = append(
				h.Watts,
				WattsPoint{monday.AddDate(0, 0, 7*week), 1 + c.perDay*float64(7*week) + 0.02*rng.NormFloat64()},
			)
		}
		assert.Equal(t, c.want, ids(h.Worn(pad.DE)), name)
	}
}

func TestPrimesAndDrainsAreTimed(t *testing.T) {
	var vs []Visit
	for i := range 8 {
		v := visited(7*i, 0.3, false)
		v.Prime = 40 + 6*float64(i) + float64(i%3)
		vs = append(vs, v)
	}
	h := Follow(vs, pad.DE, &Exposure{KGalPerDay: 25}, monday.AddDate(0, 0, 60))
	w := h.Worn(pad.DE)
	require.Len(t, w, 1)
	assert.Equal(t, LongerPrime, w[0].ID)
	assert.Contains(t, say(w[0].Plan), "O-ring")
	for i := range vs {
		vs[i].Prime = 40 + float64(i%3)
	}
	vs[1].Drain, vs[4].Drain = 20, 35
	h = Follow(vs, pad.DE, &Exposure{KGalPerDay: 25}, monday.AddDate(0, 0, 60))
	assert.Empty(t, h.Worn(pad.DE), "steady, and not twice as slow")
	vs[6].Drain = 45
	h = Follow(vs, pad.DE, &Exposure{KGalPerDay: 25}, monday.AddDate(0, 0, 60))
	w = h.Worn(pad.DE)
	require.Len(t, w, 1)
	assert.Equal(t, SlowDrain, w[0].ID)
	assert.Contains(t, say(w[0].Plan), "soak")
	vs[7].Drain = 44
	h = Follow(vs, pad.DE, &Exposure{KGalPerDay: 25}, monday.AddDate(0, 0, 60))
	assert.Contains(t, say(h.Worn(pad.DE)[0].Plan), "Replace the grids", "a soak has not brought it back")
}
