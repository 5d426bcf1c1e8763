package store_test

import (
	"context"
	"encoding/json"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/clock"
	"fairlap/internal/demo/demotest"
	"fairlap/internal/store"
)

func TestMain(m *testing.M) { demotest.Main(m) }

var ctx = context.Background()

// minimal fills an empty database with one technician, pool, pad and stop.
func minimal(t *testing.T) (*store.Store, store.Visit) {
	st := demotest.Empty(t)
	now := clock.Now().UTC().Truncate(time.Second)
	u := store.User{
		ID:           uuid.Must(uuid.NewV7()),
		Login:        "ada",
		Name:         "Ada",
		Role:         "technician",
		PasswordHash: "x",
		Active:       true,
		Version:      1,
		CreatedAt:    now,
	}
	p := store.Pool{
		ID:            uuid.Must(uuid.NewV7()),
		Street:        "1 Test Row",
		VolumeM3:      60,
		TechnicianID:  &u.ID,
		BaseMinutes:   20,
		OnRecordSince: now,
		Version:       1,
	}
	pl := store.Plumbing{
		ID:        uuid.Must(uuid.NewV7()),
		PoolID:    p.ID,
		Revision:  1,
		Document:  json.RawMessage(`{}`),
		CreatedAt: now,
	}
	require.NoError(t, st.Insert(ctx, &u, &p, &pl))
	load := 0.4
	return st, store.Visit{
		ID:            uuid.Must(uuid.NewV7()),
		PoolID:        p.ID,
		TechnicianID:  u.ID,
		ArrivedAt:     now.Add(-time.Hour),
		ClosedAt:      now,
		PlumbingID:    pl.ID,
		LoadMean:      &load,
		LoadSD:        &load,
		EngineVersion: "t",
		Diagnosis:     json.RawMessage(`{"a":1}`),
		ContentHash:   "h1",
		RecordedAt:    now,
		Readings:      []store.VisitReading{{Seq: 0, Phase: "found", Setting: "filter", SpeedRPM: 2400, TankPa: &load}},
		Signs: []store.VisitSign{
			{Sign: "air-in-pot", Yes: true},
		},
		Works: []store.VisitWork{{Seq: 0, Kind: "basket"}},
	}
}

func TestASavedVisitIsOneVisitHoweverOftenItIsSaved(t *testing.T) {
	st, v := minimal(t)
	for range 3 {
		kept, err := st.SaveVisit(ctx, v)
		require.NoError(t, err)
		assert.Len(t, kept.Readings, 1)
		assert.Len(t, kept.Signs, 1)
		assert.Len(t, kept.Works, 1)
	}
	log, err := st.Log(ctx, v.PoolID, clock.Now().Add(time.Hour), 10)
	require.NoError(t, err)
	assert.Len(t, log, 1)
	other := v
	other.ContentHash, other.Note = "h2", "changed"
	kept, err := st.SaveVisit(ctx, other)
	assert.ErrorIs(t, err, store.ErrDifferent)
	assert.Empty(t, kept.Note, "what is on record stays")
}

func TestTheRecordRefusesToBeChanged(t *testing.T) {
	st, v := minimal(t)
	_, err := st.SaveVisit(ctx, v)
	require.NoError(t, err)
	for _, q := range []string{
		"update visits set note = 'other'", "delete from visits", "update visit_readings set tank_pa = 0", "delete from visit_readings",
		"update visit_signs set yes = false", "delete from visit_works", "update plumbing set document = '{\"b\":2}'", "delete from plumbing",
	} {
		_, err := st.Pool.Exec(ctx, q)
		assert.ErrorContains(t, err, "never changed", q)
	}
}

func TestAVisitIsCorrectedOnceAndBothStay(t *testing.T) {
	st, v := minimal(t)
	_, err := st.SaveVisit(ctx, v)
	require.NoError(t, err)
	fix := v
	fix.ID, fix.ContentHash, fix.CorrectsID = uuid.Must(uuid.NewV7()), "h2", &v.ID
	fix.Readings, fix.Signs, fix.Works = nil, nil, nil
	_, err = st.SaveVisit(ctx, fix)
	require.NoError(t, err)
	again := fix
	again.ID, again.ContentHash = uuid.Must(uuid.NewV7()), "h3"
	_, err = st.SaveVisit(ctx, again)
	assert.ErrorIs(t, err, store.ErrVersion, "a second correction of the same visit must see the first")
	log, err := st.Log(ctx, v.PoolID, clock.Now().Add(time.Hour), 10)
	require.NoError(t, err)
	assert.Len(t, log, 2)
	counted, err := st.VisitsOf(ctx, []uuid.UUID{v.PoolID})
	require.NoError(t, err)
	require.Len(t, counted[v.PoolID], 1, "only the correction counts")
	assert.Equal(t, fix.ID, counted[v.PoolID][0].ID)
}

func TestAnAccessNoteKnowsItsVersion(t *testing.T) {
	st, v := minimal(t)
	p, err := st.ChangePool(ctx, v.PoolID, 1, map[string]any{"access_note": "gate left"})
	require.NoError(t, err)
	assert.Equal(t, 2, p.Version)
	p, err = st.ChangePool(ctx, v.PoolID, 1, map[string]any{"access_note": "gate right"})
	assert.ErrorIs(t, err, store.ErrVersion)
	assert.Equal(t, "gate left", p.AccessNote, "the other text comes with the refusal")
}

func TestModelsMatchTheMigratedSchema(t *testing.T) {
	st := demotest.Empty(t)
	assert.Empty(t, store.SchemaGaps(ctx, st))
}

// Servers that start at once on an empty database take turns, and all of them live.
func TestServersStartAtOnceOnAnEmptyDatabase(t *testing.T) {
	for range 6 {
		first := demotest.Empty(t)
		require.NoError(t, store.MigrateDown(ctx, first))
		_, err := first.Pool.Exec(ctx, "drop table goose_db_version")
		require.NoError(t, err)
		second, err := store.Open(ctx, first.Pool.Config().ConnString())
		require.NoError(t, err)
		errs := make(chan error, 2)
		for _, st := range []*store.Store{first, second} {
			go func() { errs <- st.Migrate(ctx) }()
		}
		assert.NoError(t, <-errs)
		assert.NoError(t, <-errs)
		assert.Empty(t, store.SchemaGaps(ctx, first))
		second.Close()
	}
}

func TestAnOlderServerRefusesANewerSchema(t *testing.T) {
	st := demotest.Empty(t)
	_, err := st.Pool.Exec(ctx, "insert into goose_db_version (version_id, is_applied) values (9000, true)")
	require.NoError(t, err)
	assert.ErrorIs(t, st.Migrate(ctx), store.ErrNewer)
}

func TestMigratingTwiceAndBack(t *testing.T) {
	st := demotest.Empty(t)
	require.NoError(t, st.Migrate(ctx))
	require.NoError(t, store.MigrateDown(ctx, st))
	var n int
	require.NoError(
		t,
		st.Pool.QueryRow(ctx, "select count(*) from information_schema.tables where table_schema='public' and table_name <> 'goose_db_version' and table_name not like 'river%'").
			Scan(&n),
	)
	assert.Zero(t, n)
	require.NoError(t, st.Migrate(ctx))
}
