package judge

import (
	"fmt"
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/drawn"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/procedure"
	"fairlap/core/stop"
	"fairlap/core/units"
	"fairlap/core/upkeep"
)

// A needle moved from nought past the pump's shut-off, on every example pad, by itself, before and
// after a wash (the trade's rules: handbook, faults): the load never falls while it rises; at its own
// limit a filter is never left nor called sound; on its clean line nothing is cleaned; over what a
// tank carries the pump is slowed before all else, whatever chemicals are in.
func TestANeedleMovedFromNoughtPastShutOff(t *testing.T) {
	seen, looked, over := map[string]bool{}, 0, 0
	for _, g := range examples(t, 1) {
		doc := &g.pack.Pad
		name := doc.Pump.Model + doc.Filter.Model + fmt.Sprint(len(g.pack.CleanLine), len(doc.Suction))
		if seen[name] || doc.SmallUnit() {
			continue
		}
		seen[name] = true
		g.pack.History.HadForecast = true
		g.pack.History.Chemicals = nil
		rig := procedure.RigOf(doc)
		wash := stop.Entry{ID: "wash", At: g.now.Add(-time.Hour), Kind: stop.Ran, Run: &stop.Run{
			Name: "Backwash", Over: true, State: rig.Daily(),
			Result: procedure.Result{Work: "cleaned", WashSeconds: 120, WashUsual: 120},
		}}
		for _, washed := range []bool{false, true} {
			p := g.pack
			if p.Book = nil; washed {
				p.Book = stop.Book{wash}
			}
			s, err := p.Ready()
			require.NoError(t, err)
			for _, speed := range drawn.Some([]units.Speed{s.Model.TopSpeed(), 0.7 * s.Model.TopSpeed()}) {
				n, above := swept(t, s, g, speed, washed)
				looked, over = looked+n, over+above
			}
		}
	}
	t.Logf("%d needles, %d over what the tank carries", looked, over)
	assert.Greater(t, looked, 40)
	assert.Positive(t, over)
}

func swept(t *testing.T, s *Stop, g given, speed units.Speed, washed bool) (looked, over int) {
	if s.Model.Doc.Pump.Kind == pad.SingleSpeed {
		speed = s.Model.TopSpeed()
	}
	solve := func(load float64) float64 {
		st, err := s.Model.Solver().Solve(pad.Operation{Speed: speed}, plumbing.Effects{Load: load})
		require.NoError(t, err)
		return st.Tank.PSI()
	}
	clean, limit, shut := solve(0), math.Min(30, solve(1)), solve(60)
	if label := s.Model.Doc.Filter.LabelPsi; label > 0 {
		limit = math.Min(limit, label)
	}
	step := 0.5
	if testing.Short() {
		step = 2
	}
	last := math.Inf(-1)
	for psi := 0.0; psi <= shut+3; psi += step {
		v, _, err := s.Judge(Findings{
			Readings: []TypedReading{{Speed: fmt.Sprintf("%.0f", speed), Tank: fmt.Sprint(psi), At: &g.now}},
			Signs:    map[string]bool{},
		}, g.now, nil)
		require.NoError(t, err)
		looked++
		at := fmt.Sprintf("%s, %.0f rpm, %.1f psi (clean %.1f, limit %.1f), washed %v", g.name, speed, psi, clean,
			limit, washed)
		assert.GreaterOrEqual(t, v.Load.Mean, last-0.005, at)
		last = v.Load.Mean
		if psi > limit+0.01 {
			assert.NotContains(t, []string{"sound", "dirt", "fix"}, v.State, at)
			assert.NotEqual(t, upkeep.LeaveIt, v.Advice.Action, at)
		}
		if psi < clean && !washed {
			assert.NotEqual(t, upkeep.CleanNow, v.Advice.Action, at)
		}
		if psi >= 30 && v.State != "stop" {
			over++
			assert.Contains(t, []upkeep.Action{upkeep.CleanNow, upkeep.WaitHold}, v.Advice.Action, at)
			assert.Contains(t, string(v.Advice.Text), "slow-it", at)
		}
	}
	return looked, over
}
