// Package clock is the one place that asks the machine what time it is. Whatever says a day or an hour of the job
// takes a clock that is passed in; this one is what a server passes in, and what bounds waits and measures how long
// something takes. A test of the house finds who asks the machine elsewhere.
package clock

import "time"

// Now is the machine's time, or the time that As said.
func Now() time.Time { return time.Now().Add(shift) }

// Since is how long ago a time of Now is.
func Since(t time.Time) time.Duration { return Now().Sub(t) }

// Until is how long it is to a time of Now.
func Until(t time.Time) time.Duration { return t.Sub(Now()) }

// Deadline is a moment for the operating system, which keeps its own time: when a read or a write is given up.
func Deadline(in time.Duration) time.Time { return time.Now().Add(in) }

var shift time.Duration

// As lets this program run as of another moment from here on: for tests of days on which clocks are at an edge. It is
// said before anything else runs.
func As(t time.Time) { shift = time.Until(t) }
