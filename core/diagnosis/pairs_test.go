package diagnosis

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
)

func pairOf(r *Result, a, b fault.ID) float64 {
	for _, s := range r.Suspects {
		for _, w := range s.With {
			if s.Fault.ID == a && w.Fault.ID == b || s.Fault.ID == b && w.Fault.ID == a {
				return s.P
			}
		}
	}
	return 0
}

func TestTwoFaultsAtOnce(t *testing.T) {
	for name, c := range map[string]struct {
		a, b    fault.ID
		effects plumbing.Effects
		signs   map[fault.Sign]bool
	}{
		"a dirty basket and a leaking seal": {fault.BasketFullFault, fault.SealLeak,
			plumbing.Effects{Basket: restriction80},
			map[fault.Sign]bool{fault.BasketFull: true, fault.DripSeal: true, fault.SkimmerFull: false,
				fault.AirInPot: false}},
		"a full basket and a return shut": {fault.BasketFullFault, fault.ReturnRestricted,
			plumbing.Effects{Basket: restriction80, ReturnLine: -1, ReturnExtra: restriction80},
			map[fault.Sign]bool{fault.BasketFull: true, fault.WeakOne: true, fault.HandleWrong: true,
				fault.SkimmerFull: false, fault.AirInPot: false}},
		"a wrong gauge and a drip at the band": {fault.GaugeBad, fault.TankLeak, plumbing.Effects{},
			map[fault.Sign]bool{fault.NeedleAtRest: true, fault.DripBand: true, fault.AirInPot: false}},
	} {
		m := calibrated(t, pad.Sand)
		c.effects.Load = 0.4
		rd := all(t, m, 2400, c.effects)
		if c.a == fault.GaugeBad {
			*rd.Tank *= 2.2
		}
		r, err := Diagnose(Case{Model: m, Readings: []Reading{rd}, Signs: c.signs, Load: Belief{Mean: 0.4, SD: 0.15}})
		require.NoError(t, err, name)
		assert.Greater(t, pairOf(r, c.a, c.b), 0.5, "%s: %s", name, show(r))
		require.Len(t, r.Suspects[0].With, 1, "a row of its own: %s", show(r))
		grid := 0.0
		for _, p := range r.LoadGrid {
			grid += p
		}
		assert.InDelta(t, 1, grid, 1e-6, name)
	}
}

// restriction80 is a passage four fifths blocked, as the catalogue has it.
const restriction80 = 3 * 4 * 4

// One fault that explains everything is not made two.
func TestOneFaultIsNotMadeTwo(t *testing.T) {
	m := calibrated(t, pad.Sand)
	for _, c := range []struct {
		is fault.ID
		e  plumbing.Effects
		s  map[fault.Sign]bool
	}{
		{fault.BasketFullFault, plumbing.Effects{Basket: restriction80}, map[fault.Sign]bool{fault.BasketFull: true}},
		{fault.Healthy, plumbing.Effects{}, nil},
		{fault.AirLid, plumbing.Effects{Air: 0.1},
			map[fault.Sign]bool{fault.AirInPot: true, fault.Bubbles: true, fault.LidTestHolds: true,
				fault.LevelLow: false}},
	} {
		c.e.Load = 0.4
		r := diagnose(t, m, Belief{Mean: 0.4, SD: 0.15}, c.s, all(t, m, 2400, c.e)) // adds to one: no pair
		assert.Equal(t, c.is, first(r), show(r))
		for _, s := range r.Suspects {
			assert.Empty(t, s.With, s.Fault.ID)
		}
	}
}

func TestEffectsAddUp(t *testing.T) {
	_, ok := plumbing.Effects{SuctionLine: 0, SuctionExtra: 3}.Plus(plumbing.Effects{SuctionLine: 1, SuctionExtra: 3})
	assert.False(t, ok, "two lines of one side")
	_, ok = plumbing.Effects{Setting: pad.SetWaste}.Plus(plumbing.Effects{Setting: pad.SetClosed})
	assert.False(t, ok, "two settings")
	sum, ok := plumbing.Effects{
		SuctionLine:  1,
		SuctionExtra: 3,
		Air:          0.1,
	}.Plus(
		plumbing.Effects{ReturnLine: -1, ReturnExtra: 2, Air: 0.1, Load: 1},
	)
	require.True(t, ok)
	assert.InDelta(t, 0.19, sum.Air, 1e-12)
	assert.Equal(t, 1, sum.SuctionLine)
	assert.Equal(t, -1, sum.ReturnLine)
	rapid.Check(t, func(t *rapid.T) {
		share := rapid.Float64Range(0, 0.9)
		draw := func(name string) plumbing.Effects {
			return plumbing.Effects{
				Load:     share.Draw(t, name+" load"),
				Basket:   share.Draw(t, name+" basket"),
				HeadLost: share.Draw(t, name+" head"),
				Air:      share.Draw(t, name+" air"),
			}
		}
		a, b := draw("a"), draw("b")
		x, _ := a.Plus(b)
		y, _ := b.Plus(a)
		assert.InDelta(t, x.HeadLost, y.HeadLost, 1e-12)
		assert.Equal(t, x.Basket, y.Basket)
		assert.GreaterOrEqual(t, x.Air, math.Max(a.Air, b.Air)-1e-12)
		none, _ := a.Plus(plumbing.Effects{})
		assert.InDelta(t, a.Air, none.Air, 1e-12)
	})
}
