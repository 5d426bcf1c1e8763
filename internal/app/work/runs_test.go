package work

import (
	"fairlap/core/guided"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

// A device whose clock is hours ahead keeps what it timed: all of it is put back alike,
// the last of it to now. A clock within two minutes is believed.
func TestAClockAheadKeepsItsWaits(t *testing.T) {
	now := time.Date(2026, 11, 24, 12, 0, 0, 0, time.UTC)
	at := func(d time.Duration) RunEvent { return RunEvent{Typed: guided.Typed{At: now.Add(d)}} }
	events := []RunEvent{at(5 * time.Hour), at(5*time.Hour + 11*time.Minute)}
	ahead := clockAhead(events, now)
	assert.Equal(t, 5*time.Hour+11*time.Minute, ahead)
	assert.Equal(t, now, events[1].At.Add(-ahead))
	assert.Equal(t, 11*time.Minute, events[1].At.Add(-ahead).Sub(events[0].At.Add(-ahead)))
	assert.Zero(t, clockAhead([]RunEvent{at(-time.Hour), at(time.Minute)}, now))
	assert.Zero(t, clockAhead(nil, now))
}
