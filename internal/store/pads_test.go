package store_test

import (
	"encoding/json"
	"fmt"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/clock"
	"fairlap/internal/store"
)

func newPool(street string) (store.Pool, store.Plumbing, []store.Equipment) {
	id := uuid.Must(uuid.NewV7())
	return store.Pool{ID: id, Street: street, VolumeM3: 50, BaseMinutes: 25, OnRecordSince: clock.Now(), Version: 1},
		store.Plumbing{
			ID:        uuid.Must(uuid.NewV7()),
			PoolID:    id,
			Revision:  1,
			Document:  json.RawMessage(`{"a":1}`),
			Reason:    store.ReasonDescription,
			CreatedAt: clock.Now(),
		},
		[]store.Equipment{{ID: uuid.Must(uuid.NewV7()), PoolID: id, Kind: "pump", Model: "Brisk"}}
}

func TestAPoolIsCreatedWholeAndOnce(t *testing.T) {
	st, _ := minimal(t)
	p, first, parts := newPool("2 Osier Holt")
	for range 3 {
		kept, err := st.CreatePool(ctx, p, first, parts)
		require.NoError(t, err)
		assert.Equal(t, p.ID, kept.ID)
	}
	revisions, err := st.PlumbingOf(ctx, p.ID)
	require.NoError(t, err)
	assert.Len(t, revisions, 1)
	equipped, err := st.EquipmentOf(ctx, p.ID)
	equipment := equipped[p.ID]
	require.NoError(t, err)
	assert.Len(t, equipment, 1)
	other, plumbing, _ := newPool("2 Osier Holt")
	_, err = st.CreatePool(ctx, other, plumbing, nil)
	assert.ErrorIs(t, err, store.ErrTaken)
	_, err = st.PoolByID(ctx, other.ID)
	assert.ErrorIs(t, err, store.ErrNotFound, "a refused pool leaves nothing behind")
	rows, err := st.PlumbingOf(ctx, other.ID)
	require.NoError(t, err)
	assert.Empty(t, rows)
}

func TestOneOfManyWritersOfARevisionWins(t *testing.T) {
	st, v := minimal(t)
	var wg sync.WaitGroup
	var mu sync.Mutex
	won, lost := 0, 0
	for i := range 6 {
		wg.Go(func() {
			err := st.AddPlumbing(ctx, store.Plumbing{ID: uuid.Must(uuid.NewV7()), PoolID: v.PoolID, Revision: 2,
				Document: json.RawMessage(
					fmt.Sprintf(`{"n":%d}`, i),
				), Reason: store.ReasonDescription, CreatedAt: clock.Now()})
			mu.Lock()
			defer mu.Unlock()
			if err == nil {
				won++
			} else if assert.ErrorIs(t, err, store.ErrVersion) {
				lost++
			}
		})
	}
	wg.Wait()
	assert.Equal(t, 1, won)
	assert.Equal(t, 5, lost)
	rows, err := st.PlumbingOf(ctx, v.PoolID)
	require.NoError(t, err)
	require.Len(t, rows, 2)
	assert.Equal(t, 2, rows[0].Revision, "newest first")
}

func TestACleanLineHoldsUntilThePipesChange(t *testing.T) {
	st, v := minimal(t)
	now := clock.Now().UTC().Truncate(time.Second)
	line := func(at time.Time, hash string) store.CleanLine {
		return store.CleanLine{
			ID:          uuid.Must(uuid.NewV7()),
			PoolID:      v.PoolID,
			TakenAt:     at,
			Readings:    json.RawMessage(`[]`),
			ContentHash: hash,
		}
	}
	inForce := func() *store.CleanLine {
		records, err := st.PoolRecords(ctx, []uuid.UUID{v.PoolID})
		require.NoError(t, err)
		return records[v.PoolID].CleanLine
	}
	assert.Nil(t, inForce())
	first := line(now.Add(time.Minute), "h1")
	for range 2 {
		kept, err := st.AddCleanLine(ctx, first)
		require.NoError(t, err)
		assert.Equal(t, first.ID, kept.ID)
	}
	other := first
	other.ContentHash = "h2"
	_, err := st.AddCleanLine(ctx, other)
	assert.ErrorIs(t, err, store.ErrDifferent)
	assert.Equal(t, first.ID, inForce().ID)
	revise := func(n int, reason string, at time.Time) {
		require.NoError(
			t,
			st.AddPlumbing(
				ctx,
				store.Plumbing{
					ID:        uuid.Must(uuid.NewV7()),
					PoolID:    v.PoolID,
					Revision:  n,
					Document:  json.RawMessage(`{}`),
					Reason:    reason,
					CreatedAt: at,
				},
			),
		)
	}
	revise(2, store.ReasonDescription, now.Add(2*time.Minute))
	assert.Equal(t, first.ID, inForce().ID, "mended words keep it")
	revise(3, store.ReasonWork, now.Add(3*time.Minute))
	assert.Nil(t, inForce(), "work on the pipes ends it")
	second := line(now.Add(4*time.Minute), "h3")
	_, err = st.AddCleanLine(ctx, second)
	require.NoError(t, err)
	assert.Equal(t, second.ID, inForce().ID)
	all, err := st.CleanLinesOf(ctx, v.PoolID)
	require.NoError(t, err)
	assert.Len(t, all, 2, "the old one stays on record")
	_, err = st.Pool.Exec(ctx, "delete from clean_lines")
	assert.ErrorContains(t, err, "never changed")
}

