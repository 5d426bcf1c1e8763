package plumbing

import (
	"encoding/json"
	"flag"
	"fmt"
	"math"
	"os"
	"os/exec"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/pad"
	"fairlap/core/pad/padtest"
	"fairlap/core/units"
)

var writeNetworks = flag.Bool("write-networks", false, "write testdata/networks.json for testdata/epanet.mjs")

// epanetCase is one network in both engines' terms.
type epanetCase struct {
	Name  string       `json:"name"`
	Inp   string       `json:"inp"`
	Links []string     `json:"links"`
	Nodes []string     `json:"nodes"`
	solve func() error // from the flows found last
	cold  func() error
	flow  map[string]float64
	head  map[string]float64
}

func inp(t testing.TB, name string, m *Model, op pad.Operation, e Effects) epanetCase {
	c := epanetCase{Name: name, flow: map[string]float64{}, head: map[string]float64{}}
	s := m.Solver()
	_, err := s.Solve(op, e)
	require.NoError(t, err)
	c.solve = func() error { return s.View.net.Solve(s.View.links, &s.View.sol) }
	c.cold = func() error {
		s.View.sol.Forget()
		return s.View.net.Solve(s.View.links, &s.View.sol)
	}
	var b strings.Builder
	s.writeNetwork(&b, float64(op.Speed)/m.Doc.Pump.TopRPM)
	c.Inp = b.String()
	// Still water on a dead end has no head worth comparing: EPANET calls it cut off.
	top := 0.0
	for _, q := range s.View.sol.Flow {
		top = math.Max(top, math.Abs(q))
	}
	wet := s.View.reached()
	for i, l := range s.View.links {
		if !wet[l.From] || !wet[l.To] {
			continue
		}
		id := fmt.Sprintf("l%d", i)
		c.Links = append(c.Links, id)
		c.flow[id] = s.View.sol.Flow[i] * 1000
		for _, n := range []int{l.From, l.To} {
			id := fmt.Sprintf("n%d", n)
			if _, seen := c.head[id]; !seen && !s.View.nodes[n].Fixed && math.Abs(s.View.sol.Flow[i]) > 0.001*top {
				c.Nodes = append(c.Nodes, id)
				c.head[id] = s.View.sol.Head[n] + inpDatum
			}
		}
	}
	return c
}

func epanetCases(t testing.TB) []epanetCase {
	var out []epanetCase
	for _, kind := range []pad.FilterKind{pad.Sand, pad.Cartridge, pad.DE} {
		doc := padtest.SandPad()
		doc.Pump.Curve = []pad.CurveFt{
			{GPM: 0, Ft: 90},
			{GPM: 40, Ft: 90 - 40*40*0.004},
			{GPM: 80, Ft: 90 - 80*80*0.004},
			{GPM: 120, Ft: 90 - 120*120*0.004},
		}
		doc.Heater, doc.Cell, doc.CheckValve = &pad.Device{
			Model:    "Ember 250",
			DropPsi:  2.4,
			AtGPM:    60,
			LeastGPM: 30,
		}, &pad.Device{
			Model:    "Halide 40",
			DropPsi:  1.2,
			AtGPM:    60,
			LeastGPM: 25,
		}, true
		doc.Filter.Kind = kind
		doc.Filter.MediaPsi = map[pad.FilterKind]float64{pad.Sand: 3, pad.Cartridge: 0.5, pad.DE: 1.3}[kind]
		for name, change := range map[string]func(*pad.Document, *Effects) float64{
			"top speed":        func(*pad.Document, *Effects) float64 { return 3450 },
			"2400 rpm":         func(*pad.Document, *Effects) float64 { return 2400 },
			"1200 rpm, loaded": func(_ *pad.Document, e *Effects) float64 { e.Load = 1; return 1200 },
			"skimmer shut":     func(_ *pad.Document, e *Effects) float64 { e.SuctionShut = true; return 2400 },
			"drain shut":       func(d *pad.Document, _ *Effects) float64 { d.Suction[1].Opening = 0; return 2400 },
			"drain throttled":  func(d *pad.Document, _ *Effects) float64 { d.Suction[1].Opening = 0.25; return 2750 },
			"one return shut":  func(d *pad.Document, _ *Effects) float64 { d.Returns[0].Opening = 0; return 2750 },
		} {
			d, e := doc, Effects{}
			d.Suction, d.Returns = append([]pad.Line(nil), doc.Suction...), append([]pad.Line(nil), doc.Returns...)
			rpm := change(&d, &e)
			out = append(
				out,
				inp(t, fmt.Sprintf("%s, %s", kind, name), model(t, d), pad.Operation{Speed: units.Speed(rpm)}, e),
			)
		}
	}
	for name, op := range map[string]pad.Operation{
		"pool":                  {Speed: 2400},
		"spa":                   {Speed: 2750, Handles: pad.Handles{"suction-valve": 0, "return-valve": 0}},
		"spa fills":             {Speed: 2400, Handles: pad.Handles{"return-valve": 0}},
		"spa drains":            {Speed: 2400, Handles: pad.Handles{"suction-valve": 0}},
		"a little to the spa":   {Speed: 2400, Handles: pad.Handles{"return-valve": 145}},
		"suctions shared":       {Speed: 1800, Handles: pad.Handles{"suction-valve": 60, "return-valve": 100}},
		"heater bypass open":    {Speed: 2400, Handles: pad.Handles{pad.HeaterBypass: 1}},
		"heater bypass at half": {Speed: 3000, Handles: pad.Handles{pad.HeaterBypass: 0.5}},
		"backwash":              {Speed: 3200, Setting: pad.SetBackwash},
		"rinse":                 {Speed: 3000, Setting: pad.SetRinse},
		"waste":                 {Speed: 2000, Setting: pad.SetWaste},
		"recirculate":           {Speed: 2400, Setting: pad.SetRecirculate},
		"in-floor heads only":   {Speed: 3000, Handles: pad.Handles{"return-1": 0, "jets": 0}},
		"feature off":           {Speed: 3000, Handles: pad.Handles{"sheet-fall": 0}},
	} {
		out = append(out, inp(t, "spa pad, "+name, model(t, padtest.SpaPad()), op, Effects{Load: 0.3}))
	}
	return out
}

