package speedplan

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/catalogue"
	"fairlap/core/drawn"
	"fairlap/core/limits"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
)

// checker holds a day to its needs. It takes the slots alone from the planner: what they give is solved here for
// each speed, and added up by the minute.
type checker struct {
	m       *plumbing.Model
	n       *Needs
	most    float64             // the fastest that breaks no limit of filtering
	spa     pad.Handles         // the handles on the spa
	flows   map[float64]float64 // gpm with the filter at its limit, by speed
	watts   map[[2]float64]float64
	limits  []limits.Limit
	spaMost float64
	waived  map[NeedID]bool // needs that gave way
}

func checkerOf(t testing.TB, m *plumbing.Model, gentle bool) *checker {
	c := &checker{m: m, most: m.Doc.Pump.TopRPM, flows: map[float64]float64{}, watts: map[[2]float64]float64{}}
	c.spaMost = math.Inf(1)
	if spa, ok := m.Doc.SpaMode(); ok {
		c.spa = spa
		w, err := m.FastestKeeping(pad.Operation{Handles: spa}, false)
		require.NoError(t, err)
		c.spaMost = float64(w.Speed)
	}
	rep, err := limits.Of(m, units.Gallons(18000))
	require.NoError(t, err)
	c.limits = rep.Limits
	for _, l := range rep.Limits {
		if l.Job == limits.JobFilter && l.SpeedBound == limits.AtMost && (!l.Advice || gentle && l.ID == "media-gentle") {
			c.most = math.Min(c.most, float64(l.Speed))
		}
	}
	return c
}

// device is the slowest speed at which a device has its least flow, with the filter at its limit.
func (c *checker) device(id limits.ID) float64 {
	for _, l := range c.limits {
		if l.Job == limits.JobFilter && l.ID == id {
			return float64(l.Speed)
		}
	}
	return math.Inf(1)
}

func (c *checker) flow(t require.TestingT, rpm float64) float64 {
	if q, ok := c.flows[rpm]; ok {
		return q
	}
	st, err := c.m.Solver().Solve(pad.Operation{Speed: units.Speed(rpm)}, plumbing.Effects{Load: 1})
	require.NoError(t, err)
	c.flows[rpm] = st.Flow.GPM()
	return c.flows[rpm]
}

func (c *checker) power(t require.TestingT, rpm float64, spa bool) float64 {
	key, op := [2]float64{rpm, 0}, pad.Operation{Speed: units.Speed(rpm)}
	if spa && c.spa != nil {
		key[1], op.Handles = 1, c.spa
	}
	if w, ok := c.watts[key]; ok {
		return w
	}
	st, err := c.m.Solver().Solve(op, plumbing.Effects{Load: 0.5})
	require.NoError(t, err)
	c.watts[key] = float64(st.Power)
	return c.watts[key]
}

// within tells whether a minute lies in a span of whole hours that it touches.
func within(s Span, minute int) bool {
	h := math.Floor(float64(minute) / 60)
	for at := h + 0.01; at < h+1; at += 0.01 {
		if s.From < s.To && at >= s.From && at < s.To || s.From > s.To && (at >= s.From || at < s.To) {
			return true
		}
	}
	return false
}

// bars are the needs that a speed breaks in a minute; begins: the pump stood still before.
func (c *checker) bars(i int, v float64, begins bool) map[NeedID]bool {
	n, out := c.n, map[NeedID]bool{}
	if v == 0 {
		for id, s := range map[NeedID]Span{NeedHeat: n.Heat, NeedClean: n.Clean, NeedSpa: n.Spa, NeedAwake: n.Awake,
			NeedFrost: n.Frost} {
			out[id] = within(s, i)
		}
		return out
	}
	loudest := v
	if begins && n.PrimeMin > 0 { // while it primes, its full speed is what is heard
		loudest = math.Max(v, n.PrimeRPM)
	}
	spa := c.spa != nil && within(n.Spa, i)
	out[NeedLimit], out[NeedSkim] = v > c.most+1 && !spa, v < n.SkimRPM-1
	out[NeedQuiet] = n.QuietRPM > 0 && within(n.Quiet, i) && loudest > n.QuietRPM+1
	out[NeedHeat] = within(n.Heat, i) && v < c.device("heater-flow")-1
	out[NeedClean] = within(n.Clean, i) && v < n.CleanRPM-1
	out[NeedSpa] = within(n.Spa, i) && (v < n.SpaRPM-1 || v > c.spaMost+1)
	out[NeedPeak] = within(n.Peak, i) &&
		(n.PeakWay == PeakOff || n.PeakWay == PeakLow && n.LowRPM > 0 && loudest > n.LowRPM+1)
	return out
}

