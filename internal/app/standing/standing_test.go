package standing

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/fault"
	"fairlap/core/inspection"
	"fairlap/core/pad"
	"fairlap/core/upkeep"
	"fairlap/internal/store"
)

// A suspect that a visit left open is one; what was settled, or found to be nothing, is none.
func TestASuspectIsOpenUntilItIsSettled(t *testing.T) {
	for confirmed, want := range map[string]fault.ID{
		"open:" + string(fault.AirInlet): fault.AirInlet, string(fault.AirInlet): "", NothingFound: "", "": "",
	} {
		id, name := OpenSuspect(confirmed, pad.Sand)
		assert.Equal(t, want, id, confirmed)
		assert.Equal(t, want == "", name == "", confirmed)
	}
}

// Only what a closed inspection found is work, and of that only what is to be mended.
func TestAnInspectionAsksForWorkOnceItIsClosed(t *testing.T) {
	findings, err := json.Marshal([]inspection.Finding{
		{
			Item:     "a",
			Severity: inspection.Stop,
			Name:     "x",
		}, {Item: "b", Severity: inspection.Note, Name: "y"}, {Item: "c", Severity: inspection.Soon, Name: "z"},
	})
	require.NoError(t, err)
	open := store.Inspection{Findings: findings}
	work, err := InspectedOf(open)
	require.NoError(t, err)
	assert.Empty(t, work, "still open")
	at := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	open.ClosedAt = &at
	work, err = InspectedOf(open)
	require.NoError(t, err)
	by := map[string]upkeep.Inspected{}
	for _, w := range work {
		by[w.Item] = w
		assert.Equal(t, at, w.At)
	}
	assert.True(t, by["a"].Stop)
	assert.True(t, by["c"].Soon)
	assert.NotContains(t, by, "b", "good to know is no work")
	_, err = FindingsOf(&store.Inspection{ID: uuid.New(), Findings: json.RawMessage(`{`)})
	assert.Error(t, err)
	none, err := FindingsOf(&store.Inspection{})
	require.NoError(t, err)
	assert.Empty(t, none)
}
