package work

import (
	"errors"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/figure"
	"fairlap/core/guided"
	"fairlap/core/judge"
	"fairlap/core/pad/padtest"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/words"
)

// Readings of a run's events are all read before any is kept; each slip is named at its event.
func TestARunsReadingsAreReadBeforeAnyIsKept(t *testing.T) {
	m, err := plumbing.Calibrate(padtest.SandPad(), nil, units.Fahrenheit(80), units.PSI(8))
	require.NoError(t, err)
	event := func(r *judge.TypedReading) RunEvent { return RunEvent{ID: uuid.New(), Typed: guided.Typed{Reading: r}} }
	good, err := parseRunReadings([]RunEvent{event(nil), event(&judge.TypedReading{Speed: "2400", Tank: "14 psi"})}, m)
	require.NoError(t, err)
	assert.Nil(t, good[0], "an event without a reading has none")
	assert.InDelta(t, 14, *good[1].TankPsi, 1e-9)
	for name, x := range map[string]struct {
		event RunEvent
		field string
	}{
		"no id":      {RunEvent{}, "events[1].id"},
		"at rest":    {event(&judge.TypedReading{Speed: "0", Tank: "2"}), "events[1].reading.speed"},
		"speed only": {event(&judge.TypedReading{Speed: "2400"}), "events[1].reading.tank"},
		"no figure":  {event(&judge.TypedReading{Speed: "2400", Tank: "much"}), "events[1].reading.tank"},
		"no speed":   {event(&judge.TypedReading{Tank: "14"}), "events[1].reading.speed"},
	} {
		out, err := parseRunReadings([]RunEvent{event(&judge.TypedReading{Speed: "2400", Tank: "14"}), x.event}, m)
		var fields figure.FieldErrors
		require.True(t, errors.As(err, &fields), name)
		assert.Nil(t, out, "%s: none of them is taken", name)
		at := map[string]bool{}
		for _, f := range fields {
			at[f.Field] = true
			assert.NotEmpty(t, words.Plain.Say(f.Text), name)
		}
		assert.True(t, at[x.field], "%s: %v", name, at)
	}
}