// gains are what an hour at a speed adds to the day, by what the day must add up to.
func (c *checker) gains(t require.TestingT, h int, v float64) gains {
	var g gains
	if v == 0 {
		return g
	}
	if g[runHours] = 1; v >= c.device("cell-flow")-1 {
		g[cellHours] = 1
	}
	if within(c.n.Spa, 60*h) {
		return g
	}
	if g[turnover] = 60 * c.flow(t, v); v >= c.n.HighRPM-1 && (c.n.HighIn.None() || c.n.HighIn.Whole(h)) {
		g[highHours] = 1
	}
	return g
}

// starting is what a start costs in an hour.
func (c *checker) starting(t require.TestingT, h int) float64 {
	price, _ := c.n.Tariff.At(h)
	return c.power(t, c.n.PrimeRPM, false)/1000*c.n.PrimeMin/60*math.Max(0, price) + c.n.StartWear
}

func (c *checker) asked() gains {
	n := c.n
	return gains{
		turnover: n.Turnovers * n.Gallons, highHours: n.HighHours, cellHours: n.CellHours, runHours: n.LeastRun,
	}
}

// breaks are the needs that a programme breaks, and its cost.
func (c *checker) breaks(t require.TestingT, slots []pad.Slot) (map[NeedID]bool, float64) {
	n, out := c.n, map[NeedID]bool{}
	var rpm [24 * 60]float64
	for _, s := range slots {
		for i := range int(math.Round(s.Hours * 60)) {
			at := (int(math.Round(s.StartHour*60)) + i) % len(rpm)
			require.Zero(t, rpm[at], "two slots at once")
			rpm[at] = s.RPM
		}
	}
	var have gains
	cost, starts := 0.0, 0
	for i, v := range rpm {
		begins := v > 0 && rpm[(i+len(rpm)-1)%len(rpm)] == 0
		for id, is := range c.bars(i, v, begins) {
			out[id] = out[id] || is
		}
		if begins {
			starts++
			cost += c.starting(t, i/60)
		}
		price, _ := n.Tariff.At(i / 60)
		cost += c.power(t, v, within(n.Spa, i)) / 1000 / 60 * price
		for r, g := range c.gains(t, i/60, v) {
			have[r] += g / 60
		}
	}
	for r, id := range map[int]NeedID{
		turnover: NeedTurnover, highHours: NeedHigh, cellHours: NeedCell, runHours: NeedRun,
	} {
		need := c.asked()[r]
		out[id] = have[r] < need-0.02-0.002*need
	}
	out[NeedSlots], out[NeedStarts] = len(slots) > n.Slots, n.Starts > 0 && starts > n.Starts
	return out, cost
}

// cheaper is what a day may come to where any two of its hours are run otherwise, and it still meets its needs.
func (c *checker) cheaper(t require.TestingT, speeds []float64, slots []pad.Slot) float64 {
	var day [24]int
	for _, s := range slots {
		for i := range int(s.Hours) {
			day[(int(s.StartHour)+i)%24] = slices.Index(speeds, s.RPM)
		}
	}
	var cost, starting [24][]float64
	var gain [24][]gains
	var barred [24][2][]bool
	for h := range 24 {
		price, _ := c.n.Tariff.At(h)
		for _, v := range speeds {
			cost[h] = append(cost[h], c.power(t, v, within(c.n.Spa, 60*h))/1000*price)
			starting[h], gain[h] = append(starting[h], c.starting(t, h)), append(gain[h], c.gains(t, h, v))
			for begins := range 2 {
				barred[h][begins] = append(barred[h][begins], c.barred(h, v, begins == 1))
			}
		}
	}
	need := c.asked()
	all := func() float64 {
		sum, have, starts, blocks := 0.0, gains{}, 0, 0
		for h, v := range day {
			before, begins := day[(h+23)%24], 0
			if v != before && v > 0 {
				blocks++
			}
			if v > 0 && before == 0 {
				starts, sum, begins = starts+1, sum+starting[h][v], 1
			}
			if barred[h][begins][v] {
				return math.Inf(1)
			}
			sum += cost[h][v]
			for r := range have {
				have[r] += gain[h][v][r]
			}
		}
		for r := range need {
			if have[r] < need[r]-1e-6 {
				return math.Inf(1)
			}
		}
		if max(1, blocks) > c.n.Slots || c.n.Starts > 0 && starts > c.n.Starts {
			return math.Inf(1)
		}
		return sum
	}
	least := all()
	for a := range 24 {
		for b := range a {
			wasA, wasB := day[a], day[b]
			for day[a] = range speeds {
				for day[b] = range speeds {
					least = math.Min(least, all())
				}
			}
			day[a], day[b] = wasA, wasB
		}
	}
	return least
}

