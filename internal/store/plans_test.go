package store_test

import (
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/clock"
	"fairlap/internal/store"
)

func id() uuid.UUID { return uuid.Must(uuid.NewV7()) }

func TestMovesAreKeptOnceAndHandPoolsOver(t *testing.T) {
	st, v := minimal(t)
	other := store.User{
		ID:           id(),
		Login:        "other",
		Name:         "Other",
		Role:         "technician",
		PasswordHash: "x",
		Active:       true,
		Version:      1,
		CreatedAt:    clock.Now(),
	}
	require.NoError(t, st.Insert(ctx, &other))
	today := clock.Now().UTC().Truncate(24 * time.Hour)
	to := today.AddDate(0, 0, 2)
	m := store.VisitMove{
		ID:           id(),
		PoolID:       v.PoolID,
		PlannedOn:    today,
		MovedTo:      &to,
		TechnicianID: &other.ID,
		MadeBy:       v.TechnicianID,
		MadeAt:       clock.Now(),
	}
	before, err := st.PoolByID(ctx, v.PoolID)
	require.NoError(t, err)
	for range 2 {
		require.NoError(t, st.AddVisitMove(ctx, m))
	}
	moves, err := st.MovesOf(ctx, []uuid.UUID{v.PoolID}, today)
	require.NoError(t, err)
	require.Len(t, moves[v.PoolID], 1)
	after, err := st.PoolByID(ctx, v.PoolID)
	require.NoError(t, err)
	assert.Greater(t, after.RecordRev, before.RecordRev, "what follows from the record is worked out anew")
	for _, x := range []struct {
		from time.Time
		want bool
	}{{today, true}, {to, true}, {to.AddDate(0, 0, 1), false}} {
		covers, err := st.Covers(ctx, other.ID, v.PoolID, x.from)
		require.NoError(t, err)
		assert.Equal(t, x.want, covers)
		pools, err := st.Workload(ctx, store.Whose{People: []uuid.UUID{other.ID}}, x.from)
		require.NoError(t, err)
		assert.Len(t, pools, map[bool]int{true: 1, false: 0}[x.want])
	}
	_, err = st.Pool.Exec(ctx, "update visit_moves set moved_to = null")
	assert.ErrorContains(t, err, "never changed")
	late, err := st.MovesOf(ctx, []uuid.UUID{v.PoolID}, to.AddDate(0, 0, 1))
	require.NoError(t, err)
	assert.Empty(t, late, "long over")
}

func TestALapIsWrittenOnceAndRevised(t *testing.T) {
	st, v := minimal(t)
	day := time.Date(2030, 1, 7, 0, 0, 0, 0, time.UTC)
	lap := func() store.Lap {
		l := store.Lap{
			ID:           id(),
			TechnicianID: v.TechnicianID,
			Day:          day,
			StartsAt:     day.Add(8 * time.Hour),
			LimitMinutes: 450,
			Version:      1,
		}
		l.Stops = []store.Stop{
			{ID: id(), LapID: l.ID, PoolID: v.PoolID, Position: 1, Minutes: 30, PlannedAt: l.StartsAt},
		}
		return l
	}
	first, err := st.CreateLap(ctx, lap())
	require.NoError(t, err)
	again, err := st.CreateLap(ctx, lap())
	require.NoError(t, err)
	assert.Equal(t, first.ID, again.ID, "the first one counts")
	require.Len(t, again.Stops, 1)
	again.Stops[0].Minutes = 45
	revised, err := st.ReviseLap(ctx, again, clock.Now())
	require.NoError(t, err)
	assert.Equal(t, []int{2, 45}, []int{revised.Version, revised.Stops[0].Minutes})
	stands, err := st.ReviseLap(ctx, again, clock.Now())
	require.ErrorIs(t, err, store.ErrVersion)
	assert.Equal(t, 2, stands.Version, "it comes as it now stands")
	// Taken off, a stop is still there for whoever stands at it; back, it is the same.
	was := revised.Stops[0]
	revised.Stops = nil
	off, err := st.ReviseLap(ctx, revised, clock.Now())
	require.NoError(t, err)
	assert.Empty(t, off.Stops)
	stop, _, err := st.StopByID(ctx, was.ID)
	require.NoError(t, err)
	assert.NotNil(t, stop.DroppedAt)
	off.Stops = []store.Stop{
		{ID: id(), LapID: off.ID, PoolID: v.PoolID, Position: 1, Minutes: 30, PlannedAt: off.StartsAt},
	}
	revised, err = st.ReviseLap(ctx, off, clock.Now())
	require.NoError(t, err)
	require.Len(t, revised.Stops, 1)
	assert.Equal(t, was.ID, revised.Stops[0].ID)
	// A stop with a visit stays, whatever the plan.
	logged := v
	logged.ID, logged.StopID = id(), &revised.Stops[0].ID
	_, err = st.SaveVisit(ctx, logged)
	require.NoError(t, err)
	revised.Stops = nil
	_, err = st.ReviseLap(ctx, revised, clock.Now())
	require.ErrorIs(t, err, store.ErrVersion)
	kept, err := st.LapByID(ctx, first.ID)
	require.NoError(t, err)
	assert.Len(t, kept.Stops, 1)
	laps, err := st.LapsOf(ctx, day)
	require.NoError(t, err)
	assert.Len(t, laps, 1)
}

