package guided

import (
	"errors"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/casefile"
	"fairlap/core/figure"
	"fairlap/core/judge"
	"fairlap/core/pad/padtest"
	"fairlap/core/procedure"
	"fairlap/core/upkeep"
)

var morning = time.Date(2026, 11, 24, 10, 42, 0, 0, time.UTC)

func siteOf(t *testing.T) *judge.Stop {
	s, err := judge.Pack{
		Pool:     "14 Quince Court",
		Gallons:  18500,
		Zone:     "UTC",
		Pad:      padtest.SandPad(),
		Settings: upkeep.Defaults(),
	}.Ready()
	require.NoError(t, err)
	return s
}

// field is where a refusal stands.
func field(t *testing.T, err error) string {
	var fields figure.FieldErrors
	require.True(t, errors.As(err, &fields), "%v", err)
	return fields[0].Field
}

// What a run can't be begun with is said at its field; a hold is passed for a reason alone, and
// holds only work that throws water away.
func TestWhatARunCantBeBegunWithIsSaidAtItsField(t *testing.T) {
	s := siteOf(t)
	hold := &upkeep.Hold{Until: morning.Add(20 * time.Hour), Why: "chemicals went in"}
	for name, x := range map[string]struct {
		ask   Ask
		hold  *upkeep.Hold
		field string
	}{
		"a fever":             {Ask{Procedure: procedure.Backwash, WaterF: 140}, nil, "waterF"},
		"no such work":        {Ask{Procedure: "polish"}, nil, "procedure"},
		"another pad's work":  {Ask{Procedure: procedure.HoseOff}, nil, "procedure"},
		"held, and no reason": {Ask{Procedure: procedure.Backwash}, hold, "reason"},
	} {
		_, err := Begin(s, x.ask, x.hold, morning)
		assert.Equal(t, x.field, field(t, err), name)
	}
	for _, ask := range []Ask{{Procedure: procedure.Backwash, Reason: "green water"}, {Procedure: procedure.Baskets}} {
		script, err := Begin(s, ask, hold, morning)
		require.NoError(t, err)
		assert.Equal(t, ask.Procedure, script.Procedure)
	}
}

// A run on a device and on record is followed from its events alone, and stands alike after each.
func TestARunIsFollowedFromItsEvents(t *testing.T) {
	s := siteOf(t)
	script, err := Begin(s, Ask{Procedure: procedure.Backwash, Speed: 2400}, nil, morning)
	require.NoError(t, err)
	run := Run{ID: "r", By: "Us", StartedAt: morning, Script: script}
	begun, err := View(s, &run, morning)
	require.NoError(t, err)
	assert.Equal(t, script.Steps[0].ID, begun.At)
	assert.Nil(t, begun.Back, "no way leads before the first step")
	typed := Typed{
		Act: procedure.ActGo, Step: begun.At, Option: script.Steps[0].Options[0].ID, At: morning.Add(time.Minute),
		Reading: &judge.TypedReading{Speed: "2400", Tank: "14"},
	}
	reading, errs := typed.Read("events[0]", s.Model)
	require.Empty(t, errs)
	run.Events = append(run.Events, typed.Event(typed.At, reading, run.By))
	now, err := View(s, &run, morning.Add(time.Minute))
	require.NoError(t, err)
	assert.Equal(t, 1, now.Turn)
	assert.NotEqual(t, begun.At, now.At)
	require.Len(t, now.Done, 1)
	assert.Equal(t, "Us", now.Done[0].By)
	assert.InDelta(t, 14, *now.Result.Before.TankPsi, 1e-9)
	run.Events = append(run.Events, typed.Event(typed.At, reading, run.By)) // the same step again
	_, err = View(s, &run, morning)
	assert.ErrorIs(t, err, procedure.ErrTurn)
}

// A reading without the pump's speed, or of nothing, is refused at its event's own field.
func TestAReadingOfAStepIsRefusedAtItsField(t *testing.T) {
	s := siteOf(t)
	for _, x := range []struct {
		reading judge.TypedReading
		field   string
	}{
		{judge.TypedReading{Tank: "14"}, "events[3].reading.speed"},
		{judge.TypedReading{Speed: "2400"}, "events[3].reading.tank"},
		{judge.TypedReading{Speed: "2400", Tank: "high"}, "events[3].reading.tank"},
	} {
		_, errs := (&Typed{Reading: &x.reading}).Read("events[3]", s.Model)
		require.NotEmpty(t, errs)
		assert.Equal(t, x.field, errs[0].Field)
	}
	none, errs := (&Typed{Note: " a note "}).Read("events[0]", s.Model)
	assert.Nil(t, none)
	assert.Empty(t, errs)
	assert.Equal(t, "a note", (&Typed{Note: " a note "}).Event(morning, nil, "").Note)
}

// A run begins as the stop left the pad, and asks for it; its end names the speed that the program
// has at that hour, and a reading that can't be beside another is said at once.
func TestARunBeginsAsTheStopLeftThePad(t *testing.T) {
	s := siteOf(t)
	locked := &judge.Findings{
		Readings: []judge.TypedReading{}, Signs: map[string]bool{},
		Said: []judge.SaidPump{{At: morning.Add(-time.Minute), Pump: "locked"}},
	}
	script, err := Begin(s, Ask{Procedure: procedure.Baskets, Findings: locked}, nil, morning)
	require.NoError(t, err)
	assert.Equal(t, procedure.Locked, script.Start.Power)
	usual, err := Begin(s, Ask{Procedure: procedure.Baskets}, nil, morning)
	require.NoError(t, err)
	assert.Equal(t, procedure.Live, usual.Start.Power)
	assert.Less(t, len(usual.Steps), len(script.Steps), "what is asked first, and both ways on")
	last := usual.Steps[len(usual.Steps)-1]
	assert.Equal(t, "program", last.ID)
	slot, ok := s.Slot(morning)
	require.True(t, ok)
	if slot > 0 {
		assert.Contains(t, string(last.Hint), "slotSpeed")
	} else {
		assert.Contains(t, string(last.Hint), "slotOff")
	}
	wrong := &judge.Findings{Readings: []judge.TypedReading{{Speed: "2400", Tank: "ten"}}, Signs: map[string]bool{}}
	_, err = Begin(s, Ask{Procedure: procedure.Baskets, Findings: wrong}, nil, morning)
	assert.Equal(t, "readings[0].tank", field(t, err))
}

func TestAReadingThatCantBeIsSaidAtOnce(t *testing.T) {
	s := siteOf(t)
	script, err := Begin(s, Ask{Procedure: procedure.CleanLine}, nil, morning)
	require.NoError(t, err)
	r := script.Begin()
	read := func(rpm, tank float64) procedure.Event {
		return procedure.Event{
			At: morning, Act: procedure.ActGo, Turn: r.Turn, Step: r.At, Option: r.Next().Options[0].ID,
			Reading: &casefile.Reading{RPM: rpm, TankPsi: &tank},
		}
	}
	for r.Next().Read == "" {
		e := read(0, 0)
		e.Option, e.Reading = r.Next().Options[len(r.Next().Options)-1].ID, nil
		require.NoError(t, r.Take(e))
	}
	top := read(3450, 20)
	_, says := Reversed(s.Model, r, &top)
	assert.Empty(t, says)
	require.NoError(t, r.Take(top))
	turned := read(2000, 26)
	at, says := Reversed(s.Model, r, &turned)
	assert.Equal(t, "tank", at)
	assert.Contains(t, string(says), "line-reversed")
	sound := read(2000, 8)
	_, says = Reversed(s.Model, r, &sound)
	assert.Empty(t, says)
}
