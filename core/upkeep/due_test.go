package upkeep

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/pad"
	"fairlap/core/units"
)

// ledger is a DE pad with a cell, three weeks after its last cleaning.
func ledger(load float64) *Ledger {
	now := monday.AddDate(0, 0, 21)
	vs := []Visit{
		visited(0, 0.9, true),
		visited(7, load/3, false),
		visited(14, 2*load/3, false),
		visited(20, load, false),
	}
	h := Follow(vs, pad.DE, &Exposure{KGalPerDay: 25}, now)
	line := monday.AddDate(0, -3, 0)
	return &Ledger{
		Now:       now,
		Later:     now.AddDate(0, 0, 7),
		Settings:  Defaults(),
		Filter:    h.Filter,
		CleanLine: &line,
		Since:     monday.AddDate(-1, 1, 0),
		Gear:      Gear{Kind: pad.DE, AreaFt2: 48, Cell: true},
		Parts:     []Part{{"grids", "Lattice 48", monday.AddDate(-7, 0, 30), 7}},
	}
}

func item(ds []Due, id string) *Due {
	for i := range ds {
		if ds[i].Item == id {
			return &ds[i]
		}
	}
	return nil
}

func TestDueWorkSaysWhichGroundComesFirst(t *testing.T) {
	l := ledger(0.85)
	due := l.List()
	c := item(due, string(CleanFilter))
	require.NotNil(t, c)
	assert.Equal(t, ByLoad, c.Ground)
	assert.True(t, c.By.After(l.Now) && c.By.Before(l.Now.AddDate(0, 0, 14)), c.By)
	assert.Greater(t, c.Harm, 0.4)
	require.Len(t, c.Materials, 1)
	assert.InDelta(
		t,
		48*0.1*0.8,
		c.Materials[0].Amount,
		1e-9,
		"a pound for ten square feet, a little less after a backwash",
	)
	grids := item(due, "part:grids")
	require.NotNil(t, grids)
	assert.Equal(t, ByAge, grids.Ground)
	assert.Contains(t, say(grids.Reason), "of 7 years")
	tear := item(due, string(TearDown))
	require.NotNil(t, tear)
	assert.Contains(t, say(tear.Reason), "not on record")
	assert.Equal(t, l.Now.AddDate(0, 0, unrecorded), tear.By, "what nobody has recorded is asked for, not called late")
	assert.Nil(t, item(due, string(ThoroughClean)), "that is a cartridge's")
	for i := 1; i < len(due); i++ {
		assert.False(t, due[i].By.Before(due[i-1].By), "most urgent first")
	}
	assert.Nil(t, item(ledger(0.1).List(), string(CleanFilter)), "hardly loaded: not within weeks")
}

func TestMarksMoveDueWork(t *testing.T) {
	l := ledger(0.85)
	l.Marks = []Mark{{Item: string(TearDown), Act: MarkDone, At: l.Now}}
	assert.Nil(t, item(l.List(), string(TearDown)), "done: a year from now")
	l.Marks = []Mark{{Item: string(CleanFilter), Act: MarkSnooze, At: l.Now, Until: l.Now.AddDate(0, 0, 10)}}
	c := item(l.List(), string(CleanFilter))
	require.NotNil(t, c.Snoozed, "put off is still on the list, and says until when")
	resumed := append(append([]Mark(nil), l.Marks...), Mark{Item: string(CleanFilter), Act: MarkResume, At: l.Now})
	l.Marks, resumed = resumed, l.Marks
	assert.Nil(t, item(l.List(), string(CleanFilter)).Snoozed, "taken back")
	l.Marks = resumed
	l.Marks = append(l.Marks, Mark{Item: "part:grids", Act: MarkCancel, At: l.Now})
	assert.Nil(t, item(l.List(), "part:grids"), "called off: looked at again in a quarter of its life")
	l.Now = l.Now.AddDate(0, 0, 30)
	assert.Nil(t, item(l.List(), string(CleanFilter)).Snoozed, "and a snooze ends by itself")
}

func TestEveryItemHasItsName(t *testing.T) {
	for _, d := range ledger(0.85).List() {
		assert.NotEmpty(t, ItemName(d.Item, pad.DE), d.Item)
	}
	for id := range wearNames {
		assert.NotEmpty(t, ItemName(wearItem+string(id), pad.Sand))
	}
	for _, no := range []string{"", "part:", "wear:", "wear:x", "shorter-cycles", "polish"} {
		assert.Empty(t, ItemName(no, pad.Sand), no)
	}
}