func TestWhoeverLeavesHandsThePoolsOn(t *testing.T) {
	st, v := minimal(t)
	require.NoError(
		t,
		st.OpenFeed(ctx, store.CalendarFeed{Digest: []byte("d"), UserID: v.TechnicianID, CreatedAt: clock.Now()}),
	)
	n, err := st.Leave(ctx, v.TechnicianID, nil, clock.Now())
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	_, err = st.FeedByDigest(ctx, []byte("d"))
	require.ErrorIs(t, err, store.ErrNotFound)
	_, err = st.UserByID(ctx, v.TechnicianID)
	require.ErrorIs(t, err, store.ErrNotFound)
	p, err := st.PoolByID(ctx, v.PoolID)
	require.NoError(t, err)
	assert.Nil(t, p.TechnicianID)
	_, err = st.Leave(ctx, v.TechnicianID, nil, clock.Now())
	require.ErrorIs(t, err, store.ErrNotFound, "once")
}

func TestManyVisitsComeAllOrNone(t *testing.T) {
	st, v := minimal(t)
	many := func(n int) []store.Visit {
		out := make([]store.Visit, n)
		for i := range out {
			out[i] = v
			out[i].ID, out[i].StopID = id(), nil
			out[i].Readings = []store.VisitReading{{Seq: 0, Phase: "found", Setting: "filter", SpeedRPM: 2400}}
			out[i].Signs, out[i].Works = nil, []store.VisitWork{{Seq: 0, Kind: "cleaned"}}
		}
		return out
	}
	count := func() (n int) {
		require.NoError(t, st.Pool.QueryRow(ctx, "select count(*) from visits").Scan(&n))
		return n
	}
	before := count()
	require.NoError(t, st.AddVisits(ctx, many(2300)))
	assert.Equal(t, before+2300, count())
	bad := many(1500)
	bad[1400].ID = bad[3].ID
	require.Error(t, st.AddVisits(ctx, bad))
	assert.Equal(t, before+2300, count(), "none of them")
	require.NoError(t, st.AddVisits(ctx, nil))
}

func TestAPoolsOwnChoicesHaveAVersion(t *testing.T) {
	st, v := minimal(t)
	p, err := st.ChangePool(ctx, v.PoolID, 1, map[string]any{"cleaning": []byte(`{"school":"calendar"}`)})
	require.NoError(t, err)
	assert.JSONEq(t, `{"school":"calendar"}`, string(p.Cleaning))
	p, err = st.ChangePool(ctx, v.PoolID, 1, map[string]any{"cleaning": []byte(`{}`)})
	require.ErrorIs(t, err, store.ErrVersion)
	assert.JSONEq(t, `{"school":"calendar"}`, string(p.Cleaning), "it comes as it stands")
	years := 3.0
	require.ErrorIs(t, st.SetPartLife(ctx, id(), &years), store.ErrNotFound)
}
