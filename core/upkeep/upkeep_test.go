package upkeep

import (
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/units"
)

func line(growth float64, n int, sd float64) Cycle {
	var c Cycle
	for i := range n {
		k := 100 * float64(i)
		c = append(c, Observation{k, Belief{0.05 + growth*k, sd}})
	}
	return c
}

func TestGrowthIsLearnedFromThePoolsOwnCycles(t *testing.T) {
	past := []Cycle{line(0.003, 4, 0.05), line(0.0032, 4, 0.05), line(0.0028, 4, 0.05), line(0.003, 4, 0.05)}
	g := GrowthPrior(pad.Sand, past, walkBlind)
	assert.InDelta(t, 0.003, g.Mean, 0.0006)
	assert.Less(t, g.SD, kindGrowth[pad.Sand].SD/2)
	assert.Equal(t, kindGrowth[pad.DE], GrowthPrior(pad.DE, nil, walkBlind), "a new pool takes its kind's")
}

func TestTheTrackFollowsReadingsAndForgivesOne(t *testing.T) {
	g := Belief{0.003, 0.001}
	s := carried(g, AfterCleaning, line(0.004, 4, 0.06), 300, walkBlind)
	assert.InDelta(t, 1.25, s.Load, 0.1)
	wild := line(0.003, 4, 0.06)
	wild[2].Load.Mean = 2.5
	with := carried(g, AfterCleaning, wild, 300, walkBlind)
	without := carried(g, AfterCleaning, line(0.003, 4, 0.06), 300, walkBlind)
	assert.InDelta(t, without.Load, with.Load, 0.25, "one storm reading does not wreck it")
}

func TestForecastCoversItsBand(t *testing.T) {
	// Cycles drawn from the model itself: the 80 % band of next week's load holds
	// about 80 % of them.
	rng := rand.New(rand.NewPCG(3, 9))
	g := Belief{0.003, 0.0008}
	in, n := 0, 1500
	for range n {
		slope := g.Mean + g.SD*rng.NormFloat64()
		load, c := AfterCleaning.Mean+AfterCleaning.SD*rng.NormFloat64(), Cycle{}
		step := func() {
			load += slope*50 + math.Sqrt(walkBlind*50)*rng.NormFloat64()
		}
		for i := range 3 {
			step()
			c = append(c, Observation{float64(50 * (i + 1)), Belief{load + 0.1*rng.NormFloat64(), 0.1}})
		}
		s := carried(g, AfterCleaning, c, 150, walkBlind)
		step()
		f := s.Ahead(s.LoadBelief(), 50, 1).Days[1]
		if load > f.P10 && load < f.P90 {
			in++
		}
	}
	share := float64(in) / float64(n)
	t.Logf("80 %% band holds %.1f %%", 100*share)
	assert.InDelta(t, 0.80, share, 0.04)
}

// A calm pool's forecast narrows and a wild one's widens; a pool without a past keeps
// the allowance.
func TestTheBandFollowsHowWildAPoolHasBeen(t *testing.T) {
	g := Belief{0.003, 0.001}
	cycles := func(spread float64) []Cycle {
		rng := rand.New(rand.NewPCG(5, 5))
		var out []Cycle
		for range 12 {
			c := Cycle{{0, Belief{0.05, 0.03}}}
			load := 0.05
			for i := range 5 {
				load += 0.003*50 + spread*rng.NormFloat64()
				c = append(c, Observation{float64(50 * (i + 1)), Belief{load, 0.03}})
			}
			out = append(out, c)
		}
		return out
	}
	assert.InDelta(t, 1, wildness(g, nil, walkBlind), 1e-12)
	calm, wild := wildness(g, cycles(0.01), walkBlind), wildness(g, cycles(0.3), walkBlind)
	assert.Less(t, calm, 0.6)
	assert.Greater(t, wild, 1.5)
	assert.LessOrEqual(t, wild, surprise*surprise, "one storm does not undo a record")
}

func question(load Belief) Question {
	now := time.Date(2026, 11, 24, 10, 42, 0, 0, time.UTC)
	q := Question{Now: now, NextVisit: now.AddDate(0, 0, 7), Settings: Defaults(), Kind: pad.Sand, KGalPerDay: 14,
		State: State{
			Growth:    0.004,
			VarGrowth: 1e-6,
		}, Known: true, HadForecast: true, Observed: load, ReadSpeed: 2400, SafeSpeed: 3450,
		WasteGallons: 160, DaysSince: 9, LeadingFault: fault.Healthy, LeadingP: 0.8}
	q.LoadAt = func(i int) float64 { return load.Mean + load.SD*(float64(i)-2) }
	q.Loads = []float64{0.06, 0.24, 0.4, 0.24, 0.06}
	return q
}

