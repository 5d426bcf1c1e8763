package evaluation

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/fault"
	"fairlap/core/learning"
	"fairlap/core/pad"
)

func maker(t *testing.T) *Maker {
	engine, err := StartEPANET("../..")
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, engine.Close()) })
	m, err := NewMaker(engine.Solve, 3)
	require.NoError(t, err)
	return m
}

// A fault that is worse moves less water, or moves it elsewhere; none moves more
// than its mild form by more than the solver's own tolerance.
func TestWorseFaultsMoveLessWater(t *testing.T) {
	m := maker(t)
	grows := map[fault.ID]bool{ // these take resistance away, or leave the water as it is
		fault.BedChannelled: true, fault.MediaInPool: true, fault.ValveGasket: true, fault.ValvePosition: true,
		fault.BypassOpen:  true,
		fault.SpaDraining: true, fault.SpaFilling: true, fault.LeftInSpa: true}
	for _, p := range m.pads {
		_, sound, err := m.meters(p.built, 3450, pad.SetFilter, &change{load: 0.3}, 0)
		require.NoError(t, err)
		require.Greater(t, sound, 0.0005, p.Name)
		for _, tr := range troubles {
			if tr.does == nil || !tr.on(p.built) {
				continue
			}
			last := math.Inf(1)
			for severity := range severities {
				c := change{load: 0.3}
				tr.does(p.built, &c, severity, rand.New(rand.NewPCG(1, 1)))
				_, q, err := m.meters(p.built, 3450, pad.SetFilter, &c, 0)
				require.NoError(t, err)
				assert.False(t, math.IsNaN(q), "%s at %s", tr.id, p.Name)
				if grows[tr.id] {
					continue
				}
				assert.Less(t, q, sound*1.001, "%s, severity %d, at %s", tr.id, severity, p.Name)
				assert.LessOrEqual(t, q, last*1.001+1e-6, "%s, severity %d, at %s", tr.id, severity, p.Name)
				last = q
			}
		}
	}
}

func TestLoadOneRaisesTheRealGaugeByTheLimit(t *testing.T) {
	m := maker(t)
	for _, p := range m.pads {
		clean, _, err := m.meters(p.built, 3450, pad.SetFilter, &change{}, 0)
		require.NoError(t, err)
		full, _, err := m.meters(p.built, 3450, pad.SetFilter, &change{load: 1}, 0)
		require.NoError(t, err)
		assert.InDelta(t, p.built.limitRise, (*full.Tank - *clean.Tank).PSI(), 0.2, p.Name)
	}
}

// Rivals are judged fairly: they see what ours sees, and say something of every
// fault that a pad can have.
func TestRivalsSpeakOfEveryFault(t *testing.T) {
	m := maker(t)
	stops, err := m.Stops(30, Evenly)
	require.NoError(t, err)
	for _, s := range stops {
		for name, judge := range map[string]Judge{"rule": FixedRule, "cheap": CheapFirst, "card": GaugeCard,
			"table": SignTable, "ours": Ours} {
			said, err := judge(s, Seen{AllMeters, 1, s.AsTheyFell()})
			require.NoError(t, err, name)
			names := map[fault.ID]bool{}
			sum := 0.0
			for _, x := range said {
				assert.False(t, names[x.Fault], "%s names %s twice", name, x.Fault)
				names[x.Fault] = true
				sum += x.P
			}
			assert.True(t, names[s.Truth], "%s never names %s at %s", name, s.Truth, s.Pad.Name)
			if name == "table" {
				assert.InDelta(t, 1, sum, 1e-9)
			}
		}
		minutes, err := FollowOrder(s, FixedRule)
		require.NoError(t, err)
		assert.GreaterOrEqual(t, minutes, 0.0)
	}
	// Fewer meters are fewer.
	r := visible(stops[0].read[plain(stops[0].first)], GaugeAndSpeed)
	assert.NotNil(t, r.Tank)
	assert.Nil(t, r.Power)
	assert.Zero(t, untilFound(stops[0], []learning.Said{{Fault: stops[0].Truth}}, nil))
}

func TestWithoutTheTellingSign(t *testing.T) {
	m := maker(t)
	stops, err := m.Stops(40, Evenly)
	require.NoError(t, err)
	fewer := 0
	for _, s := range stops {
		all, less := s.AsTheyFell(), s.Atypical()
		for id := range less {
			assert.Equal(t, all[id], less[id])
		}
		if len(less) < len(all) {
			fewer++
		}
	}
	assert.Greater(t, fewer, 25)
}

// A fault that is added to the catalogue must be judged too.
func TestEveryAcuteFaultIsMadeSomewhere(t *testing.T) {
	made := map[fault.ID]bool{}
	for _, x := range troubles {
		made[x.id] = true
		on := false
		for _, k := range kinds {
			on = on || x.on(build(k, rand.New(rand.NewPCG(1, 1))))
		}
		assert.True(t, on || x.id == fault.AirlockSmall, "no plumbing here can have %s", x.id)
	}
	for _, f := range fault.Catalogue {
		if !f.Chronic {
			assert.True(t, made[f.ID], "%s stands in the catalogue and is never made", f.ID)
			_, has := rates[f.ID]
			assert.True(t, has || f.ID == fault.Healthy, "%s has no rates of signs", f.ID)
		}
	}
}

// Nothing of the product's computes the watts: they part from its straight line.
func TestWattsFollowAnotherLaw(t *testing.T) {
	m := maker(t)
	most := 0.0
	for _, p := range m.pads {
		b := p.built
		for _, x := range []float64{0.2, 0.5, 0.9} {
			for _, ratio := range []float64{0.35, 0.7, 1} {
				line := b.doc.Pump.IdleW + ratio*ratio*ratio*b.doc.Pump.BaseW +
					ratio*ratio*ratio*b.doc.Pump.PerGpmW*x*b.fullFlow
				most = math.Max(most, math.Abs(b.watts.at(ratio, x, 1, 0)/line-1))
			}
		}
		assert.Less(t, b.watts.at(1, 0.4, 0.7, 1), b.watts.at(1, 0.4, 0.7, 0.2), "a pump that lifts less may draw less")
	}
	assert.Greater(t, most, 0.1)
}
