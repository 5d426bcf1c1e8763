package api

import (
	"net/http"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"

	"fairlap/internal/demo/demotest"
)

// A day that no record of pools can hold is asked about at its field, wherever one is typed.
func TestDaysOfAnotherAgeAreAskedAbout(t *testing.T) {
	w := serve(t)
	tech, desk := w.as("technician"), w.as("office")
	line := newLine()
	line.TakenAt = time.Date(3, 1, 1, 0, 0, 0, 0, time.UTC)
	visit := draft(w.stop)
	visit.ArrivedAt = time.Date(1999, 12, 31, 23, 0, 0, 0, time.UTC)
	part := func(on, until string) map[string]any {
		return map[string]any{
			"id":            uuid.NewString(),
			"act":           "install",
			"kind":          "Timer",
			"model":         "Dial 2",
			"on":            on,
			"warrantyUntil": until,
		}
	}
	for _, x := range []struct {
		who    *client
		path   string
		body   any
		fields []string
	}{
		{desk, "/api/v1/pools/" + w.pool + "/parts", part("0001-01-01", ""), []string{"on"}},
		{desk, "/api/v1/pools/" + w.pool + "/parts", part(demotest.On("2026-11-20"), "9999-12-31"), []string{"warrantyUntil"}},
		{desk, "/api/v1/pools/" + w.pool + "/clean-lines", line, []string{"takenAt"}},
		{tech, "/api/v1/visits", visit, []string{"arrivedAt"}},
		{desk, "/api/v1/pools/" + w.pool + "/due-marks", map[string]any{"id": uuid.NewString(), "item": "clean-line", "act": "snooze", "reason": "x", "until": "9999-01-01T00:00:00Z"}, []string{"until"}},
		{desk, "/api/v1/pools/" + w.pool + "/visit-moves", map[string]any{"id": uuid.NewString(), "on": "9999-11-30", "to": "9999-12-01"}, []string{"on"}},
	} {
		var p problemBody
		assert.Equal(t, http.StatusUnprocessableEntity, x.who.do("POST", x.path, x.body, &p), x.path)
		for _, f := range x.fields {
			assert.NotEmpty(t, p.at(f), "%s: %v", x.path, p.Errors)
		}
	}
}
