package api

import (
	"net/http"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/guided"
	"fairlap/core/procedure"
	"fairlap/internal/app/inspect"
	"fairlap/internal/app/record"
	"fairlap/internal/demo/demotest"
)

// made sends what a device made at some time.
func (c *client) made(at, path string, in, out any) int {
	return c.doWith(map[string]string{"Made-At": at}, http.MethodPost, path, in, out)
}

// What was made without a line stands where it happened, and says when it came in; what was made
// on the line says nothing of the kind.
func TestWhatComesInLateStandsWhereItHappened(t *testing.T) {
	w := serve(t)
	tech := w.as("technician")
	pool := "/api/v1/pools/" + w.pool
	hoursAgo := func(h int) time.Time { return demotest.Now().Add(-time.Duration(h) * time.Hour) }
	note := func(text string) map[string]any { return map[string]any{"id": uuid.New(), "text": text} }
	require.Equal(t, http.StatusNoContent, tech.do("POST", pool+"/notes", note("made on the line"), nil))
	late := note("made three hours ago")
	for range 2 { // sent again because the answer was lost
		require.Equal(t, http.StatusNoContent, tech.made(hoursAgo(3).Format(time.RFC3339), pool+"/notes", late, nil))
	}
	require.Equal(t, http.StatusOK, tech.made(hoursAgo(2).Format(time.RFC3339), pool+"/due-marks",
		map[string]any{"id": uuid.New(), "item": "clean-line", "act": "done", "reason": ""}, nil))
	var log record.LogPage
	tech.get(pool+"/log?kind=note,due", &log)
	require.GreaterOrEqual(t, len(log.Entries), 3)
	assert.Equal(t, "made on the line", say(log.Entries[0].Detail))
	assert.Nil(t, log.Entries[0].Received)
	assert.Equal(t, "due", log.Entries[1].Kind)
	assert.Equal(t, "made three hours ago", say(log.Entries[2].Detail))
	for i, h := range []int{2, 3} {
		assert.WithinDuration(t, hoursAgo(h), log.Entries[i+1].At, time.Second)
		require.NotNil(t, log.Entries[i+1].Received)
		assert.WithinDuration(t, demotest.Now(), *log.Entries[i+1].Received, time.Minute)
	}
}

// A time that nobody can mean is asked about, and nothing is recorded.
func TestATimeThatNobodyCanMeanIsAskedAbout(t *testing.T) {
	w := serve(t)
	tech := w.as("technician")
	for at, says := range map[string]string{
		"1970-01-01T00:00:00Z":                               "more than sixty days ago",
		demotest.Now().AddDate(0, 0, 1).Format(time.RFC3339): "later than now",
		"yesterday": "A time is expected",
	} {
		var p problemBody
		status := tech.made(at, "/api/v1/pools/"+w.pool+"/notes", map[string]any{"id": uuid.New(), "text": "when?"}, &p)
		assert.Equal(t, http.StatusUnprocessableEntity, status, at)
		assert.Contains(t, p.at("madeAt"), says)
	}
	var log record.LogPage
	tech.get("/api/v1/pools/"+w.pool+"/log?kind=note&find=when", &log)
	assert.Empty(t, log.Entries)
}

// Work and inspections that were begun on a device are on record as they happened, also beside
// others that were left open meanwhile.
func TestWhatWasBegunOnADeviceStandsBesideWhatIsOpen(t *testing.T) {
	w := serve(t)
	tech := w.as("technician")
	ago := demotest.Now().Add(-time.Hour).Format(time.RFC3339)
	ask := func(p procedure.ID, begun bool) map[string]any {
		return map[string]any{"id": uuid.New(), "procedure": p, "stopId": w.stop, "begun": begun}
	}
	var open, run guided.RunView
	require.Equal(
		t,
		http.StatusOK,
		tech.do("POST", "/api/v1/pools/"+w.pool+"/runs", ask(procedure.Baskets, false), &open),
	)
	var p problemBody
	assert.Equal(
		t,
		http.StatusUnprocessableEntity,
		tech.do("POST", "/api/v1/pools/"+w.pool+"/runs", ask(procedure.Backwash, false), &p),
	)
	here := ask(procedure.Backwash, true)
	require.Equal(t, http.StatusOK, tech.made(ago, "/api/v1/pools/"+w.pool+"/runs", here, &run))
	assert.Equal(t, here["id"].(uuid.UUID).String(), run.ID)
	assert.WithinDuration(t, demotest.Now().Add(-time.Hour), run.StartedAt, time.Second)

	var first, second inspect.InspectionView
	require.Equal(
		t,
		http.StatusOK,
		tech.do("POST", "/api/v1/pools/"+w.pool+"/inspections", map[string]any{"id": uuid.New()}, &first),
	)
	id := uuid.New()
	for range 2 {
		require.Equal(
			t,
			http.StatusOK,
			tech.made(ago, "/api/v1/pools/"+w.pool+"/inspections", map[string]any{"id": id, "begun": true}, &second),
		)
		assert.Equal(t, id.String(), second.ID)
	}
}
