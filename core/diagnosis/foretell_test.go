package diagnosis

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/loads"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
)

// Between the loads at which it is solved a table keeps to the solver, closer than
// any meter reads.
func TestATableKeepsToTheSolver(t *testing.T) {
	for _, m := range []*plumbing.Model{calibrated(t, pad.Sand), everything(t), calibrated(t, pad.Cartridge)} {
		rd := all(t, m, 2750, plumbing.Effects{})
		s, err := surveyed(&Case{Model: m, Load: midCycle, Readings: []Reading{rd}})
		require.NoError(t, err)
		for _, e := range []plumbing.Effects{{}, {Basket: 6}, {Basket: 60}, {SuctionExtra: 25},
			{ReturnLine: -1, ReturnExtra: 15}, {Air: 0.16}, {CapacityLost: 0.8}, {HeadLost: 0.32}, {Past: 0.5}} {
			tb, err := s.teller.Under(e)
			require.NoError(t, err)
			most := 0.3
			if tb.Rough { // straight lines where the water boils
				require.NoError(t, s.teller.Refine(tb))
				most = 2.5
			}
			for _, l := range loads.Grid {
				under := e
				under.Load = l
				st, err := s.solver.Solve(s.ops[0], under)
				require.NoError(t, err)
				f := tb.At(0, l)
				for k, meter := range pad.AllMeters {
					off := math.Abs(f[k]-st.Value(meter)) / m.Doc.Meters.Noise(meter, st.Value(meter))
					assert.Less(t, off, most, "%s at load %.2f under %+v", meter, l, e)
				}
			}
		}
	}
}
