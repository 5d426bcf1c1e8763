package api

import (
	"context"
	"net/http"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/fault"
	"fairlap/core/practice"
	"fairlap/internal/app/learn"
)

// A case is worked without being kept, kept as far as it is, added to and never changed; it is
// its worker's alone, and gone when they say so.
func TestPracticeIsItsWorkersOwn(t *testing.T) {
	w := serve(t)
	tech, desk := w.as("technician"), w.as("office")
	var cases []practice.CaseRow
	tech.get("/api/v1/practice/cases", &cases)
	assert.GreaterOrEqual(t, len(cases), 30)
	ask := practice.Ask{
		Which:  practice.Which{ID: "gulping-by-the-steps"},
		Mode:   practice.Hints,
		Events: []practice.Event{{Act: practice.ActRead}},
	}
	var shown practice.Answer
	require.Equal(t, http.StatusOK, tech.do("POST", "/api/v1/practice/work", ask, &shown))
	require.NotNil(t, shown.View.Hint)
	assert.Nil(t, shown.Debrief)
	path := "/api/v1/practice/attempts/" + uuid.NewString()
	keep := func(who *client, ask practice.Ask, row any) int {
		return who.do("PUT", path, map[string]any{"ask": ask}, row)
	}
	var row learn.AttemptRow
	require.Equal(t, http.StatusOK, keep(tech, ask, &row))
	assert.Nil(t, row.Past)
	assert.Equal(t, http.StatusForbidden, keep(desk, ask, nil), "another's")
	ask.Events = append(ask.Events,
		practice.Event{Act: practice.ActLook, Sign: fault.LevelLow},
		practice.Event{Act: practice.ActMend, Fault: fault.WaterLow},
		practice.Event{Act: practice.ActLeave},
	)
	require.Equal(t, http.StatusOK, keep(tech, ask, &row))
	require.NotNil(t, row.Past)
	assert.True(t, row.Past.Solved)
	require.Equal(t, http.StatusOK, keep(tech, ask, &row), "the same again is the same")
	other := ask
	other.Events = append([]practice.Event{}, ask.Events...)
	other.Events[1].Sign = fault.SkimmerFull
	assert.Equal(t, http.StatusConflict, keep(tech, other, nil), "what was done is not changed")
	var mine, theirs learn.Standing
	tech.get("/api/v1/practice", &mine)
	assert.Equal(t, 1, mine.Tries)
	assert.Equal(t, 1, mine.Solved)
	require.Len(t, mine.Attempts, 1)
	require.NotNil(t, mine.Next)
	assert.NotEqual(t, "gulping-by-the-steps", mine.Next.ID)
	desk.get("/api/v1/practice", &theirs)
	assert.Empty(t, theirs.Attempts)
	require.Less(t, tech.do("DELETE", "/api/v1/practice", nil, nil), 300)
	tech.get("/api/v1/practice", &mine)
	assert.Zero(t, mine.Tries)
	var left int
	require.NoError(
		t,
		w.town.Store.Pool.QueryRow(context.Background(), "select count(*) from practice_attempts").Scan(&left),
	)
	assert.Zero(t, left)
}

