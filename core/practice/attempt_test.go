package practice

import (
	"encoding/json"
	"os"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/fault"
	"fairlap/core/procedure"
)

// What is found does not depend on the order that it is asked in, and what was mended stops
// showing.
func TestChanceHasOneAnswerForEachThing(t *testing.T) {
	c, _ := Find("bubbles-after-the-weekend")
	c.Typical = false
	one := worked(
		t,
		c,
		Event{Act: ActLook, Sign: fault.LevelLow},
		Event{Act: ActLook, Sign: fault.FoamLid},
		Event{Act: ActRead},
	)
	two := worked(
		t,
		c,
		Event{Act: ActRead},
		Event{Act: ActLook, Sign: fault.FoamLid},
		Event{Act: ActLook, Sign: fault.LevelLow},
	)
	assert.Equal(t, one.seen[fault.FoamLid].yes, two.seen[fault.FoamLid].yes)
	assert.Equal(t, one.seen[fault.LevelLow].yes, two.seen[fault.LevelLow].yes)
	assert.Equal(t, one.readings[0].TypedReading, two.readings[0].TypedReading)
	c.Typical = true
	a := worked(t, c, Event{Act: ActLook, Sign: fault.FoamLid})
	assert.True(t, a.seen[fault.FoamLid].yes)
	for _, e := range []Event{
		{Act: ActReady, Need: OpenPot},
		{Act: ActMend, Fault: fault.AirLid},
		{Act: ActRestore},
		{Act: ActLook, Sign: fault.FoamLid},
	} {
		require.NoError(t, a.Take(e))
	}
	assert.False(t, a.seen[fault.FoamLid].yes)
}

// A stuck needle says one figure at every speed; a sound one goes with the square of it.
func TestAStuckNeedleStands(t *testing.T) {
	c := plain(SandSpeeds)
	read := func(c *Case) [2]string {
		a := worked(
			t,
			c,
			Event{Act: ActSpeed, RPM: 3450},
			Event{Act: ActRead},
			Event{Act: ActSpeed, RPM: 1900},
			Event{Act: ActRead},
		)
		return [2]string{a.readings[0].Tank, a.readings[1].Tank}
	}
	sound := read(c)
	top, _ := strconv.ParseFloat(sound[0], 64)
	low, _ := strconv.ParseFloat(sound[1], 64)
	assert.InDelta(t, (1900.0/3450)*(1900.0/3450), low/top, 0.12, "affinity law, above the gauge's height")
	c.Hidden = one(fault.GaugeBad, 2, 0)
	stuck := read(c)
	assert.Equal(t, stuck[0], stuck[1])
}

// The odds come first where they are asked for; their score is Brier's: what is certain and
// right scores 0, certain and wrong 1, even odds a quarter.
func TestOddsAreSaidFirstAndScored(t *testing.T) {
	c, _ := Find("gulping-by-the-steps")
	s := set(t, c)
	a := s.Begin(Odds)
	assert.ErrorIs(t, a.Take(Event{Act: ActRead}), ErrOdds)
	require.NoError(t, a.Take(Event{Act: ActOdds, Odds: map[fault.ID]float64{fault.WaterLow: 0.5, fault.AirLid: 0.5}}))
	require.NoError(t, a.Take(Event{Act: ActRead}))
	assert.ErrorIs(t, a.Take(Event{Act: ActLook, Sign: fault.LevelLow}), ErrOdds)
	said, brier := a.calibration()
	assert.Len(t, said, 2)
	require.NotNil(t, brier)
	assert.InDelta(t, 0.25, *brier, 1e-12)
	require.NoError(t, a.Take(Event{Act: ActOdds, Odds: map[fault.ID]float64{fault.WaterLow: 1}}))
	_, brier = a.calibration()
	assert.InDelta(t, 0.5/3, *brier, 1e-12)
	for _, bad := range []map[fault.ID]float64{{fault.WaterLow: 0.7, fault.AirLid: 0.7}, {fault.WaterLow: -0.1},
		{"no-such": 0.2}, {fault.SpaDraining: 0.2}} {
		assert.ErrorIs(t, a.Take(Event{Act: ActOdds, Odds: bad}), ErrUnknown)
	}
	assert.InDelta(t, 1, *Brier([]Said{{P: 1, So: false}}), 1e-12)
	assert.Zero(t, *Brier([]Said{{P: 1, So: true}, {P: 0, So: false}}))
	assert.Nil(t, Brier(nil))
}