// Chemicals in at 10:00 hold the backwash until 10:00 of the next day; an
// override frees it, for a day.
func TestHolds(t *testing.T) {
	l := ledger(0.95)
	at := time.Date(l.Now.Year(), l.Now.Month(), l.Now.Day(), 10, 0, 0, 0, time.UTC)
	l.Now, l.Filter.Chemicals = at.Add(time.Hour), &at
	h := item(l.List(), string(CleanFilter)).Hold
	require.NotNil(t, h)
	assert.Equal(t, at.Add(24*time.Hour), h.Until)
	l.Marks = []Mark{{Item: string(CleanFilter), Act: MarkOverride, At: l.Now}}
	assert.Nil(t, item(l.List(), string(CleanFilter)).Hold)
	l.Marks = nil
	l.Now = at.Add(25 * time.Hour)
	assert.Nil(t, item(l.List(), string(CleanFilter)).Hold)
	// Days on which nothing may be discharged.
	dry := map[int]bool{l.Now.YearDay(): true, l.Now.YearDay() + 1: true}
	l.NoDischarge = func(d time.Time) bool { return dry[d.YearDay()] }
	h = item(l.List(), string(CleanFilter)).Hold
	require.NotNil(t, h)
	assert.Equal(t, l.Now.YearDay()+2, h.Until.YearDay())
	l.Gear.Kind = pad.Cartridge
	for _, d := range l.List() {
		assert.Nil(t, d.Hold, "hosing a cartridge throws no pool water away")
	}
}

func TestDueWorkGoesToTheVisitAtOrBeforeItsDate(t *testing.T) {
	day := func(n int) time.Time { return monday.AddDate(0, 0, n) }
	visits := []time.Time{day(0), day(7), day(14), day(21)}
	always := func(*Due, time.Time) bool { return true }
	due := []Due{{By: day(-3)}, {By: day(13)}, {By: day(14)}, {By: day(90)}}
	assert.Equal(t, []int{0, 1, 2, 3}, AtVisit(due, visits, always), "overdue: the first; else the last at or before")
	notSecond := func(_ *Due, at time.Time) bool { return !at.Equal(day(7)) }
	assert.Equal(t, 0, AtVisit(due[1:2], visits, notSecond)[0], "a day without discharge moves it to the visit before")
	assert.Equal(t, 1, AtVisit(due[:1], visits, func(_ *Due, at time.Time) bool { return at.After(day(0)) })[0])
	until := day(10)
	assert.Equal(t, 2, AtVisit([]Due{{By: day(1), Snoozed: &until}}, visits, always)[0])
	assert.Equal(t, -1, AtVisit(due[:1], nil, always)[0])
}

func TestTheSchools(t *testing.T) {
	loads := make([]float64, 10)
	loads[5] = 1
	read, clean := units.PSI(26), units.PSI(12)
	q := Question{
		Now:       monday,
		NextVisit: monday.AddDate(0, 0, 7),
		Settings:  Defaults(),
		Kind:      pad.Sand,
		Loads:     loads,
		LoadAt:    func(int) float64 { return 0.3 },
		State: State{
			Load:   0.3,
			Growth: 0.001,
		},
		KGalPerDay:  20,
		Known:       true,
		HadForecast: true,
		Observed:    Belief{0.3, 0.1},
		DaysSince:   5,
		Tank:        &read,
		Clean:       &clean,
	}
	assert.Equal(t, LeaveIt, Advise(q).Action, "by load there is nothing to do")
	q.Settings.School = FixedPsi
	a := Advise(q)
	assert.Equal(t, CleanNow, a.Action)
	assert.Equal(t, "fixed", a.School)
	assert.Empty(t, a.Lacks)
	near := units.PSI(22)
	q.Clean = &near
	assert.Contains(t, say(Advise(q).Lacks), "22 psi clean", "and it warns where the clean line is near")
	low := units.PSI(18)
	q.Tank = &low
	assert.Equal(t, LeaveIt, Advise(q).Action)
	q.Settings.School = Calendar
	a = Advise(q)
	assert.Equal(t, "calendar", a.School)
	assert.Equal(t, CleanNow, a.Action, "five days and a week make ten")
	assert.Empty(t, a.Lacks, "chosen, it lacks nothing")
	q.DaysSince = 1
	assert.Equal(t, LeaveIt, Advise(q).Action)
}

