package api

import (
	"fairlap/internal/clock"
	"fairlap/internal/gate"
	"net/http"
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
	"get-paper-pdf": true, "get-shared-paper-pdf": true, "start-run": true, "get-day": true, "work-practice": true, "keep-practice": true, "ask-practice": true,
}

// queued puts a heavy route behind the line.
func (a *API) queued(op *huma.Operation) {
	if !heavy[op.OperationID] {
		return
	}
	op.Middlewares = append(op.Middlewares, func(ctx huma.Context, next func(huma.Context)) {
		leave, ok := a.line.Enter(ctx.Context(), gate.LongestWait)
		if !ok {
			a.metrics.SentAway()
			ctx.SetHeader("Retry-After", strconv.Itoa(int(gate.ComeAgain/time.Second)))
			a.refuse(ctx, huma.NewError(http.StatusServiceUnavailable, tooMuch))
			return
		}
		defer leave()
		start := clock.Now()
		next(ctx)
		a.metrics.Worked(op.OperationID, clock.Since(start))
	})
}
