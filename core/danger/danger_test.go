package danger

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"fairlap/core/hydraulics"
	"fairlap/core/plumbing"
	"fairlap/core/units"
)

// The label binds where it is read; without it 50 psi is the vessel's limit (handbook, safety; common practice), and
// service's ceiling asks for care before that.
func TestATanksCeilings(t *testing.T) {
	service := plumbing.ServiceCeiling.PSI()
	for _, x := range []struct {
		worst, label float64
		code         string
		stop         bool
	}{
		{worst: service - 1}, {service, 0, "tank-over-service", false}, {service + 1, 0, "tank-over-service", false},
		{49, 0, "tank-over-service", false}, {50, 0, "tank-over-vessel", true}, {51, 0, "tank-over-vessel", true},
		{35, 35, "tank-over-service", false}, {36, 35, "tank-over-label", true}, {14, 15, "", false},
		{16, 15, "tank-over-label", true}, {50, 60, "tank-over-vessel", true},
	} {
		d, over := OverCeiling(units.PSI(x.worst), units.PSI(x.label))
		assert.Equal(t, x.code != "", over, "%+v", x)
		assert.Equal(t, [2]any{x.code, x.stop}, [2]any{d.Code, d.Stop}, "%+v", x)
	}
}

// More pressure is never less of a danger, and a lower label never allows more.
func TestMorePressureIsNeverLessOfADanger(t *testing.T) {
	grade := func(p, label float64) int {
		d, over := OverCeiling(units.PSI(p), units.PSI(label))
		switch {
		case d.Stop:
			return 2
		case over:
			return 1
		}
		return 0
	}
	rapid.Check(t, func(t *rapid.T) {
		p := rapid.Float64Range(0, 80).Draw(t, "psi")
		more := p + rapid.Float64Range(0, 40).Draw(t, "more")
		label := rapid.Float64Range(1, 75).Draw(t, "label")
		lower := label * rapid.Float64Range(0.2, 1).Draw(t, "lower")
		assert.GreaterOrEqual(t, grade(more, label), grade(p, label))
		assert.GreaterOrEqual(t, grade(p, lower), grade(p, label))
		assert.GreaterOrEqual(t, grade(p, label), grade(p, 0), "a label only adds to the limits without it")
	})
}

// Water that has no path is a danger whoever set the handles: found so, or suspected.
func TestEveryStateWithoutAPathStops(t *testing.T) {
	for _, c := range []hydraulics.Condition{hydraulics.DeadHead, hydraulics.DrySource, hydraulics.NoPath} {
		assert.True(t, ByHandles[c].Stop, c)
	}
	for c, d := range BySuspect {
		assert.True(t, d.Stop, c)
		assert.NotEqual(t, ByHandles[c].Text, d.Text, "what is suspected is not said as found")
	}
	assert.True(t, Halt("x", "y").Stop)
	assert.False(t, Heed("x", "y").Stop)
}
