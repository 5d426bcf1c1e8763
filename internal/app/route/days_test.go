package route

import (
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"

	"fairlap/core/fault"
	"fairlap/core/lap"
	"fairlap/core/pad"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

var desert = time.FixedZone("desert", -7*3600)

func onDay(day, hour int) time.Time { return time.Date(2026, 11, day, hour, 0, 0, 0, desert) }

// The strip adds a day up over its technicians: stops, minutes, limits, and the work by kind.
func TestTheStripAddsDaysUp(t *testing.T) {
	clean, other := upkeep.Due{Item: string(upkeep.CleanFilter)}, upkeep.Due{Item: "salt-cell"}
	days := []lap.Day{
		{Date: onDay(24, 0), Minutes: 300, Limit: 450, Stops: []lap.DayStop{{Due: []upkeep.Due{clean, other}}, {}}},
		{Date: onDay(24, 0), Minutes: 200, Limit: 400, Stops: []lap.DayStop{{Due: []upkeep.Due{clean}}}},
		{Date: onDay(25, 0), Minutes: 100, Limit: 450, Stops: []lap.DayStop{{}}},
		{Date: onDay(26, 0), Stops: []lap.DayStop{{}}},
	}
	got := strip(days, onDay(26, 0))
	assert.Equal(t, []StripDay{
		{Date: "2026-11-24", Stops: 3, Minutes: 500, Limit: 850, Clean: 2, Other: 1},
		{Date: "2026-11-25", Stops: 1, Minutes: 100, Limit: 450},
	}, got, "up to a day, without it")
	assert.NotNil(t, strip(nil, onDay(26, 0)))
}

// Work that somebody put on a day goes with the visit of that day and no other; other work
// goes with any.
func TestPlannedWorkGoesOnItsDay(t *testing.T) {
	on := onDay(24, 0)
	planned := upkeep.Due{Planned: &on}
	assert.True(t, here(&planned, onDay(24, 16)))
	assert.False(t, here(&planned, onDay(25, 9)))
	assert.True(t, here(&upkeep.Due{}, onDay(25, 9)))
}

// What a stop's reason says is not said again below it.
func TestAReasonIsSaidOnce(t *testing.T) {
	clean, line := upkeep.Due{Item: string(upkeep.CleanFilter)}, upkeep.Due{Item: string(upkeep.TakeCleanLine)}
	assert.True(t, saidBy(lap.Reason{Mark: lap.MarkAct}, &clean))
	assert.False(t, saidBy(lap.Reason{Mark: lap.MarkAct}, &line))
	assert.True(t, saidBy(lap.Reason{Mark: lap.MarkJob}, &line))
	assert.False(t, saidBy(lap.Reason{Mark: lap.MarkFine}, &clean))
}

// A stop that is done says the one thing that was done there: a cleaning before a suspect
// left open, that before what was found, and else that it is fine.
func TestADoneStopSaysOneThing(t *testing.T) {
	for name, x := range map[string]struct {
		visit store.Visit
		mark  lap.Mark
		says  string
	}{
		"cleaned":           {store.Visit{Cleaned: true, Confirmed: string(fault.AirInlet)}, lap.MarkJob, "Backwash"},
		"left open":         {store.Visit{Confirmed: "open:" + string(fault.AirInlet)}, lap.MarkOpen, "Open issue"},
		"found":             {store.Visit{Confirmed: string(fault.AirInlet)}, lap.MarkJob, ""},
		"nothing was found": {store.Visit{Confirmed: "nothing"}, lap.MarkFine, "Fine"},
		"only read":         {store.Visit{}, lap.MarkFine, "Fine"},
	} {
		r := doneReason(x.visit, pad.Sand)
		assert.Equal(t, x.mark, r.Mark, name)
		assert.Contains(t, words.Plain.Say(r.Word), x.says, name)
	}
}

// Weeks end at the company's midnight, by whatever clock they are asked for.
func TestWeeksEndAtTheCompanysMidnight(t *testing.T) {
	c := company.Company{Zone: desert}
	for _, now := range []time.Time{onDay(24, 10), onDay(24, 10).UTC(), onDay(24, 23), onDay(24, 0)} {
		assert.True(t, onDay(24, 0).AddDate(0, 0, 14).Equal(weeksOn(c, now, 2)), now)
	}
}

// A stop is found in a day by its pool; a pool without degrees has no place.
func TestStopsAndPlacesAreFound(t *testing.T) {
	pool := uuid.New()
	d := lap.Day{Stops: []lap.DayStop{{Pool: uuid.NewString()}, {Pool: pool.String(), Arrive: onDay(24, 9)}}}
	assert.Equal(t, onDay(24, 9), stopOf(&d, pool).Arrive)
	assert.Nil(t, stopOf(&d, uuid.New()))
	lat, lon := 33.4, -112.1
	assert.Nil(t, placeOf(&store.Pool{}))
	assert.Nil(t, placeOf(&store.Pool{Lat: &lat}))
	assert.Equal(t, &lap.Place{Lon: lon, Lat: lat}, placeOf(&store.Pool{Lat: &lat, Lon: &lon}))
}
