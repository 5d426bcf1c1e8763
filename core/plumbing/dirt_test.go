package plumbing_test

import (
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
)

// examples are the documented pads.
func examples(t *testing.T) map[string]pad.Document {
	t.Helper()
	files, err := filepath.Glob("../../docs/examples/*.pad.json")
	require.NoError(t, err)
	require.NotEmpty(t, files)
	out := map[string]pad.Document{}
	for _, f := range files {
		text, err := os.ReadFile(f)
		require.NoError(t, err)
		var d pad.Document
		require.NoError(t, json.Unmarshal(text, &d))
		out[strings.TrimSuffix(filepath.Base(f), ".pad.json")] = d
	}
	return out
}

// At load 1 the rule that rules is just reached, and none of the others is passed.
func TestTheFirstLimitIsLoadOne(t *testing.T) {
	rules := map[plumbing.RuleID]int{}
	for name, d := range examples(t) {
		for _, programme := range [][]pad.Slot{d.Programme, {{StartHour: 8, Hours: 10, RPM: d.Pump.TopRPM}},
			{{StartHour: 8, Hours: 10, RPM: 0.5 * d.Pump.TopRPM},
				{StartHour: 20, Hours: 2, RPM: 0.8 * d.Pump.TopRPM}}} {
			if d.Pump.Kind == pad.SingleSpeed {
				programme = d.Programme
			}
			d.Programme = programme
			m, err := plumbing.New(d, plumbing.Nominal(), units.Fahrenheit(80), units.PSI(8))
			require.NoError(t, err, name)
			tight, err := m.Within(1.0 / 3)
			require.NoError(t, err, name)
			rules[tight.Ruling.Rule]++
			assert.GreaterOrEqual(t, tight.LoadScale(), 1-1e-9, "%s: never laxer than the rise", name)
			at := func(v units.Speed, load float64) plumbing.State {
				st, err := tight.Solver().Solve(pad.Operation{Speed: v}, plumbing.Effects{Load: load})
				require.NoError(t, err)
				return st
			}
			top, topClean := at(tight.TopSpeed(), 1), at(tight.TopSpeed(), 0)
			assert.LessOrEqual(t, (top.Tank - topClean.Tank).PSI(), 8.01, name)
			if r := tight.Ruling; r.Daily > 0 {
				assert.InDelta(t, r.Left.GPM(), at(r.Daily, 1).Flow.GPM(), 1e-6)
				assert.LessOrEqual(
					t,
					1-float64(r.Left/r.Clean),
					1.0/3+0.001,
					"%s: a third of the daily flow at most",
					name,
				)
			}
			switch r := tight.Ruling; r.Rule {
			case plumbing.RuleFlowLoss:
				assert.InDelta(t, 1.0/3, 1-float64(r.Left/r.Clean), 0.001, name)
			case plumbing.RuleCeiling:
				assert.InDelta(t, 30, at(r.Speed, 1).Tank.PSI(), 0.01, name)
			case plumbing.RuleRise:
				assert.InDelta(t, 8, (top.Tank - topClean.Tank).PSI(), 0.01, name)
			}
			// The same dirt in both scales: readings say the same.
			rise, err := m.Solver().Solve(pad.Operation{Speed: m.TopSpeed()}, plumbing.Effects{Load: 0.5})
			require.NoError(t, err)
			assert.InDelta(t, rise.Tank.PSI(), at(m.TopSpeed(), 0.5*tight.LoadScale()).Tank.PSI(), 1e-3, name)
		}
	}
	t.Log(rules)
	assert.Greater(t, len(rules), 1, "more than one rule rules")
}

// A speed to work at keeps the limits that its water meets, and the next one does not.
func TestWorkingSpeedsKeepTheLimits(t *testing.T) {
	for name, d := range examples(t) {
		m, err := plumbing.New(d, plumbing.Nominal(), units.Fahrenheit(80), units.PSI(8))
		require.NoError(t, err, name)
		for _, set := range d.Settings() {
			if !set.MayRun() {
				continue
			}
			w, err := m.FastestKeeping(pad.Operation{Setting: set}, true)
			require.NoError(t, err, "%s on %s", name, set)
			if !w.Keeps {
				assert.LessOrEqual(
					t,
					float64(w.Speed),
					max(d.Pump.LeastRPM, 600)+50,
					"%s on %s: the slowest there is",
					name,
					set,
				)
				continue
			}
			st, err := m.Solver().Solve(pad.Operation{Speed: w.Speed, Setting: set}, plumbing.Effects{})
			require.NoError(t, err)
			assert.LessOrEqual(t, st.Tank.PSI(), 30.0)
			assert.False(t, st.Cavitating)
			if rate := map[pad.FilterKind]float64{pad.Sand: 20, pad.Cartridge: 1,
				pad.DE: 2}[d.Filter.Kind]; set == pad.SetFilter {
				assert.LessOrEqual(t, st.Flow.GPM(), rate*d.Filter.AreaFt2+1e-6, "NSF/ANSI 50's rates (from memory)")
			}
		}
	}
}

// A slot holds the minutes from its start on, over midnight too.
func TestASlotHoldsItsHours(t *testing.T) {
	at := func(h, m int) time.Time { return time.Date(2026, 11, 24, h, m, 0, 0, time.UTC) }
	night := pad.Slot{StartHour: 21, Hours: 9, RPM: 950}
	for want, times := range map[bool][]time.Time{true: {at(21, 0), at(23, 59), at(5, 59)},
		false: {at(20, 59), at(6, 0), at(14, 50)}} {
		for _, x := range times {
			assert.Equal(t, want, night.Holds(x), x)
		}
	}
	assert.True(t, pad.Slot{Hours: 24}.Holds(at(13, 13)))
}