// Our flows and heads against EPANET (US EPA), the same networks: 0.5 % asked,
// constants alone explain up to 0.2 %.
func TestAgreesWithEPANET(t *testing.T) {
	cases := epanetCases(t)
	if *writeNetworks {
		b, err := json.MarshalIndent(cases, "", " ")
		require.NoError(t, err)
		require.NoError(t, os.WriteFile("testdata/networks.json", b, 0o644))
	}
	b, err := os.ReadFile("testdata/epanet.json")
	require.NoError(t, err)
	var theirs map[string]struct{ Flows, Heads map[string]float64 }
	require.NoError(t, json.Unmarshal(b, &theirs))
	worstFlow, worstHead := 0.0, 0.0
	for _, c := range cases {
		them, ok := theirs[c.Name]
		require.True(t, ok, c.Name)
		top := 0.0
		for _, q := range c.flow {
			top = math.Max(top, math.Abs(q))
		}
		for link, q := range c.flow {
			miss := math.Abs(q-them.Flows[link]) / math.Max(math.Abs(q), 0.02*top)
			worstFlow = math.Max(worstFlow, miss)
			assert.Less(t, miss, 0.005, "%s: flow of %s: %v, EPANET %v L/s", c.Name, link, q, them.Flows[link])
		}
		lift := 0.0
		for _, h := range c.head {
			lift = math.Max(lift, math.Abs(h-inpDatum))
		}
		for node, h := range c.head {
			miss := math.Abs(h-them.Heads[node]) / lift
			worstHead = math.Max(worstHead, miss)
			assert.Less(t, miss, 0.005, "%s: head at %s: %v, EPANET %v m", c.Name, node, h, them.Heads[node])
		}
	}
	t.Logf(
		"%d networks; worst flow %.3f %%, worst head %.3f %% of the largest",
		len(cases),
		100*worstFlow,
		100*worstHead,
	)
}

// The same networks through EPANET in the same run: how many times faster ours is, cold (each solve begins without
// flows) and warm (from the last ones), over the networks that settle in EPANET too.
func BenchmarkSolveBesideEPANET(b *testing.B) {
	cmd := exec.Command("node", "../core/plumbing/testdata/epanet.mjs", "--time")
	cmd.Dir = "../../web"
	text, err := cmd.Output()
	require.NoError(b, err, "EPANET's side needs node and the front end's packages: make .make/npm")
	var theirs []struct {
		Name       string
		Settles    bool
		Cold, Warm float64 // µs
	}
	require.NoError(b, json.Unmarshal(text, &theirs))
	cases := map[string]epanetCase{}
	for _, c := range epanetCases(b) {
		cases[c.Name] = c
	}
	const rounds = 300
	timed := func(solve func() error) float64 {
		from := time.Now()
		for range rounds {
			require.NoError(b, solve())
		}
		return float64(time.Since(from).Nanoseconds()) / 1e3 / rounds
	}
	for b.Loop() {
		var ourCold, ourWarm, theirCold, theirWarm float64
		compared := 0
		for _, t := range theirs {
			c, known := cases[t.Name]
			require.True(b, known, "%s is not in networks.json: -write-networks", t.Name)
			if !t.Settles {
				continue
			}
			compared++
			cold, warm := timed(c.cold), timed(c.solve)
			ourCold, ourWarm, theirCold, theirWarm = ourCold+cold, ourWarm+warm, theirCold+t.Cold, theirWarm+t.Warm
			b.Logf("%-32s cold %6.1f of %7.1f µs, warm %6.1f of %7.1f µs", t.Name, cold, t.Cold, warm, t.Warm)
		}
		n := float64(compared)
		b.ReportMetric(n, "networks")
		b.ReportMetric(float64(len(theirs)-compared), "unstable-in-EPANET")
		b.ReportMetric(ourCold/n, "µs-cold")
		b.ReportMetric(theirCold/n, "EPANET-µs-cold")
		b.ReportMetric(theirCold/ourCold, "times-faster-cold")
		b.ReportMetric(ourWarm/n, "µs-warm")
		b.ReportMetric(theirWarm/n, "EPANET-µs-warm")
		b.ReportMetric(theirWarm/ourWarm, "times-faster-warm")
	}
}
