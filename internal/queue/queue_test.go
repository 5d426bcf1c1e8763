package queue

import (
	"context"
	"log/slog"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/app"
	"fairlap/internal/app/access"
	"fairlap/internal/demo/demotest"
	"fairlap/internal/store"
)

func TestMain(m *testing.M) { demotest.Main(m) }

var ctx = context.Background()

// beside is a server's share of a town's jobs, working until the test ends.
func beside(t *testing.T, town demotest.Fixture) (*Queue, *app.Rooms) {
	st, err := store.Open(ctx, town.URL)
	require.NoError(t, err)
	t.Cleanup(st.Close)
	rooms := app.New(st, demotest.Now, town.Service.Company.World)
	q, err := New(st.Pool, rooms, Options{Log: slog.New(slog.DiscardHandler)})
	require.NoError(t, err)
	return q, rooms
}

func run(t *testing.T, q *Queue) {
	require.NoError(t, q.Start(ctx))
	t.Cleanup(func() {
		end, cancel := context.WithTimeout(ctx, 10*time.Second)
		defer cancel()
		_ = q.Stop(end)
	})
}

// Pools whose rows are behind their record are worked out beside; the owner sees the jobs, and
// one that failed is tried again on their word.
func TestRowsAreKeptUpBesideAndTheOwnerSees(t *testing.T) {
	town := demotest.Town(t)
	q, rooms := beside(t, town)
	run(t, q)
	behind := func() (n int) {
		require.NoError(
			t,
			town.Store.Pool.QueryRow(ctx, "select count(*) from pools p where archived_at is null and not exists (select 1 from standings s where s.pool_id = p.id and s.record_rev = p.record_rev)").
				Scan(&n),
		)
		return n
	}
	require.Eventually(t, func() bool { return behind() == 0 }, 30*time.Second, 50*time.Millisecond)
	require.NoError(t, q.Import(ctx, uuid.New()), "of an import that is gone")
	var jobs []Job
	require.Eventually(t, func() bool {
		var err error
		jobs, err = q.List(ctx)
		require.NoError(t, err)
		done := map[string]bool{}
		for _, j := range jobs {
			if j.State == "done" {
				done[j.Kind] = true
			}
		}
		return done["keep-up"] && done["forecast"] && done["retain"] && done["import"]
	}, 30*time.Second, 50*time.Millisecond)
	for _, j := range jobs {
		assert.NotEmpty(t, j.State)
		assert.False(t, j.MayAgain)
	}
	assert.ErrorIs(t, q.Again(ctx, 987654), store.ErrNotFound)

	// One that can't be done says why, and is done once it can.
	_, err := town.Store.Pool.Exec(ctx, "alter table standings rename to standings_away")
	require.NoError(t, err)
	desk, err := rooms.Office.DemoSignIn(ctx, access.Office)
	require.NoError(t, err)
	_, err = rooms.Exchange.StartImport(ctx, desk, "pools.csv", []byte("street,volume_gal\nA 1,9000\n"))
	require.NoError(t, err)
	_, err = q.client.Insert(ctx, keepUp{}, nil)
	require.NoError(t, err)
	var failed Job
	require.Eventually(t, func() bool {
		jobs, err = q.List(ctx)
		require.NoError(t, err)
		for _, j := range jobs {
			if j.Kind == "keep-up" && j.Trouble != "" {
				failed = j
			}
		}
		return failed.ID > 0
	}, 30*time.Second, 50*time.Millisecond)
	assert.Equal(t, "again", failed.State)
	assert.True(t, failed.MayAgain)
	_, err = town.Store.Pool.Exec(ctx, "alter table standings_away rename to standings")
	require.NoError(t, err)
	require.NoError(t, q.Again(ctx, failed.ID))
	require.Eventually(t, func() bool {
		jobs, err = q.List(ctx)
		require.NoError(t, err)
		for _, j := range jobs {
			if j.ID == failed.ID {
				return j.State == "done" && j.Trouble == ""
			}
		}
		return false
	}, 30*time.Second, 50*time.Millisecond)
}

// A database that is away for a moment, and a server that ends, leave an import waiting; a last
// try that fails ends it with a sentence.
func TestAnImportOutlivesTrouble(t *testing.T) {
	ctx := context.Background()
	town := demotest.Town(t)
	rooms := app.New(town.Store, demotest.Now, town.Service.Company.World)
	rooms.Exchange.DoLater(func(context.Context, uuid.UUID) error { return nil })
	desk, err := rooms.Office.DemoSignIn(ctx, access.Office)
	require.NoError(t, err)
	start := func() uuid.UUID {
		v, err := rooms.Exchange.StartImport(ctx, desk, "pools.csv", []byte("street,volume_gal\n1 Heron Bend,9000\n"))
		require.NoError(t, err)
		return v.ID
	}
	stands := func(id uuid.UUID) string {
		v, err := rooms.Exchange.Import(ctx, desk, id)
		require.NoError(t, err)
		return v.State
	}
	exec := func(sql string) {
		_, err := town.Store.Pool.Exec(ctx, sql)
		require.NoError(t, err)
	}
	id, other := start(), start()
	exec("alter table plumbing rename to plumbing_away")
	assert.Error(t, rooms.Exchange.WorkImport(ctx, id, false))
	assert.Equal(t, "reading", stands(id))
	assert.Error(t, rooms.Exchange.WorkImport(ctx, other, true))
	assert.Equal(t, "failed", stands(other))
	exec("alter table plumbing_away rename to plumbing")
	ended, end := context.WithCancel(ctx)
	end()
	assert.Error(t, rooms.Exchange.WorkImport(ended, id, true))
	assert.Equal(t, "reading", stands(id))
	require.NoError(t, rooms.Exchange.WorkImport(ctx, id, false))
	assert.Equal(t, "read", stands(id))
}