// A part's life ends by age, by the water it passed, or by wear: the first counts,
// and its ground says which.
func TestAPartsLifeEndsByWhatComesFirst(t *testing.T) {
	l := ledger(0.3)
	l.KGalPerDay = 25
	l.Parts = []Part{{"grids", "Lattice 48", l.Now.AddDate(-2, 0, 0), 0}}
	assert.Nil(t, item(l.List(), "part:grids"), "two of its kind's seven years")
	l.Settings.PartLives = map[string]Life{"grids": {Years: 2.05}}
	d := item(l.List(), "part:grids")
	require.NotNil(t, d, "this company gives them two")
	assert.Equal(t, ByAge, d.Ground)
	l.Settings.PartLives = map[string]Life{"grids": {Years: 7, KGal: 18500}}
	d = item(l.List(), "part:grids")
	require.NotNil(t, d)
	assert.Equal(t, ByUse, d.Ground)
	assert.Contains(t, say(d.Reason), "of 18,500 thousand gallons")
	l.Settings.PartLives = nil
	var h History
	for i := range 6 { // cleaning brings the grids back less and less
		h.Points = append(
			h.Points,
			LoadPoint{At: l.Now.AddDate(0, 0, 30*i-200), Load: 0.08 * float64(i), SD: 0.05, After: true},
		)
	}
	l.Worn = h.Worn(pad.DE)
	d = item(l.List(), "part:grids")
	require.NotNil(t, d)
	assert.Equal(t, ByWear, d.Ground)
	l.Marks = []Mark{{Item: "part:grids", Act: MarkCancel, At: l.Now}}
	assert.Nil(t, item(l.List(), "part:grids"), "called off with a reason: not asked again at once")
	l.Marks, l.Parts = nil, []Part{{"Flux capacitor", "", l.Now.AddDate(-20, 0, 0), 0}}
	assert.Nil(t, item(l.List(), "part:Flux capacitor"), "nobody said how long such a thing lasts")
}

func TestIntervalsAndSeasonsAreTheCompanys(t *testing.T) {
	l := ledger(0.1)
	l.Marks = []Mark{{Item: string(CellDescale), Act: MarkDone, At: l.Now.AddDate(0, 0, -40)}}
	assert.Nil(t, item(l.List(), string(CellDescale)), "three months")
	l.Settings.ServiceDays = map[string]float64{string(CellDescale): 60}
	assert.NotNil(t, item(l.List(), string(CellDescale)), "two, here")
	assert.Nil(t, item(l.List(), string(SeasonClose)), "a place without a season")
	soon := l.Now.AddDate(0, 0, 20)
	l.Settings.SeasonCloses, l.Settings.SeasonOpens = soon.Format("01-02"), soon.AddDate(0, 5, 0).Format("01-02")
	c := item(l.List(), string(SeasonClose))
	require.NotNil(t, c)
	assert.Equal(t, soon.Format(time.DateOnly), c.By.Format(time.DateOnly))
	assert.Nil(t, item(l.List(), string(SeasonOpen)))
	l.Marks = append(l.Marks, Mark{Item: string(SeasonClose), Act: MarkDone, At: l.Now})
	assert.Nil(t, item(l.List(), string(SeasonClose)), "done for this year")
}

// What the desk puts on a day goes to the visit of that day, earlier or later than
// the engine would have it, until it is done or taken back.
func TestWorkPutOnADay(t *testing.T) {
	l := ledger(0.85)
	visits := []time.Time{l.Now.AddDate(0, 0, 1), l.Now.AddDate(0, 0, 8), l.Now.AddDate(0, 0, 15)}
	free := func(*Due, time.Time) bool { return true }
	at := func() int {
		due := l.List()
		for i, v := range AtVisit(due, visits, free) {
			if due[i].Item == string(CleanFilter) {
				return v
			}
		}
		return -2
	}
	usual := at()
	l.Marks = []Mark{{Item: string(CleanFilter), Act: MarkPlan, At: l.Now, Until: visits[2]}}
	assert.Equal(t, 2, at())
	assert.NotNil(t, item(l.List(), string(CleanFilter)).Planned)
	l.Marks = append(
		l.Marks,
		Mark{Item: string(CleanFilter), Act: MarkPlan, At: l.Now, Until: visits[2].AddDate(0, 0, 1)},
	)
	assert.Equal(t, usual, at(), "nobody comes on that day: as usual")
	l.Marks = append(l.Marks, Mark{Item: string(CleanFilter), Act: MarkResume, At: l.Now})
	assert.Equal(t, usual, at())
	assert.Nil(t, item(l.List(), string(CleanFilter)).Planned)
	l.Marks = []Mark{{Item: string(CleanFilter), Act: MarkPlan, At: l.Now.AddDate(0, 0, -30), Until: visits[2]}}
	assert.Nil(t, item(l.List(), string(CleanFilter)).Planned, "that was about the cleaning before")
}
