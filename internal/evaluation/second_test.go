package evaluation

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/fault"
	"fairlap/core/pad"
)

func secondMaker(t *testing.T, mistapped float64) *Maker {
	m, err := NewSecondMaker(3, mistapped)
	require.NoError(t, err)
	return m
}

// What the pump lifts is what the pipes take, at every speed and load: the second world's own
// balance of heads, and its friction against a published figure.
func TestTheSecondWorldsHeadsAddUp(t *testing.T) {
	m := secondMaker(t, 0)
	for _, p := range m.pads {
		b := p.built
		for _, rpm := range []float64{3450, 2000} {
			for _, load := range []float64{0, 0.6, 3} {
				c := change{load: load}
				r, q, err := m.secondMeters(b, rpm, pad.SetFilter, &c, 0)
				require.NoError(t, err)
				w := b.ways(&c)
				_, lift := b.second.inside(rpm/3450, q, &c)
				lost := b.second.beside(w.suction, q) + b.second.loss(&w.trunk, q) + b.second.loss(&w.discharge, q) +
					b.media(q, &c) + b.second.loss(&w.back, q) + b.second.beside(w.returns, q)
				assert.InDelta(t, lift, lost, 1e-4*lift, "%s at %.0f rpm, load %.1f", p.Name, rpm, load)
				assert.Positive(t, float64(*r.Power))
			}
		}
	}
	// Moody's chart (1944), from memory: smooth pipe at Re 100,000 has f = 0.018.
	s := secondPad{rough: 0}
	d, q := 0.05, 0.0
	v := 1e5 * 0.86e-6 / d
	q = v * math.Pi / 4 * d * d
	l := conduit{d * 1000 / inch, 1, 0, false}
	assert.InDelta(t, 0.018, s.loss(&l, q)*d/(v*v/2/9.80665), 0.0004)
}

// A truth that is made to take a share of the flow takes it.
func TestTruthsTakeTheFlowThatTheyAreDrawnFor(t *testing.T) {
	m := secondMaker(t, 0)
	for _, p := range m.pads[:3] {
		_, sound, err := m.water(p.built, 3450, pad.SetFilter, &change{load: 0.4}, 0)
		require.NoError(t, err)
		for _, g := range gradedAt(p.built) {
			if !g.byFlow {
				continue
			}
			last := -1.0
			for level := range levels {
				strength, err := m.strengthAt(p.built, g, 0, level)
				require.NoError(t, err)
				assert.GreaterOrEqual(t, strength, last, "%s at %s", g.id, p.Name)
				last = strength
				c := change{load: 0.4}
				g.does(p.built, &c, 0, strength)
				_, q, err := m.water(p.built, 3450, pad.SetFilter, &c, 0)
				require.NoError(t, err)
				if strength < 0.999 && q > 0 {
					assert.InDelta(t, taken(level), 1-q/sound, 0.01, "%s at %s", g.id, p.Name)
				}
			}
		}
	}
}

// Laws of misses are densities, and are drawn as they say.
func TestMissesAreDrawnAsTheirDensity(t *testing.T) {
	for name, law := range map[string]missLaw{"hasty": hasty, "heavy": heavy} {
		area, inside := 0.0, 0.0
		for z := -40.0; z < 40; z += 0.01 {
			area += 0.01 * law.density(z)
			if math.Abs(z) < 1 {
				inside += 0.01 * law.density(z)
			}
		}
		assert.InDelta(t, 1, area, 0.001, name)
		rng, n := rand.New(rand.NewPCG(1, 2)), 0
		for range 20000 {
			if math.Abs(law.draw(rng)) < 1 {
				n++
			}
		}
		assert.InDelta(t, inside, float64(n)/20000, 0.015, name)
	}
}

// A sign is said wrong as often as the world has it, never in the first.
func TestLooksAreMistapped(t *testing.T) {
	wrong := 0
	stops, err := secondMaker(t, 0.05).SecondStops(40)
	require.NoError(t, err)
	for _, s := range stops {
		if s.Mistapped() {
			wrong++
		}
	}
	assert.Greater(t, wrong, 30)
	stops, err = secondMaker(t, 0).SecondStops(40)
	require.NoError(t, err)
	for _, s := range stops {
		assert.False(t, s.Mistapped())
		assert.NotEqual(t, fault.ID(""), s.Truth)
	}
}
