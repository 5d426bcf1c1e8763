package store_test

import (
	"encoding/json"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/clock"
	"fairlap/internal/store"
)

func TestDecisionsAreKeptOnceAndInOrder(t *testing.T) {
	st, v := minimal(t)
	now := clock.Now().UTC().Truncate(time.Second)
	mark := func(act, reason string, at time.Time) store.DueMark {
		return store.DueMark{
			ID:     uuid.Must(uuid.NewV7()),
			PoolID: v.PoolID,
			Item:   "clean-line",
			Act:    act,
			Reason: reason,
			MadeBy: v.TechnicianID,
			MadeAt: at,
		}
	}
	second, first := mark("cancel", "sold", now), mark("done", "", now.Add(-time.Hour))
	for _, m := range []store.DueMark{second, first, first, second} {
		require.NoError(t, st.AddDueMark(ctx, m))
	}
	marks, err := st.DueMarksOf(ctx, []uuid.UUID{v.PoolID, uuid.New()})
	require.NoError(t, err)
	require.Len(t, marks[v.PoolID], 2)
	assert.Equal(t, "done", marks[v.PoolID][0].Act, "oldest first")
	// The database itself wants a reason where the next one needs it, and a day for a
	// putting off.
	assert.Error(t, st.AddDueMark(ctx, mark("override", "", now)))
	assert.Error(t, st.AddDueMark(ctx, mark("snooze", "", now)))
	assert.Error(t, st.AddDueMark(ctx, mark("forget", "", now)))
}

func TestOneOfManyWritersOfTheSettingsWins(t *testing.T) {
	st, _ := minimal(t)
	require.NoError(
		t,
		st.Insert(
			ctx,
			&store.Company{ID: 1, Name: "Test", TimeZone: "UTC", Settings: json.RawMessage(`{}`), Version: 1},
		),
	)
	var wg sync.WaitGroup
	var mu sync.Mutex
	won := 0
	for range 6 {
		wg.Go(func() {
			c, err := st.SaveSettings(ctx, 1, json.RawMessage(`{"holdHours":12}`))
			mu.Lock()
			defer mu.Unlock()
			if err == nil {
				won++
			} else {
				assert.ErrorIs(t, err, store.ErrVersion)
			}
			assert.Equal(t, 2, c.Version, "the loser sees how it stands")
		})
	}
	wg.Wait()
	assert.Equal(t, 1, won)
}

func TestANewAddressEndsTheOld(t *testing.T) {
	st, v := minimal(t)
	now := clock.Now().UTC().Truncate(time.Second)
	for i, digest := range [][]byte{{1}, {2}} {
		require.NoError(
			t,
			st.OpenFeed(
				ctx,
				store.CalendarFeed{
					Digest:    digest,
					UserID:    v.TechnicianID,
					CreatedAt: now.Add(time.Duration(i) * time.Minute),
				},
			),
		)
	}
	_, err := st.FeedByDigest(ctx, []byte{1})
	assert.ErrorIs(t, err, store.ErrNotFound)
	f, err := st.FeedByDigest(ctx, []byte{2})
	require.NoError(t, err)
	assert.Equal(t, v.TechnicianID, f.UserID)
	require.NoError(t, st.CloseFeed(ctx, v.TechnicianID, now))
	require.NoError(t, st.CloseFeed(ctx, v.TechnicianID, now), "ending what has ended is no mistake")
	_, err = st.FeedOf(ctx, v.TechnicianID)
	assert.ErrorIs(t, err, store.ErrNotFound)
}
