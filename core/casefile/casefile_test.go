package casefile

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/catalogue"
	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/pad"
)

func ptr[T any](v T) *T { return &v }

// bare is the least case: a pad without a clean line, one gauge.
func bare() Case {
	d := pad.Sketch{
		Pump:     *catalogue.Find("Brisk 75").Pump,
		Filter:   *catalogue.Find("Stanchion S20").Filter,
		PipeIn:   1.5,
		LengthFt: 30,
	}.Document()
	return Case{Pad: d, Readings: []Reading{{RPM: 3450, TankPsi: ptr(21.0)}}, Signs: map[string]bool{"weak-one": false}}
}

func text(c Case) string {
	b, _ := json.Marshal(c)
	return string(b)
}

func solve(t *testing.T, c Case) Answer {
	ec, err := c.Engine()
	require.NoError(t, err)
	r, err := diagnosis.Diagnose(ec)
	require.NoError(t, err)
	return Write(r)
}

func TestTheLeastCaseGetsAnAnswer(t *testing.T) {
	c, errs := Read(strings.NewReader(text(bare())))
	require.Empty(t, errs)
	a := solve(t, *c)
	assert.Equal(t, diagnosis.EngineVersion, a.Engine)
	assert.Less(t, a.Suspects[0].P, 0.95, "never certainty from one gauge")
	// No gauge at all, and contradictory ones: still an answer.
	c.Readings = nil
	assert.NotEmpty(t, solve(t, *c).Suspects)
	c.Readings = []Reading{{RPM: 3450, TankPsi: ptr(8.0)}, {RPM: 3450, TankPsi: ptr(27.0)}}
	a = solve(t, *c)
	assert.True(t, a.Misfit != "" || a.Suspects[0].ID == "gauge-bad" || a.Other > 0.2, "%+v", a)
}

func TestContextReachesTheEngine(t *testing.T) {
	c := bare()
	c.Context = Context{
		Load:     ptr(1.1),
		LoadSD:   0.1,
		Open:     []string{"gauge-bad"},
		Worn:     map[string]float64{"gauge-bad": 1.3},
		WaterF:   60,
		LimitPsi: 10,
	}
	ec, err := c.Engine()
	require.NoError(t, err)
	assert.Equal(t, diagnosis.Belief{Mean: 1.1, SD: 0.1}, ec.Load)
	assert.Len(t, ec.Open, 1)
	assert.InDelta(t, 10, ec.Model.LimitRise.PSI(), 1e-9)
	assert.InDelta(t, 60, ec.Model.Water.Temperature.Fahrenheit(), 1e-9)
}

// Two faults at once are told with each other, and fixes in their order.
func TestTheAnswerTellsPairsAndFixes(t *testing.T) {
	c := bare()
	c.Context.Season = "autumn"
	c.Signs = map[string]bool{"basket-full": true, "drip-seal": true}
	ec, err := c.Engine()
	require.NoError(t, err)
	assert.Equal(t, fault.Autumn, ec.Season)
	a := solve(t, c)
	require.Len(t, a.Suspects[0].With, 1, "two at once are one row: %+v", a.Suspects[0])
	both := []string{a.Suspects[0].ID, a.Suspects[0].With[0].ID}
	assert.ElementsMatch(t, []string{"basket-full", "seal-leak"}, both)
	assert.Len(t, a.Found, 2, "each was seen")
	require.GreaterOrEqual(t, len(a.FixOrder), 2)
	for i := 1; i < len(a.FixOrder); i++ {
		assert.GreaterOrEqual(t, a.FixOrder[i-1].P/a.FixOrder[i-1].Minutes, a.FixOrder[i].P/a.FixOrder[i].Minutes)
		assert.Greater(t, a.FixOrder[i].Spent, a.FixOrder[i-1].Spent)
	}
}

func TestMistakesAreNamed(t *testing.T) {
	for _, c := range []struct {
		spoil         func(*Case)
		path, message string
	}{
		{func(c *Case) { c.Signs["weak-won"] = true }, "signs.weak-won", "Did you mean weak-one?"},
		{func(c *Case) { c.Signs["zzz"] = true }, "signs.zzz", "unknown sign"},
		{func(c *Case) { c.Readings[0].RPM = 3900 }, "readings[0].rpm", "top speed"},
		{func(c *Case) { c.Readings[0] = Reading{RPM: 0, FlowGPM: ptr(30.0)} }, "readings[0].rpm", "only the filter pressure"},
		{func(c *Case) { c.Readings[0].TankPsi = ptr(400.0) }, "readings[0].tankPsi", "between"},
		{func(c *Case) { c.Readings[0].Setting = "sideways" }, "readings[0].setting", "one of"},
		{func(c *Case) { c.Context.Open = []string{"gremlins"} }, "context.open[0]", "unknown fault"},
		{func(c *Case) { c.Context.Worn = map[string]float64{"gauge-bed": 1} }, "context.worn.gauge-bed", "Did you mean gauge-bad?"},
		{func(c *Case) { c.Context.Season = "monsoon" }, "context.season", "one of"},
		{func(c *Case) { c.Pad.Returns = nil }, "pad.returns", "at least 1"},
	} {
		bad := bare()
		c.spoil(&bad)
		_, errs := Read(strings.NewReader(text(bad)))
		found := false
		for _, e := range errs {
			found = found || e.Path == c.path && strings.Contains(say(e.Text), c.message)
		}
		assert.True(t, found, "%s: %v", c.path, errs)
	}
	for _, s := range []string{"", "{", "[]", text(bare()) + "{}", strings.Repeat(" ", largest+2)} {
		_, errs := Read(strings.NewReader(s))
		assert.NotEmpty(t, errs)
	}
}

func FuzzRead(f *testing.F) {
	f.Add(text(bare()))
	f.Fuzz(func(t *testing.T, s string) {
		c, errs := Read(strings.NewReader(s))
		if len(errs) > 0 {
			return
		}
		if ec, err := c.Engine(); err == nil {
			_, _ = diagnosis.Diagnose(ec)
		}
	})
}