// What is shown before the end tells nothing of what is hidden.
func TestAViewHidesWhatIsHidden(t *testing.T) {
	for _, c := range Library() {
		for _, m := range []Mode{Alone, Odds} {
			v, err := set(t, c).Begin(m).View()
			require.NoError(t, err)
			text, err := json.Marshal(v)
			require.NoError(t, err)
			assert.NotContains(t, string(text), `"hidden"`)
			assert.NotContains(t, string(text), ".lesson")
			assert.Nil(t, v.Hint)
			assert.Empty(t, v.Suspects)
			assert.Zero(t, v.Costs.Left)
		}
	}
}

// Hints are the engine's own next check for what was found, and beside it the suspects are
// as at the bench.
func TestHintsFollowTheEngine(t *testing.T) {
	c, _ := Find("somebody-was-at-the-handles")
	s := set(t, c)
	a := s.Begin(Beside)
	require.NoError(t, a.Take(Event{Act: ActRead}))
	v, err := a.View()
	require.NoError(t, err)
	verdict, res, err := a.Judge()
	require.NoError(t, err)
	require.NotEmpty(t, v.Suspects)
	assert.Equal(t, verdict.Suspects[0].P, v.Suspects[0].P)
	require.NotNil(t, v.Hint)
	require.NotEmpty(t, res.Next)
	if next := res.Next[0]; next.Reading != nil {
		assert.Equal(t, float64(next.Reading.Operation.Speed), v.Hint.RPM)
	} else {
		assert.Equal(t, next.Sign.ID, v.Hint.Sign)
	}
}

// The debrief tells what was wrong, lays the path beside the best, and names the look that
// would have parted what was confused.
func TestADebriefTellsWhatABetterOrderCosts(t *testing.T) {
	c, _ := Find("as-dirty-as-it-looks")
	s := set(t, c)
	_, err := s.Debrief(Alone, []Event{{Act: ActRead}})
	assert.ErrorIs(t, err, ErrOpen)
	events := []Event{
		{Act: ActRead},
		{Act: ActRun, Run: procedure.Backwash}, // taken for dirt
		{Act: ActReady, Need: Off},
		{Act: ActMend, Fault: fault.ReturnRestricted},
		{Act: ActRestore},
		{Act: ActRead},
		{Act: ActLeave},
	}
	d, err := s.Debrief(Alone, events)
	require.NoError(t, err)
	assert.True(t, d.Solved)
	require.Len(t, d.Was, 1)
	assert.Equal(t, fault.ReturnRestricted, d.Was[0].ID)
	assert.True(t, d.Was[0].Mended)
	assert.Equal(t, 1, d.Yours.Wrong)
	assert.Greater(t, d.Yours.Gallons, 100.0)
	assert.Greater(t, d.Yours.All, d.Best.All)
	assert.Len(t, d.Path, len(events))
	require.NotEmpty(t, d.Parted)
	assert.NotEmpty(t, d.Parted[0].Sign)
	assert.Greater(t, d.Path[len(d.Path)-1].Minutes, d.Path[0].Minutes)
	require.NotNil(t, d.Path[0].Grade, "the grade line of the first reading")
	p, err := s.Sum(Alone, events)
	require.NoError(t, err)
	assert.Equal(t, []fault.ID{fault.FilterLoaded}, p.Confused)
	assert.Equal(t, d.Yours, p.Yours)
}

// The next case is one that parts what was confused; a case done well is not proposed again.
func TestTheNextCaseIsWhatThisPersonConfuses(t *testing.T) {
	first := Next(nil)
	require.NotNil(t, first)
	assert.Equal(t, FirstWeek, first.Level)
	past := []Past{
		{Case: "x", Hidden: []fault.ID{fault.BedChannelled}, Confused: []fault.ID{fault.ValvePosition}, Solved: true},
	}
	next := Next(past)
	require.NotNil(t, next.Parts)
	assert.Equal(t, pairOf(fault.BedChannelled, fault.ValvePosition), pairOf(next.Parts.This, next.Parts.That))
	past = append(past, Past{Case: next.ID, Hidden: []fault.ID{fault.BedChannelled}, Solved: true})
	assert.NotEqual(t, next.ID, Next(past).ID)
	rows := Discriminations(past)
	require.NotEmpty(t, rows)
	assert.Equal(t, 1, rows[0].Mixed)
	var all []Past
	for _, c := range Library() {
		all = append(all, Past{Case: c.ID, Solved: true})
	}
	assert.Nil(t, Next(all))
}

func TestBandsOfAnHonestHandLieOnTheDiagonal(t *testing.T) {
	var said []Said
	for i := range 100 {
		said = append(said, Said{P: 0.3, So: i < 30}, Said{P: 0.9, So: i < 90})
	}
	for _, b := range Bands(said) {
		if b.N > 0 {
			assert.InDelta(t, b.Said, b.So, 1e-9)
		}
	}
}

