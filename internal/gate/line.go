package gate

import (
	"context"
	"runtime"
	"time"
)

// How many wait for each that is worked on, how long one waits at most, and when those who
// are sent away are asked to come again.
const (
	waitingEach = 16
	LongestWait = 5 * time.Second
	ComeAgain   = 2 * time.Second
)

// Line is a bounded line before work.
type Line struct{ working, inside chan struct{} }

// NewLine has places for so many who work and so many who wait.
func NewLine(working, waiting int) *Line {
	return &Line{make(chan struct{}, working), make(chan struct{}, working+waiting)}
}

// ForProcessors is a line of as many workers as there are processors.
func ForProcessors() *Line {
	n := runtime.GOMAXPROCS(0)
	return NewLine(n, waitingEach*n)
}

// Enter waits for a place; ok false: there is none to wait for, or it took too long. leave must
// be called after ok.
func (l *Line) Enter(ctx context.Context, most time.Duration) (leave func(), ok bool) {
	select {
	case l.inside <- struct{}{}:
	default:
		return nil, false
	}
	wait := time.NewTimer(most)
	defer wait.Stop()
	select {
	case l.working <- struct{}{}:
		return func() { <-l.working; <-l.inside }, true
	case <-wait.C:
	case <-ctx.Done():
	}
	<-l.inside
	return nil, false
}

// Inside is how many work or wait.
func (l *Line) Inside() int { return len(l.inside) }