func (c *checker) barred(h int, v float64, begins bool) bool {
	for id, is := range c.bars(60*h, v, begins) {
		if is && !c.waived[id] {
			return true
		}
	}
	return false
}

// drawnDay is a day as somebody may want it: usual in most, and odd in some.
func drawnDay(t *rapid.T, p *Pad) *Needs {
	n := usual(p, rapid.Float64Range(6000, 32000).Draw(t, "gallons"), rapid.Float64Range(15, 108).Draw(t, "air"))
	some := func(what string) bool { return rapid.IntRange(0, 3).Draw(t, what) == 0 }
	hour := func(low, high int, what string) float64 { return float64(rapid.IntRange(low, high).Draw(t, what)) }
	asked := func(what string, ids ...NeedID) bool {
		if !some(what) {
			return false
		}
		n.Asked = append(n.Asked, ids...)
		return true
	}
	if asked("turnovers", NeedTurnover) {
		n.Turnovers = hour(0, 5, "halves") / 2
	}
	n.Slots, n.Starts = rapid.IntRange(2, 8).Draw(t, "slots"), rapid.IntRange(0, 2).Draw(t, "starts")
	n.Media = rapid.SampledFrom([]MediaWay{MediaHard, MediaHard, MediaGentle}).Draw(t, "media")
	n.PeakWay = rapid.SampledFrom([]PeakWay{PeakLow, PeakLow, PeakOff, PeakFree}).Draw(t, "peak way")
	if asked("peak", NeedPeak) {
		n.Peak = Span{hour(12, 17, "peak from"), hour(18, 23, "peak to")}
	}
	if asked("quiet", NeedQuiet) {
		n.Quiet, n.QuietRPM = Span{hour(18, 23, "quiet from"), hour(4, 9, "quiet to")}, 100*hour(10, 25, "quiet rpm")
	}
	if asked("high", NeedHigh) {
		n.HighHours, n.HighRPM = hour(0, 6, "fast hours"), 50*hour(24, 60, "fast rpm")
	}
	if asked("awake", NeedAwake) {
		n.Awake = Span{hour(9, 12, "awake from"), hour(13, 20, "awake to")}
	}
	if asked("run", NeedRun) {
		n.LeastRun = hour(0, 16, "hours")
	}
	if p.Doc.Cell != nil && asked("cell", NeedCell) {
		n.CellHours = hour(0, 14, "cell hours")
	}
	if p.Doc.Heater != nil && some("heat") {
		n.Heat = Span{hour(6, 16, "heat from"), hour(17, 21, "heat to")}
	}
	if some("clean") {
		n.Clean, n.CleanRPM = Span{hour(6, 10, "clean from"), hour(11, 14, "clean to")}, 50*hour(24, 66, "clean rpm")
	}
	if p.Doc.Spa != nil && some("spa") {
		n.Spa, n.SpaRPM = Span{hour(16, 19, "spa from"), hour(20, 22, "spa to")}, 50*hour(24, 66, "spa rpm")
	}
	n.Tariff = Tariff{Bands: []Band{
		{Span{21, 16}, rapid.Float64Range(0.05, 0.3).Draw(t, "price")},
		{Span{16, 21}, rapid.Float64Range(-0.05, 0.7).Draw(t, "peak price")},
	}}
	return n
}

