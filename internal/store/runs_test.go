package store_test

import (
	"encoding/json"
	"errors"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/store"
)

// started is a run at the pool of a minimal company.
func started(t *testing.T) (*store.Store, store.Run, uuid.UUID) {
	st, v := minimal(t)
	r := store.Run{
		ID:        uuid.Must(uuid.NewV7()),
		PoolID:    v.PoolID,
		Procedure: "backwash",
		Script:    json.RawMessage(`{"a":1}`),
		StartedBy: v.TechnicianID,
		StartedAt: v.ArrivedAt,
	}
	kept, err := st.StartRun(ctx, r)
	require.NoError(t, err)
	return st, kept, v.TechnicianID
}

func event(by uuid.UUID, at time.Time) store.RunEvent {
	return store.RunEvent{ID: uuid.Must(uuid.NewV7()), Act: "note", Note: "x", At: at, ReceivedAt: at, MadeBy: by}
}

func TestARunIsStartedOnce(t *testing.T) {
	st, r, _ := started(t)
	again, err := st.StartRun(ctx, r)
	require.NoError(t, err)
	assert.Equal(t, r.ID, again.ID)
	other := r
	other.Procedure = "baskets"
	_, err = st.StartRun(ctx, other)
	assert.ErrorIs(t, err, store.ErrDifferent, "this id stands for another run")
	runs, err := st.RunsOf(ctx, r.PoolID, nil, 10)
	require.NoError(t, err)
	assert.Len(t, runs, 1)
	elsewhere := uuid.New()
	runs, err = st.RunsOf(ctx, r.PoolID, &elsewhere, 10)
	require.NoError(t, err)
	assert.Empty(t, runs, "of another stop")
}

// Many devices at once: every event is in, numbered without a gap, and each saw all
// that came before its own.
func TestEventsOfARunComeOneAfterTheOther(t *testing.T) {
	st, r, by := started(t)
	const devices = 12
	var wait sync.WaitGroup
	saw := make([]int, devices)
	for i := range devices {
		wait.Go(func() {
			_, err := st.AppendRun(ctx, r.ID, func(stands store.Run) ([]store.RunEvent, error) {
				saw[i] = len(stands.Events)
				return []store.RunEvent{event(by, r.StartedAt)}, nil
			})
			assert.NoError(t, err)
		})
	}
	wait.Wait()
	kept, err := st.RunByID(ctx, r.ID)
	require.NoError(t, err)
	require.Len(t, kept.Events, devices)
	for i, e := range kept.Events {
		assert.Equal(t, i+1, e.Seq)
	}
	assert.ElementsMatch(t, []int{0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11}, saw)
}

func TestWhatARunRefusesIsNotWritten(t *testing.T) {
	st, r, by := started(t)
	no := errors.New("no")
	_, err := st.AppendRun(
		ctx,
		r.ID,
		func(store.Run) ([]store.RunEvent, error) { return []store.RunEvent{event(by, r.StartedAt)}, no },
	)
	assert.ErrorIs(t, err, no)
	_, err = st.AppendRun(ctx, uuid.New(), func(store.Run) ([]store.RunEvent, error) { return nil, nil })
	assert.ErrorIs(t, err, store.ErrNotFound)
	kept, err := st.AppendRun(ctx, r.ID, func(store.Run) ([]store.RunEvent, error) { return nil, nil })
	require.NoError(t, err)
	assert.Empty(t, kept.Events)
	dose := event(by, r.StartedAt.Add(time.Minute))
	dose.Doses = true
	var rev int64
	read := func() int64 {
		require.NoError(
			t,
			st.Pool.QueryRow(ctx, "select record_rev from pools where id = $1", r.PoolID.String()).Scan(&rev),
		)
		return rev
	}
	before := read()
	_, err = st.AppendRun(ctx, r.ID, func(store.Run) ([]store.RunEvent, error) {
		return []store.RunEvent{event(by, r.StartedAt), dose}, nil
	})
	require.NoError(t, err)
	assert.Equal(t, before+1, read(), "what is kept of the pool is stale: chemicals went in")
	doses, err := st.LastDoses(ctx, []uuid.UUID{r.PoolID, uuid.New()})
	require.NoError(t, err)
	assert.Len(t, doses, 1)
	assert.WithinDuration(t, dose.At, doses[r.PoolID], time.Second)
	for _, q := range []string{"update runs set procedure = 'x'", "delete from runs", "update run_events set note = 'y'", "delete from run_events"} {
		_, err := st.Pool.Exec(ctx, q)
		assert.Error(t, err, q)
	}
}

// A part that two take out at once is out once; the same change twice is one change.
func TestAPartGoesOutOnce(t *testing.T) {
	st, v := minimal(t)
	day := v.ArrivedAt.Truncate(24 * time.Hour)
	part := store.Equipment{ID: uuid.Must(uuid.NewV7()), PoolID: v.PoolID, Kind: "pump", Model: "Brisk 75"}
	in := store.EquipmentEvent{
		ID:          uuid.Must(uuid.NewV7()),
		PoolID:      v.PoolID,
		EquipmentID: part.ID,
		Act:         "install",
		HappenedOn:  day,
		MadeBy:      v.TechnicianID,
		MadeAt:      v.ClosedAt,
	}
	for range 2 {
		require.NoError(t, st.ChangeEquipment(ctx, in, &part, nil))
	}
	out := func() error {
		e := in
		e.ID, e.Act = uuid.Must(uuid.NewV7()), "remove"
		return st.ChangeEquipment(ctx, e, nil, &part.ID)
	}
	var wait sync.WaitGroup
	errs := make([]error, 2)
	for i := range errs {
		wait.Go(func() { errs[i] = out() })
	}
	wait.Wait()
	assert.True(t, (errs[0] == nil) != (errs[1] == nil), "%v", errs)
	assert.ErrorIs(t, errors.Join(errs...), store.ErrVersion)
	events, err := st.EquipmentEventsOf(ctx, v.PoolID)
	require.NoError(t, err)
	assert.Len(t, events, 2)
	parts, err := st.EquipmentOf(ctx, v.PoolID)
	require.NoError(t, err)
	assert.Empty(t, parts[v.PoolID])
	ever, err := st.PartsEver(ctx, v.PoolID)
	require.NoError(t, err)
	assert.NotNil(t, ever[part.ID].RemovedOn, "it is in the history still")
	_, err = st.Pool.Exec(ctx, "delete from equipment_events")
	assert.Error(t, err)
}