func TestAdviceAsksWhetherItPassesBeforeTheNextVisit(t *testing.T) {
	// 0.75 today and 0.39 a week: under its limit now, over it before next week.
	a := Advise(question(Belief{0.75, 0.08}))
	assert.Equal(t, CleanNow, a.Action)
	assert.Greater(t, a.Chance, 0.8)
	assert.Contains(t, say(a.Reason), "Tue, Dec 1")
	assert.Positive(t, a.Gallons)
	assert.Equal(t, LeaveIt, Advise(question(Belief{0.2, 0.08})).Action, "too often is a fault too")
}

// A filter that would be over its limit for hours only is left: too often is a fault
// too. One that is nearly full is cleaned for the same hours.
func TestAdviceWeighsACleaningAgainstStarvedDays(t *testing.T) {
	q := question(Belief{0.63, 0.02})
	q.Settings.WorthDays = 3
	a := Advise(q)
	assert.Equal(t, LeaveIt, a.Action)
	assert.Greater(t, a.Chance, q.Settings.CleanAbove)
	assert.Contains(t, say(a.Reason), "than cleaning a filter at 63 % load wastes")
	q.Settings.WorthDays = 0
	assert.Equal(t, CleanNow, Advise(q).Action, "the odds alone decide")

	rapid.Check(t, func(t *rapid.T) {
		s := Settings{CleanAbove: 0.5, WorthDays: rapid.Float64Range(0, 14).Draw(t, "worth")}
		chance, starved, load := rapid.Float64Range(0, 1).
			Draw(t, "chance"),
			rapid.Float64Range(0, 7).
				Draw(t, "starved"),
			rapid.Float64Range(0, 1.5).
				Draw(t, "load")
		if s.Pays(chance, starved, load) {
			assert.True(
				t,
				s.Pays(chance+0.01, starved, load) && s.Pays(chance, starved+0.1, load) &&
					s.Pays(chance, starved, load+0.1),
				"more harm never stops a cleaning",
			)
			s.WorthDays /= 2
			assert.True(t, s.Pays(chance, starved, load))
		}
	})
}

// It is worth reading again where another answer could come of it, not else.
func TestAdviceLooksAgainWhereItDecides(t *testing.T) {
	q := question(Belief{0.68, 0.15})
	q.ReadSpeed = 1750
	a := Advise(q)
	assert.Equal(t, ReadHigher, a.Action)
	assert.Contains(t, say(a.Lacks), "again at 3,450 rpm")
	q.ReadSpeed = q.SafeSpeed
	assert.NotEqual(t, ReadHigher, Advise(q).Action, "no faster reading can be had")
	for _, sure := range []float64{0.1, 1.1} {
		q = question(Belief{sure, 0.05})
		q.ReadSpeed = 1750
		assert.NotEqual(t, ReadHigher, Advise(q).Action, "no reading would turn it")
	}
}

func TestAdviceRespectsHoldsSuspectsAndVagueReadings(t *testing.T) {
	q := question(Belief{0.9, 0.08})
	q.HoldUntil = q.Now.Add(3 * time.Hour)
	a := Advise(q)
	assert.Equal(t, WaitHold, a.Action)
	assert.Contains(t, say(a.Reason), "1:42 PM")
	q.HoldUntil = q.Now.Add(-time.Minute)
	assert.Equal(t, CleanNow, Advise(q).Action)

	q = question(Belief{0.9, 0.08})
	q.LeadingFault, q.LeadingName, q.LeadingP = fault.ReturnRestricted, "Return side shut", 0.8
	assert.Equal(t, FixFirst, Advise(q).Action)

	q = question(Belief{0.65, 0.5})
	q.ReadSpeed = 1000
	a = Advise(q)
	assert.Equal(t, ReadHigher, a.Action)
	assert.Contains(t, say(a.Lacks), "3,450 rpm")

	q = question(Belief{0.9, 0.08})
	q.Known, q.HadForecast = false, false
	a = Advise(q)
	assert.Equal(t, "calendar", a.School)
	assert.NotEmpty(t, a.Lacks)
	q.DaysSince = -1
	assert.Equal(t, NotKnown, Advise(q).Action)
}

func TestChanceGrowsWithLoadGrowthAndTime(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := State{Growth: rapid.Float64Range(0.001, 0.01).Draw(t, "growth"), VarGrowth: 1e-6}
		l := rapid.Float64Range(0, 1.2).Draw(t, "load")
		k := rapid.Float64Range(10, 150).Draw(t, "kgal")
		at := func(load float64) func(int) float64 { return func(int) float64 { return load } }
		p := s.ChancePast([]float64{1}, at(l), k)
		assert.GreaterOrEqual(t, s.ChancePast([]float64{1}, at(l+0.1), k), p)
		faster := s
		faster.Growth *= 1.2
		assert.GreaterOrEqual(t, faster.ChancePast([]float64{1}, at(l), k), p)
	})
}

