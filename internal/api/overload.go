package api

import (
	"context"
	"net/http"
	"runtime"
	"strconv"
	"time"

	"github.com/danielgtaylor/huma/v2"
)

// heavy are the routes that work for a while: as many of them at once as there are
// processors, some more waiting, and the rest told to come again, so that reading stays quick
// beside them.
var heavy = map[string]bool{
	"diagnose": true, "save-visit": true, "try-paths": true, "try-walk": true, "save-clean-line": true, "sketch-pad": true, "preview-pad": true,
	"get-speed-plan": true, "try-speed-plan": true, "try-slots": true, "get-plan-season": true, "get-plan-schools": true, "get-limits": true,
	"get-paper-pdf": true, "get-shared-paper-pdf": true, "start-run": true, "get-day": true,
}

// How many wait for each that is worked on, how long one waits at most, and when those who
// are sent away are asked to come again.
const (
	waitingEach = 16
	longestWait = 5 * time.Second
	comeAgain   = 2 * time.Second
)

// queue is a bounded line before work.
type waitingLine struct{ working, inside chan struct{} }

func newQueue(working, waiting int) *waitingLine {
	return &waitingLine{make(chan struct{}, working), make(chan struct{}, working+waiting)}
}

// enter waits for a place; ok false: there is none to wait for. leave must be called after ok.
func (q *waitingLine) enter(ctx context.Context, most time.Duration) (leave func(), ok bool) {
	select {
	case q.inside <- struct{}{}:
	default:
		return nil, false
	}
	wait := time.NewTimer(most)
	defer wait.Stop()
	select {
	case q.working <- struct{}{}:
		return func() { <-q.working; <-q.inside }, true
	case <-wait.C:
	case <-ctx.Done():
	}
	<-q.inside
	return nil, false
}

// queued puts a heavy route behind the line.
func (a *API) queued(op *huma.Operation) {
	if !heavy[op.OperationID] {
		return
	}
	op.Middlewares = append(op.Middlewares, func(ctx huma.Context, next func(huma.Context)) {
		leave, ok := a.line.enter(ctx.Context(), longestWait)
		if !ok {
			ctx.SetHeader("Retry-After", strconv.Itoa(int(comeAgain/time.Second)))
			a.refuse(ctx, huma.NewError(http.StatusServiceUnavailable, tooMuch))
			return
		}
		defer leave()
		next(ctx)
	})
}

func newWorkLine() *waitingLine {
	n := runtime.GOMAXPROCS(0)
	return newQueue(n, waitingEach*n)
}
