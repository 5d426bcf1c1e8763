package diagnosis

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
)

// Every line of evidence opens to the numbers that its words and its weight are
// made of.
func TestEvidenceOpensToItsNumbers(t *testing.T) {
	m := calibrated(t, pad.Sand)
	rd := all(t, m, 2400, plumbing.Effects{Basket: restriction80, Load: 0.4})
	r := diagnose(
		t,
		m,
		midCycle,
		map[fault.Sign]bool{fault.BasketFull: true, fault.AirInPot: false, fault.WeakAll: false},
		rd,
	)
	require.Equal(t, fault.BasketFullFault, first(r), show(r))
	meters, looks := 0, 0
	for _, s := range r.Suspects[:3] {
		for _, ev := range append(append([]Evidence{}, s.For...), s.Against...) {
			if n := ev.Meters; n != nil {
				meters++
				x, _ := rd.Value(pad.Meter(ev.Meter))
				_, read := tradeFigure(pad.Meter(ev.Meter), x)
				assert.InDelta(t, read, n.Read, 1e-9)
				assert.Positive(t, n.Sigma)
				if s.Fault.ID == fault.BasketFullFault {
					assert.Less(t, math.Abs(n.Read-n.Fits), 2*n.Sigma, say(ev.Text))
				}
			}
			if n := ev.Looks; n != nil {
				looks++
				assert.True(t, n.Here > 0 && n.Here <= 1 && n.Sound > 0 && n.Sound <= 1, say(ev.Text))
				assert.Equal(t, ev.Sign == string(fault.BasketFull), n.Yes)
				if s.Fault.ID == fault.BasketFullFault && n.Yes {
					assert.Greater(t, n.Here, 10*n.Sound)
				}
			}
		}
	}
	assert.Greater(t, meters, 2)
	assert.Positive(t, looks)
}

func TestSeasonMovesTheOdds(t *testing.T) {
	m := calibrated(t, pad.Sand)
	rd := all(t, m, 2400, plumbing.Effects{Basket: restriction80, Load: 0.5})
	with := func(s fault.Season) float64 {
		r, err := Diagnose(
			Case{Model: m, Readings: []Reading{rd}, Load: midCycle, Season: s, Signs: map[fault.Sign]bool{}},
		)
		require.NoError(t, err)
		return chance(r, fault.BasketFullFault)
	}
	assert.Greater(t, with(fault.Autumn), with(""))
	assert.Less(t, with(fault.Winter), with(fault.Autumn))
}