func TestHoldIsTwentyFourHours(t *testing.T) {
	at := time.Date(2026, 11, 23, 10, 0, 0, 0, time.UTC)
	require.Equal(t, at.Add(24*time.Hour), HoldUntil(at, Defaults()))
}

func TestTheCrossingDatesAreInOrder(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := State{
			Load:      rapid.Float64Range(0, 0.9).Draw(t, "load"),
			Growth:    rapid.Float64Range(0.002, 0.008).Draw(t, "growth"),
			VarLoad:   0.01,
			VarGrowth: 2e-7,
		}
		f := s.Ahead(s.LoadBelief(), 25, 30)
		assert.LessOrEqual(t, f.Cross10, f.Cross50)
		for i, d := range f.Days {
			assert.LessOrEqual(t, d.P10, d.P50)
			assert.LessOrEqual(t, d.P50, d.P90)
			if i > 0 {
				assert.Greater(t, d.P50, f.Days[i-1].P50, "dirt only grows")
			}
		}
	})
}

func TestWithoutAGaugeTheCalendarAnswers(t *testing.T) {
	for _, c := range []struct {
		kind  pad.FilterKind
		since float64
		want  Action
	}{{pad.Sand, 5, CleanNow}, {pad.Sand, 1, LeaveIt}, {pad.Cartridge, 20, LeaveIt}, {pad.Cartridge, 30, CleanNow},
		{pad.DE, 25, CleanNow}} {
		q := question(Belief{Mean: 0.5, SD: 0.4})
		q.Known, q.HadForecast, q.Kind, q.DaysSince = false, false, c.kind, c.since
		a := Advise(q)
		assert.Equal(t, c.want, a.Action, "%s, %v days", c.kind, c.since)
		assert.Equal(t, "calendar", a.School)
		assert.NotEmpty(t, a.Lacks)
	}
	q := question(Belief{Mean: 0.5, SD: 0.4})
	q.Known, q.HadForecast, q.HoldUntil = false, false, q.Now.Add(time.Hour)
	assert.Equal(t, WaitHold, Advise(q).Action)
}

func TestACartridgeThrowsNoWaterAway(t *testing.T) {
	q := question(Belief{0.9, 0.08})
	q.Kind = pad.Cartridge
	a := Advise(q)
	assert.Equal(t, CleanNow, a.Action)
	assert.Zero(t, a.Gallons)
	q.Kind = pad.Sand
	assert.Equal(t, 160.0, Advise(q).Gallons, "what its run throws away")
}

// 8 to 10 psi over, 15 psi as some pumps alarm, 25 % over clean (handbook; the last
// from memory).
func TestEachSchoolHasItsLimit(t *testing.T) {
	s := Defaults()
	clean := units.PSI(20)
	assert.InDelta(t, 8, s.LimitRise(clean).PSI(), 1e-9)
	s.School = Differential
	assert.InDelta(t, 15, s.LimitRise(clean).PSI(), 1e-9)
	assert.Equal(t, "15 psi", say(s.LimitWords()))
	s.School = Share
	assert.InDelta(t, 5, s.LimitRise(clean).PSI(), 1e-9)
	assert.Equal(t, "25 % of its clean pressure", say(s.LimitWords()))
	today := time.Date(2026, 11, 24, 10, 42, 0, 0, time.UTC)
	a := Advise(
		Question{
			Settings:    s,
			Kind:        pad.Sand,
			Known:       true,
			HadForecast: true,
			Loads:       []float64{1},
			LoadAt:      func(int) float64 { return 0.5 },
			NextVisit:   today.AddDate(0, 0, 7),
			Now:         today,
		},
	)
	assert.Equal(t, "share", a.School)
}

// carried is a cycle run from its start and on to some water.
func carried(growth, start Belief, c Cycle, kgal, walk float64) State {
	s, last := filter(growth, start, c, walk), 0.0
	if len(c) > 0 {
		last = c[len(c)-1].KGal
	}
	return s.After(math.Max(0, kgal-last))
}