// Days as anybody may want them, on pads of every kind of pump but one that holds its flow: no plan breaks a need, a
// limit, quiet hours or frost but for what nobody asked for, which is said, and what is said to be broken is; what it
// is said to cost is what its slots cost.
func TestAnyDayIsHeldToItsNeeds(t *testing.T) {
	type made struct {
		p *Pad
		m *plumbing.Model
	}
	var all []made
	for _, k := range []pad.Sketch{
		{Pump: *catalogue.Find("Brisk 150 VS").Pump, Filter: *catalogue.Find("Stanchion S24").Filter,
			Cell: catalogue.Find("Halide 40").Cell},
		{Pump: *catalogue.Find("Brisk 270 VS").Pump, Filter: *catalogue.Find("Pleat 420").Filter, Spa: true,
			Heater: catalogue.Find("Ember 250").Heater},
		{Pump: *catalogue.Find("Brisk 270 VS").Pump, Filter: *catalogue.Find("Lattice 48").Filter,
			Heater: catalogue.Find("Ember 250").Heater, Cell: catalogue.Find("Halide 40").Cell},
		{Pump: *catalogue.Find("Brisk 75").Pump, Filter: *catalogue.Find("Stanchion S30").Filter},
		{Pump: *catalogue.Find("Brisk 75 Two").Pump, Filter: *catalogue.Find("Stanchion S30").Filter},
	} {
		k.PipeIn, k.LengthFt = 2, 45
		m, err := plumbing.New(k.Document(), plumbing.Nominal(), units.Fahrenheit(80), units.PSI(8))
		require.NoError(t, err)
		p, err := NewPad(m, units.Gallons(18000))
		require.NoError(t, err)
		all = append(all, made{p, m})
	}
	planned, refused, gave, held := 0, 0, 0, 0
	for seed := range drawn.Of(200) {
		x := all[seed%len(all)]
		n := rapid.Custom(func(t *rapid.T) *Needs { return drawnDay(t, x.p) }).Example(seed)
		require.Empty(t, n.Check(x.p))
		c := checkerOf(t, x.m, n.Media == MediaGentle)
		c.n, c.waived = n, map[NeedID]bool{}
		a := Find(x.p, n)
		if a.Conflict != nil {
			refused++
			assert.NotEmpty(t, a.Conflict.Needs, "%d", seed)
			assert.True(t, len(a.Conflict.Needs) > 1 || a.Conflict.Text != "", "%d", seed)
			for _, id := range a.Conflict.Needs {
				assert.NotContains(t, n.defaults(x.p), id, "%d: a default refuses a day: %s", seed, say(a.Conflict.Text))
			}
			continue
		}
		planned++
		broken, cost := c.breaks(t, a.Plan.Slots())
		said := map[NeedID]bool{}
		for _, b := range a.Plan.Broken {
			said[b.Need] = true
			gave++
			if b.Need != NeedLimit && b.Need != NeedFrost {
				assert.Contains(t, n.defaults(x.p), b.Need, "%d: %s", seed, say(b.Text))
			}
		}
		for id, is := range broken {
			if is != said[id] && !(id == NeedFrost && said[id]) {
				assert.Failf(t, "held otherwise", "%d: %s broken %v, said %v: %+v\n%+v", seed, id, is, said[id], n,
					a.Plan.Slots())
			}
		}
		assert.InDelta(t, cost, a.Plan.Totals.Cost(), 0.002+0.002*math.Abs(cost), "%d", seed)
		for _, b := range a.Plan.Broken {
			c.waived[b.Need] = true
		}
		if len(c.waived) > 0 {
			continue // what gave way is no need of the day
		}
		var speeds []float64
		for _, w := range x.p.Ways {
			speeds = append(speeds, w.RPM)
		}
		held++
		least := c.cheaper(t, speeds, a.Plan.Slots())
		require.False(t, math.IsInf(least, 1), "%d", seed)
		assert.LessOrEqual(t, cost, least+0.01*math.Abs(least)+float64(n.Slots)*aSlot, "%d: another day is cheaper", seed)
	}
	t.Logf("%d days planned, %d refused, %d needs gave way, %d held to what two other hours cost", planned, refused, gave,
		held)
}