func TestACatalogueIsImportedWholeAndReplacesByName(t *testing.T) {
	st, _ := minimal(t)
	item := func(model, kind string) store.CatalogueItem {
		return store.CatalogueItem{
			Model:      model,
			Kind:       kind,
			Item:       json.RawMessage(`{"model":"` + model + `"}`),
			ImportedAt: clock.Now(),
		}
	}
	require.NoError(t, st.ImportCatalogue(ctx, []store.CatalogueItem{item("A", "pump"), item("B", "filter")}))
	require.NoError(t, st.ImportCatalogue(ctx, []store.CatalogueItem{item("B", "heater")}))
	got, err := st.Catalogue(ctx)
	require.NoError(t, err)
	require.Len(t, got, 2)
	assert.Equal(t, "heater", got[0].Kind)
	assert.Error(
		t,
		st.ImportCatalogue(ctx, []store.CatalogueItem{item("C", "pump"), item("D", "kettle")}),
		"a kind that is none",
	)
	got, err = st.Catalogue(ctx)
	require.NoError(t, err)
	assert.Len(t, got, 2, "nothing of a refused import is taken")
}

func TestSettledVisitsLeaveOutWhatIsOpenOrCorrected(t *testing.T) {
	st, v := minimal(t)
	v.Confirmed = "air-lid"
	v.Diagnosis = json.RawMessage(`{"suspects":[{"id":"basket-full","p":0.7},{"id":"air-lid","p":0.2}]}`)
	_, err := st.SaveVisit(ctx, v)
	require.NoError(t, err)
	open := v
	open.ID, open.ContentHash, open.Confirmed = uuid.Must(uuid.NewV7()), "h2", "open:water-low"
	open.Readings, open.Signs, open.Works = nil, nil, nil
	_, err = st.SaveVisit(ctx, open)
	require.NoError(t, err)
	fix := open
	fix.ID, fix.ContentHash, fix.Confirmed, fix.CorrectsID = uuid.Must(uuid.NewV7()), "h3", "basket-full", &v.ID
	_, err = st.SaveVisit(ctx, fix)
	require.NoError(t, err)
	settled, err := st.SettledVisits(ctx, 10)
	require.NoError(t, err)
	require.Len(t, settled, 1)
	assert.Equal(
		t,
		store.Settled{Was: "basket-full", Faults: []string{"basket-full", "air-lid"}, Odds: []float64{0.7, 0.2}},
		settled[0],
	)
	counts, visits, err := st.ConfirmedCounts(ctx)
	require.NoError(t, err)
	assert.Equal(t, 2, visits)
	assert.Equal(t, map[string]int{"basket-full": 1, "open:water-low": 1}, counts)
	lone := v
	lone.ID, lone.ContentHash, lone.CorrectsID = uuid.Must(uuid.NewV7()), "h4", nil
	lone.Readings, lone.Signs, lone.Works = nil, nil, nil
	_, err = st.SaveVisit(ctx, lone)
	require.NoError(t, err)
	require.NoError(
		t,
		st.TakeBackVisit(
			ctx,
			store.VisitTakenBack{VisitID: lone.ID, PoolID: v.PoolID, MadeBy: v.TechnicianID, MadeAt: clock.Now()},
		),
	)
	again, visits, err := st.ConfirmedCounts(ctx)
	require.NoError(t, err)
	assert.Equal(t, 2, visits, "taken back, it counts for nothing")
	assert.Equal(t, counts, again)
	settled, err = st.SettledVisits(ctx, 10)
	require.NoError(t, err)
	assert.Len(t, settled, 1)
}