// What the needle says binds the advice (handbook, faults: a filter at its limit is not left, one on
// its clean line is not cleaned, a tank over what it carries is slowed first).
func TestAdviceObeysTheNeedle(t *testing.T) {
	psi := func(v float64) *units.Pressure { p := units.PSI(v); return &p }
	soon := func(q Question) time.Time { return q.Now.Add(5 * time.Hour) }
	for name, x := range map[string]struct {
		change func(*Question)
		action Action
		says   string
	}{
		"one needle at its limit, hardly loaded by the odds": {
			func(q *Question) { q.AtLimit = 1; *q = with(*q, 0.2) }, ReadHigher, "Everything else points to 20 %"},
		"one needle at its limit, loaded by the odds": {
			func(q *Question) { q.AtLimit = 1; q.NextVisit = q.Now; *q = with(*q, 0.99) }, CleanNow, ""},
		"two needles at their limit, hardly loaded by the odds": {
			func(q *Question) { q.AtLimit = 2; *q = with(*q, 0.2) }, CleanNow, "at its limit"},
		"two at their limit, chemicals are in": {
			func(q *Question) { q.AtLimit = 2; *q = with(*q, 0.2); q.HoldUntil = soon(*q) }, WaitHold,
			"no backwash before"},
		"due by the odds, on its clean line": {
			func(q *Question) { *q = with(*q, 0.9); q.Tank = psi(10.4) }, LeaveIt, "on its clean line"},
		"due by the odds, over its clean line": {
			func(q *Question) { *q = with(*q, 0.9); q.Tank = psi(10.6) }, CleanNow, ""},
		"over what the tank carries": {
			func(q *Question) { *q = with(*q, 0.4); q.Tank = psi(30) }, CleanNow, "30 psi at most"},
		"just under what the tank carries": {
			func(q *Question) { *q = with(*q, 0.1); q.Tank = psi(29.9) }, LeaveIt, ""},
		"over what the tank carries, chemicals are in": {
			func(q *Question) { *q = with(*q, 0.4); q.Tank = psi(31); q.HoldUntil = soon(*q) }, WaitHold,
			"30 psi at most"},
		"over a label": {
			func(q *Question) { *q = with(*q, 0.1); q.Tank, q.Ceiling = psi(24), units.PSI(24) }, CleanNow,
			"24 psi at most"},
		"a danger binds": {
			func(q *Question) { q.AtLimit, q.Stopped = 1, true; q.Tank = psi(40) }, StopFirst, ""},
		"the company goes by a fixed figure": {
			func(q *Question) { q.AtLimit = 1; q.Settings.School = FixedPsi; q.Tank = psi(14) }, LeaveIt, ""},
	} {
		q := question(Belief{0.2, 0.08})
		q.Tank, q.Clean, q.Ceiling = psi(14), psi(10), units.PSI(30)
		x.change(&q)
		a := Advise(q)
		assert.Equal(t, x.action, a.Action, name)
		assert.Contains(t, say(a.Reason), x.says, name)
	}
}

// with is a question at another load.
func with(q Question, load float64) Question {
	out := question(Belief{load, 0.05})
	out.Tank, out.Clean, out.Ceiling, out.AtLimit, out.Settings = q.Tank, q.Clean, q.Ceiling, q.AtLimit, q.Settings
	return out
}

// After a cleaning at this stop the advice is what it did: back on its line (under 0.2), half a
// cleaning (under 0.5), once more, and after two something deeper; a short wash is told as one.
func TestAdviceAfterACleaningAtThisStop(t *testing.T) {
	for name, x := range map[string]struct {
		load   float64
		known  bool
		washed Washed
		kind   pad.FilterKind
		action Action
		says   string
	}{
		"back":       {0.19, true, Washed{Times: 1}, pad.Sand, LeaveIt, "Back on its clean line"},
		"half":       {0.21, true, Washed{Times: 1}, pad.Sand, LeaveIt, "only partly"},
		"half still": {0.49, true, Washed{Times: 1}, pad.Sand, LeaveIt, "only partly"},
		"once more":  {0.51, true, Washed{Times: 1}, pad.Sand, CleanNow, "Backwash once more"},
		"hose once more": {0.8, true, Washed{Times: 1}, pad.Cartridge, CleanNow,
			"Hose the cartridges once more"},
		"deeper after two": {0.8, true, Washed{Times: 2}, pad.DE, FixFirst, "take the grids apart"},
		"short":            {0.8, true, Washed{Short: true, Ran: 4, Usual: 120}, pad.Sand, CleanNow, "too short"},
		"short, and back": {0.1, true, Washed{Short: true, Ran: 50, Usual: 120}, pad.Sand, LeaveIt,
			"Back on its clean line"},
		"nothing read":          {0.8, false, Washed{Times: 1}, pad.Sand, LeaveIt, "Cleaned at this stop"},
		"nobody cleaned so far": {0.1, true, Washed{}, pad.Sand, LeaveIt, "Leave it"},
	} {
		q := question(Belief{x.load, 0.05})
		q.Known, q.Washed, q.Kind = x.known, x.washed, x.kind
		a := Advise(q)
		assert.Equal(t, x.action, a.Action, name)
		assert.Contains(t, say(a.Text), x.says, name)
	}
	q := question(Belief{0.8, 0.05})
	q.Washed = Washed{Short: true, Ran: 4, Usual: 120}
	assert.Contains(t, say(Advise(q).Reason), "4 s of the usual 120 s")
}