// The desk asks for cases and sees what people tell apart; a technician does neither. A case
// that somebody wrote is checked, and says at its field what is wrong.
func TestTheDeskAsksForPractice(t *testing.T) {
	w := serve(t)
	tech, desk := w.as("technician"), w.as("office")
	var people []learn.PersonRow
	desk.get("/api/v1/practice/people", &people)
	require.NotEmpty(t, people)
	assert.Equal(t, http.StatusForbidden, tech.do("GET", "/api/v1/practice/people", nil, nil))
	var me struct {
		Me struct {
			ID uuid.UUID `json:"id"`
		} `json:"me"`
	}
	tech.get("/api/v1/me", &me)
	task := learn.Task{
		People: []uuid.UUID{me.Me.ID},
		Which:  practice.Which{Draw: &practice.Drawn{Level: practice.FirstWeek, Theme: practice.Air, Seed: 12}},
	}
	assert.Equal(t, http.StatusForbidden, tech.do("POST", "/api/v1/practice/tasks", task, nil))
	require.Less(t, desk.do("POST", "/api/v1/practice/tasks", task, nil), 300)
	var mine learn.Standing
	tech.get("/api/v1/practice", &mine)
	require.Len(t, mine.Tasks, 1)
	assert.False(t, mine.Tasks[0].Done)
	ask := practice.Ask{
		Which:  mine.Tasks[0].Which,
		Mode:   practice.Alone,
		Events: []practice.Event{{Act: practice.ActLeave}},
	}
	require.Equal(
		t,
		http.StatusOK,
		tech.do(
			"PUT",
			"/api/v1/practice/attempts/"+uuid.NewString(),
			map[string]any{"ask": ask, "task": mine.Tasks[0].ID},
			nil,
		),
	)
	tech.get("/api/v1/practice", &mine)
	assert.True(t, mine.Tasks[0].Done)
	assert.Zero(t, mine.Solved, "left as it was")
	require.Less(t, desk.do("DELETE", "/api/v1/practice/tasks/"+mine.Tasks[0].ID.String(), nil, nil), 300)
	own, ok := practice.Find("gulping-by-the-steps")
	require.True(t, ok)
	own.Month = 13
	task.Which = practice.Which{Case: own}
	assert.Equal(t, http.StatusUnprocessableEntity, desk.do("POST", "/api/v1/practice/tasks", task, nil))
	own.Month, own.Hidden[0].Step = 8, 9
	var said problemBody
	assert.Equal(t, http.StatusUnprocessableEntity, desk.do("POST", "/api/v1/practice/tasks", task, &said))
	assert.Contains(t, said.fields(), "case.hidden[0].step")
	bad := practice.Ask{Which: practice.Which{ID: "no-such"}, Mode: practice.Alone, Events: []practice.Event{}}
	assert.Equal(t, http.StatusUnprocessableEntity, tech.do("POST", "/api/v1/practice/work", bad, nil))
	bad = practice.Ask{
		Which:  practice.Which{ID: "gulping-by-the-steps"},
		Mode:   practice.Odds,
		Events: []practice.Event{{Act: practice.ActRead}},
	}
	assert.Equal(t, http.StatusUnprocessableEntity, tech.do("POST", "/api/v1/practice/work", bad, &said))
	assert.Contains(t, said.fields(), "events[0]")
}

// Nothing that is practised reaches the company's record or what it learns from.
func TestPracticeTouchesNoRecord(t *testing.T) {
	w := serve(t)
	tech := w.as("technician")
	sum := func() (out string) {
		require.NoError(t, w.town.Store.Pool.QueryRow(
			context.Background(),
			"select (select count(*) from visits)::text || ' ' || (select count(*) from outcomes)::text || ' ' || (select count(*) from audit)::text || ' ' || (select sum(record_rev) from pools)::text",
		).Scan(&out))
		return out
	}
	before := sum()
	ask := practice.Ask{
		Which: practice.Which{ID: "as-dirty-as-it-looks"},
		Mode:  practice.Alone,
		Events: []practice.Event{
			{Act: practice.ActRead}, {Act: practice.ActRun, Run: "backwash"}, {Act: practice.ActLeave},
		},
	}
	require.Equal(
		t,
		http.StatusOK,
		tech.do("PUT", "/api/v1/practice/attempts/"+uuid.NewString(), map[string]any{"ask": ask}, nil),
	)
	assert.Equal(t, before, sum())
}

// fields are where a refusal says that something is wrong.
func (p problemBody) fields() (out []string) {
	for _, e := range p.Errors {
		out = append(out, e.Location)
	}
	return out
}

// practised is a case with one act.
var practised = practice.Ask{
	Which:  practice.Which{ID: "used-on-sunday"},
	Mode:   practice.Alone,
	Events: []practice.Event{{Act: practice.ActRead}},
}

// someone is one of the company's people.
func (w *world) someone() string {
	var people []learn.PersonRow
	w.as("office").get("/api/v1/practice/people", &people)
	return people[0].ID.String()
}
