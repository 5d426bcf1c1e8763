package clock

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

// From the moment on that it is run as of, everything that asks the clock goes on from there, and
// what the operating system keeps goes by its own.
func TestTheClockGoesOnFromTheMomentThatItIsRunAsOf(t *testing.T) {
	was := shift
	defer func() { shift = was }()
	to := time.Date(2028, 2, 29, 23, 59, 0, 0, time.UTC)
	As(to)
	assert.WithinDuration(t, to, Now(), time.Second)
	assert.InDelta(t, time.Hour.Seconds(), Since(to.Add(-time.Hour)).Seconds(), 1)
	assert.InDelta(t, time.Hour.Seconds(), Until(to.Add(time.Hour)).Seconds(), 1)
	first := Now()
	time.Sleep(2 * time.Millisecond)
	assert.True(t, Now().After(first), "it is not stopped")
	shift = 0
	assert.WithinDuration(t, Now().Add(time.Minute), Deadline(time.Minute), time.Second)
}
