package api

import (
	"net/http"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/app/day"
	"fairlap/internal/app/route"
	"fairlap/internal/app/visit"
	"fairlap/internal/demo/demotest"
)

// before is the same town as a server restored from a backup of before today was laid out has it.
func before(t *testing.T) *world {
	w := serve(t)
	for _, q := range []string{"delete from stops where lap_id in (select id from laps where day = $1)",
		"delete from laps where day = $1"} {
		_, err := w.town.Store.Pool.Exec(t.Context(), q, demotest.On("2026-11-24"))
		require.NoError(t, err)
	}
	return w
}

// A device asks what is on record of what it sent: its own, by the ids that it made.
func TestReceiptsNameWhatIsOnRecord(t *testing.T) {
	w := serve(t)
	tech := w.as("technician")
	d, note, never := draft(w.stop), uuid.New(), uuid.New()
	require.Equal(t, http.StatusOK, tech.do("POST", "/api/v1/visits", d, nil))
	require.Equal(t, http.StatusNoContent, tech.do("POST", "/api/v1/pools/"+w.pool+"/notes",
		map[string]any{"id": note, "text": "The key hangs left."}, nil))
	ask := map[string]any{"ids": []uuid.UUID{d.ID, note, never}}
	var got day.Receipts
	require.Equal(t, http.StatusOK, tech.do("POST", "/api/v1/receipts", ask, &got))
	assert.ElementsMatch(t, []string{d.ID.String(), note.String()}, got.Has)
	require.Equal(t, http.StatusOK, w.as("office").do("POST", "/api/v1/receipts", ask, &got))
	assert.Empty(t, got.Has, "of nobody else's")
}

// A server restored from before the day was laid out takes the day's visits and runs by their pool and their day; the
// stop comes back under the id that it had, and everything is there once however often it is sent.
func TestARestoredServerIsFilledAgain(t *testing.T) {
	was, w := serve(t), before(t)
	d := draft(was.stop)
	require.Equal(t, http.StatusOK, was.as("technician").do("POST", "/api/v1/visits", d, nil))

	tech := w.as("technician")
	assert.Equal(t, http.StatusNotFound, tech.do("POST", "/api/v1/visits", d, nil), "of no pool that it says")
	pool := uuid.MustParse(was.pool)
	d.PoolID = &pool
	assert.Equal(t, http.StatusForbidden, w.other().do("POST", "/api/v1/visits", d, nil), "somebody else's")
	run := map[string]any{"id": uuid.New(), "procedure": "leak-tests", "stopId": d.StopID, "begun": true}
	var refused problemBody
	status := tech.do("POST", "/api/v1/pools/"+was.pool+"/runs", run, &refused)
	require.Equal(t, http.StatusOK, status, "%+v", refused)
	d.LeftReason = "called away" // the run is open
	for range 2 {
		var v visit.VisitRecord
		require.Equal(t, http.StatusOK, tech.do("POST", "/api/v1/visits", d, &v))
		assert.Equal(t, d.ID.String(), v.ID)
		assert.Equal(t, was.stop, v.StopID)
	}
	var lap route.LapView
	tech.get("/api/v1/lap", &lap)
	assert.Equal(t, was.lap, lap.ID)
	var logged int
	require.NoError(t, w.town.Store.Pool.QueryRow(t.Context(), "select count(*) from visits where stop_id = $1",
		d.StopID).Scan(&logged))
	assert.Equal(t, 1, logged)

	// A lap of another id, as an older server made it: the visit goes where the day and the pool say.
	d.ID, d.StopID = uuid.New(), uuid.New()
	second := uuid.MustParse(pick(t, was))
	d.PoolID = &second
	var v visit.VisitRecord
	require.Equal(t, http.StatusOK, tech.do("POST", "/api/v1/visits", d, &v))
	assert.NotEqual(t, d.StopID.String(), v.StopID)

	// Further back than devices keep what they sent nothing is laid out again.
	d.ID, d.StopID = uuid.New(), uuid.New()
	d.ArrivedAt, d.ClosedAt = d.ArrivedAt.Add(-9*24*time.Hour), d.ClosedAt.Add(-9*24*time.Hour)
	assert.Equal(t, http.StatusNotFound, tech.do("POST", "/api/v1/visits", d, nil))
}

// pick is the pool of a lap's second stop.
func pick(t *testing.T, w *world) string {
	var lap route.LapView
	w.as("technician").get("/api/v1/lap", &lap)
	require.Greater(t, len(lap.Stops), 1)
	return lap.Stops[1].PoolID
}
