package judge

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/casefile"
	"fairlap/core/fault"
	"fairlap/core/procedure"
	"fairlap/core/stop"
	"fairlap/core/upkeep"
)

// at is minutes after the stop's beginning.
func at(minutes int) *time.Time {
	t := time.Date(2026, 11, 24, 9, minutes, 0, 0, time.UTC)
	return &t
}

// ran is a run that ended so many minutes into the stop.
func ran(minutes int, r procedure.Result) stop.Entry {
	if r.Signs == nil {
		r.Signs = map[fault.Sign]bool{}
	}
	daily := (&procedure.Rig{Usual: 1}).Daily()
	return stop.Entry{ID: fmt.Sprint(minutes), At: *at(minutes), Kind: stop.Ran,
		Run: &stop.Run{Name: "Backwash", Over: true, State: daily, Result: r}}
}

func stopWith(t *testing.T, done ...stop.Entry) *Stop {
	p := Pack{
		Pool:     "x",
		Zone:     "UTC",
		Pad:      testPad(t, nil).Doc,
		Gallons:  12000,
		Settings: upkeep.Defaults(),
		Ways:     procedure.DefaultWays(),
		Book:     done,
	}
	s, err := p.Ready()
	require.NoError(t, err)
	return s
}

func typedAt(tank string, when *time.Time) TypedReading {
	return TypedReading{Speed: "2400", Tank: tank, At: when}
}

func tanks(rs []casefile.Reading) (out []float64) {
	for _, r := range rs {
		out = append(out, *r.TankPsi)
	}
	return out
}

// What was read before the work belongs to the work, what was read after it to what follows;
// what was read at no time known counts before all work.
func TestReadingsArePartedByTheWork(t *testing.T) {
	s := stopWith(t, ran(20, procedure.Result{Work: "cleaned", WashSeconds: 100, WashUsual: 120}))
	c, err := s.Case(
		Findings{
			Readings: []TypedReading{typedAt("20", at(5)), typedAt("19", nil), typedAt("12", at(30))},
			Signs:    map[string]bool{},
		},
		*at(40),
	)
	require.NoError(t, err)
	require.Len(t, c.Before, 1)
	assert.Equal(t, []float64{19, 20}, tanks(c.Before[0].Readings))
	assert.Equal(t, []float64{12}, tanks(c.Readings))
	assert.True(t, c.Before[0].Work.Cleaned)
	assert.Equal(t, 100.0, c.Before[0].Work.Seconds)
}

// A run's own readings stand where nobody typed one, and what it read after its wash is what
// the rest of the stop begins with.
func TestARunsOwnReadingsCount(t *testing.T) {
	before, after := 18.0, 11.0
	done := ran(
		20,
		procedure.Result{
			Before: &casefile.Reading{RPM: 2400, TankPsi: &before},
			After:  &casefile.Reading{RPM: 2400, TankPsi: &after},
		},
	)
	c, err := stopWith(t, done).Case(Findings{Readings: []TypedReading{}, Signs: map[string]bool{}}, *at(40))
	require.NoError(t, err)
	assert.Equal(t, []float64{18}, tanks(c.Before[0].Readings))
	assert.Equal(t, []float64{11}, tanks(c.Readings))
	c, err = stopWith(
		t,
		done,
	).Case(Findings{Readings: []TypedReading{typedAt("19", at(3))}, Signs: map[string]bool{}}, *at(40))
	require.NoError(t, err)
	assert.Equal(t, []float64{19}, tanks(c.Before[0].Readings), "what was typed is not doubled by the run's")
}

// A sign that a run answered is the run's, unless it was looked for again afterwards; what a
// run mended goes with its work.
func TestSignsArePartedByTheWork(t *testing.T) {
	done := ran(
		20,
		procedure.Result{Signs: map[fault.Sign]bool{fault.AirInPot: true}, Mended: []fault.ID{fault.AirInlet}},
	)
	s := stopWith(t, done)
	c, err := s.Case(
		Findings{Readings: []TypedReading{}, Signs: map[string]bool{string(fault.AirInPot): true}},
		*at(40),
	)
	require.NoError(t, err)
	assert.Equal(t, map[string]bool{string(fault.AirInPot): true}, c.Before[0].Signs)
	assert.Empty(t, c.Signs, "answered by the run, and not since")
	assert.Equal(t, []string{string(fault.AirInlet)}, c.Before[0].Work.Mends)
	again := Findings{
		Readings: []TypedReading{},
		Signs:    map[string]bool{string(fault.AirInPot): false},
		SignsAt:  map[string]time.Time{string(fault.AirInPot): *at(30)},
	}
	c, err = s.Case(again, *at(40))
	require.NoError(t, err)
	assert.Equal(t, map[string]bool{string(fault.AirInPot): false}, c.Signs, "looked at again: gone")
	early := Findings{
		Readings: []TypedReading{},
		Signs:    map[string]bool{"level-low": true},
		SignsAt:  map[string]time.Time{"level-low": *at(1)},
	}
	c, err = s.Case(early, *at(40))
	require.NoError(t, err)
	assert.True(t, c.Before[0].Signs["level-low"])
	assert.NotContains(t, c.Signs, "level-low")
}

// Two runs make two stages, in their order; each takes what was typed since the one before.
func TestTwoRunsMakeTwoStages(t *testing.T) {
	s := stopWith(t, ran(10, procedure.Result{}), ran(20, procedure.Result{Work: "cleaned"}))
	c, err := s.Case(
		Findings{
			Readings: []TypedReading{typedAt("20", at(5)), typedAt("18", at(15)), typedAt("12", at(25))},
			Signs:    map[string]bool{},
		},
		*at(40),
	)
	require.NoError(t, err)
	require.Len(t, c.Before, 2)
	assert.Equal(t, []float64{20}, tanks(c.Before[0].Readings))
	assert.Equal(t, []float64{18}, tanks(c.Before[1].Readings))
	assert.Equal(t, []float64{12}, tanks(c.Readings))
	assert.False(t, c.Before[0].Work.Cleaned)
	assert.True(t, c.Before[1].Work.Cleaned)
}