// The same level, theme and seed draw the same case; every drawn case is solved by its best
// way, and whoever knows solves it too.
func TestDrawnCases(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		level := rapid.SampledFrom(Levels).Draw(t, "level")
		theme := rapid.SampledFrom(Themes).Draw(t, "theme")
		seed := rapid.Uint64Range(1, 1<<40).Draw(t, "seed")
		c, err := Draw(level, theme, seed)
		require.NoError(t, err)
		again, err := Draw(level, theme, seed)
		require.NoError(t, err)
		require.Equal(t, c, again)
		s, err := Set(c)
		require.NoError(t, err)
		_, best, err := s.Best()
		require.NoError(t, err)
		require.True(t, best.Solved(), "%s: %v left", c.ID, best.remains())
		require.Empty(t, best.Harms)
		require.Equal(t, s.rig.Daily(), best.State)
	})
}

// The engine's own next checks cost no more than a card's fixed order, over drawn cases:
// DRAWN says how many (500 in docs/evaluation.md), and they are printed.
func TestTheEnginesOrderBeatsACard(t *testing.T) {
	n := 48
	if v, err := strconv.Atoi(os.Getenv("DRAWN")); err == nil {
		n = v
	}
	m, err := Measure(n, 1)
	require.NoError(t, err)
	t.Log("\n" + m.String())
	assert.LessOrEqual(t, m.Engine.Mean, m.Card.Mean)
	assert.GreaterOrEqual(t, m.Engine.Solved, 0.8)
}

// Whatever a file of a case or somebody's acts say, they are refused in words or taken.
func FuzzCase(f *testing.F) {
	for _, c := range Library()[:4] {
		text, err := json.Marshal(c)
		require.NoError(f, err)
		f.Add(string(text), `[{"act":"read"},{"act":"look","sign":"level-low"},{"act":"leave"}]`)
	}
	f.Add(`{"id":"x"}`, `[{"act":"do","do":{"verb":"start-shut"}},{"act":"wait","minutes":1e9}]`)
	f.Add(`{"id":"x","hidden":[{"fault":"air-lid","place":-1}]}`, `[{"act":"odds","odds":{"air-lid":2}}]`)
	f.Fuzz(func(t *testing.T, text, acts string) {
		c, errs := Read(strings.NewReader(text))
		if len(errs) > 0 {
			for _, e := range errs {
				require.NotEmpty(t, e.Text)
			}
			return
		}
		s, err := Set(c)
		if err != nil {
			return
		}
		var events []Event
		if json.Unmarshal([]byte(acts), &events) != nil || len(events) > 20 {
			return
		}
		a := s.Begin(Alone)
		for _, e := range events {
			if a.Take(e) == nil {
				require.GreaterOrEqual(t, a.Minutes, 0.0)
				require.GreaterOrEqual(t, a.Cost(), 0.0)
			}
		}
	})
}

// A case says at its field what is wrong with it.
func TestABadCaseSaysWhy(t *testing.T) {
	for path, change := range map[string]func(*Case){
		"pad":             func(c *Case) { c.Pad = "no-such" },
		"month":           func(c *Case) { c.Month = 13 },
		"hidden[0].fault": func(c *Case) { c.Hidden = one(fault.SpaDraining, 0, 0) },
		"hidden[0].place": func(c *Case) { c.Hidden = one(fault.AirLid, 9, 0) },
		"hidden[0].step":  func(c *Case) { c.Hidden = one(fault.AirLid, 0, 9) },
		"load":            func(c *Case) { c.Hidden = one(fault.FilterLoaded, 0, 0) },
		"told.no-such":    func(c *Case) { c.Told = map[fault.Sign]bool{"no-such": true} },
		"hidden":          func(c *Case) { c.Hidden = append(one(fault.AirLid, 0, 1), one(fault.AirLid, 0, 2)...) },
		"level":           func(c *Case) { c.Level = "hard" },
	} {
		c := plain(SandSpeeds)
		c.Title, c.Story = "A stop", "A weekly stop"
		require.Empty(t, c.Check())
		change(c)
		var paths []string
		for _, e := range c.Check() {
			paths = append(paths, e.Path)
			assert.NotEmpty(t, e.Text)
		}
		assert.Contains(t, paths, path)
		_, err := Set(c)
		assert.ErrorIs(t, err, ErrCase)
	}
	_, errs := Read(strings.NewReader(`{"id":"a","surprise":1}`))
	assert.NotEmpty(t, errs)
	_, errs = Read(strings.NewReader(`{} {}`))
	assert.NotEmpty(t, errs)
}
