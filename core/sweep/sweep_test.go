package sweep

import (
	"fmt"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/casefile"
	"fairlap/core/judge"
	"fairlap/core/upkeep"
)

// packs are the different pads of the example cases, each with its clean line.
func packs(t *testing.T, now time.Time) []judge.Pack {
	t.Helper()
	files, err := filepath.Glob("../../docs/examples/*.case.json")
	require.NoError(t, err)
	seen := map[string]bool{}
	var out []judge.Pack
	for _, f := range files {
		text, err := os.Open(f)
		require.NoError(t, err)
		c, wrong := casefile.Read(text)
		require.NoError(t, text.Close())
		require.Empty(t, wrong, f)
		name := c.Pad.Pump.Model + c.Pad.Filter.Model + fmt.Sprint(len(c.CleanLine), len(c.Pad.Suction))
		if seen[name] || c.Pad.SmallUnit() {
			continue
		}
		seen[name] = true
		out = append(out, Usual(judge.Pack{
			Pool: filepath.Base(f), Gallons: 15000, Zone: "America/Phoenix", Pad: c.Pad, CleanLine: c.CleanLine,
		}, now))
	}
	return out
}

// A needle moved from nought past the pump's shut-off on every example pad (the trade's rules: handbook, faults, from
// common practice): no answer breaks a rule.
func TestNoNeedleBreaksARule(t *testing.T) {
	t.Parallel()
	now := time.Date(2026, 7, 14, 10, 0, 0, 0, time.UTC)
	step := 0.5
	if testing.Short() {
		step = 3
	}
	var all Report
	for _, p := range packs(t, now) {
		r, err := Pad(p, now, step)
		require.NoError(t, err)
		all.Add(r)
	}
	for _, b := range all.Broken {
		t.Errorf("%s: %s", b.Rule, b.At)
	}
	t.Logf("%d needles, %d over what the tank carries, %d that stop the pump", all.Needles, all.Over, all.Stopped)
	assert.Greater(t, all.Needles, 100)
	assert.Positive(t, all.Over)
	assert.Positive(t, all.Stopped)
}

// Each rule is one that an answer can break.
func TestABrokenRuleIsCounted(t *testing.T) {
	w := way{s: &judge.Stop{}, clean: 10, limit: 18, ceiling: 30}
	held := w
	held.held = true
	answer := func(state string, action upkeep.Action, load float64) *judge.Verdict {
		v := &judge.Verdict{State: state}
		v.Advice.Action, v.Load.Mean = action, load
		return v
	}
	for _, x := range []struct {
		psi, last float64
		v         *judge.Verdict
		rules     []Rule
	}{
		{14, 0.5, answer("dirt", upkeep.LeaveIt, 0.5), nil},
		{14, 0.5, answer("dirt", upkeep.LeaveIt, 0.49), []Rule{LoadFalls}},
		{18, 0.5, answer("dirt", upkeep.LeaveIt, 1), nil},
		{18.5, 0.5, answer("past", upkeep.LeaveIt, 1), []Rule{PastIsLeft}},
		{18.5, 0.5, answer("sound", upkeep.CleanNow, 1), []Rule{PastIsLeft}},
		{9.5, 0, answer("sound", upkeep.CleanNow, 0), []Rule{CleanIsDone}},
		{30, 1, answer("past", upkeep.CleanNow, 3), []Rule{OverStays}},
		{30, 1, answer("stop", upkeep.StopFirst, 3), nil},
		{30, 1, answer("stop", upkeep.CleanNow, 3), []Rule{StopIsLost}},
	} {
		var got []Rule
		for _, b := range w.broken(x.psi, x.last, x.v) {
			got = append(got, b.Rule)
		}
		assert.Equal(t, x.rules, got, "%g psi, %s, %s", x.psi, x.v.State, x.v.Advice.Action)
	}
	assert.Empty(t, held.broken(14, 0.5, answer("dirt", upkeep.LeaveIt, 0.49)), "a held flow is a meter too")
}
