package store_test

import (
	"context"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/upkeep"
	"fairlap/internal/demo/demotest"
	"fairlap/internal/store"
)

// The database ends a part's life on the very day that the program does, counts what is past
// it, and sums what is known of the costs; parts that are out, and archived pools', are none.
func TestPartsInPlaceAreCountedAsTheProgramCounts(t *testing.T) {
	st, v := minimal(t)
	ctx := context.Background()
	chance := rand.New(rand.NewPCG(19, 4))
	today := time.Date(2026, 11, 24, 0, 0, 0, 0, time.UTC)
	lives := map[string]float64{"grids": 7, "lid-o-ring": 2.5, "sand": 5}
	kinds := []string{"grids", "lid-o-ring", "sand", "their own kind"}
	want := map[uuid.UUID]time.Time{}
	late, worth := 0, int64(0)
	for range 300 {
		e := store.Equipment{ID: uuid.New(), PoolID: v.PoolID, Kind: kinds[chance.IntN(len(kinds))], Model: "M"}
		if chance.IntN(10) > 0 {
			on := today.AddDate(0, 0, -chance.IntN(6000))
			e.InstalledOn = &on
		}
		if chance.IntN(3) == 0 {
			years := float64(chance.IntN(40)) / 2 // halves of days come of them
			e.ExpectedYears = &years
		}
		if chance.IntN(2) == 0 {
			cents := int64(chance.IntN(100000))
			e.CostCents = &cents
		}
		if chance.IntN(10) == 0 {
			e.RemovedOn = &today
		}
		require.NoError(t, st.Insert(ctx, &e))
		if e.RemovedOn != nil {
			continue
		}
		years := lives[e.Kind]
		if e.ExpectedYears != nil {
			years = *e.ExpectedYears
		}
		end := time.Time{}
		if e.InstalledOn != nil && years > 0 {
			end = upkeep.LifeEnds(*e.InstalledOn, years)
			if !end.After(today) {
				late++
			}
		}
		want[e.ID] = end
		if e.CostCents != nil {
			worth += *e.CostCents
		}
	}
	var seen []store.PlacedPart
	for {
		page, err := st.PartsInPlace(
			ctx,
			store.PartsAsk{From: today, Lives: lives, Sort: "due", Limit: 70, Offset: len(seen)},
		)
		require.NoError(t, err)
		assert.Equal(t, len(want), page.Total)
		assert.Equal(t, late, page.Late)
		assert.Equal(t, worth, page.WorthCents)
		if len(page.Parts) == 0 {
			break
		}
		seen = append(seen, page.Parts...)
	}
	require.Len(t, seen, len(want))
	never := time.Date(9999, 1, 1, 0, 0, 0, 0, time.UTC)
	ends := make([]time.Time, len(seen))
	ids := map[uuid.UUID]bool{}
	for i, p := range seen {
		end, known := want[p.ID]
		require.True(t, known)
		ids[p.ID] = true
		if ends[i] = end; end.IsZero() {
			ends[i] = never
		}
	}
	assert.Len(t, ids, len(want), "each once")
	assert.True(t, slices.IsSortedFunc(ends, time.Time.Compare), "by the day that upkeep.LifeEnds gives")
	for sort, less := range map[string]func(a, b store.PlacedPart) int{
		"cost": func(a, b store.PlacedPart) int {
			if a.CostCents == nil || b.CostCents == nil {
				return 0
			}
			return int(*b.CostCents - *a.CostCents)
		},
	} {
		page, err := st.PartsInPlace(ctx, store.PartsAsk{From: today, Lives: lives, Sort: sort, Down: true, Limit: 500})
		require.NoError(t, err)
		assert.True(t, slices.IsSortedFunc(page.Parts, less), sort)
		at := slices.IndexFunc(page.Parts, func(p store.PlacedPart) bool { return p.CostCents == nil })
		for _, p := range page.Parts[at:] {
			assert.Nil(t, p.CostCents, "what nobody knows comes last, whichever way")
		}
	}
	// A word is in the part, in its pool, or in what a kind is called.
	for _, ask := range []store.Sought{{Word: "their own"}, {Word: "anillo", Kinds: []string{"lid-o-ring"}}} {
		page, err := st.PartsInPlace(
			ctx,
			store.PartsAsk{From: today, Lives: lives, Find: []store.Sought{ask}, Limit: 500},
		)
		require.NoError(t, err)
		assert.Positive(t, page.Total, ask.Word)
		assert.Less(t, page.Total, len(want))
		assert.Len(t, page.Parts, page.Total)
	}
	for _, nothing := range []string{"%", "_", `\`, "no such thing"} {
		page, err := st.PartsInPlace(
			ctx,
			store.PartsAsk{From: today, Lives: lives, Find: []store.Sought{{Word: nothing}}, Limit: 5},
		)
		require.NoError(t, err)
		assert.Zero(t, page.Total, "%q is no pattern", nothing)
	}
	nobody := uuid.New()
	page, err := st.PartsInPlace(ctx, store.PartsAsk{From: today, Lives: lives, Technician: &nobody, Limit: 5})
	require.NoError(t, err)
	assert.Zero(t, page.Total, "a technician sees their own pools' parts")
	pools, err := st.PoolsByID(ctx, []uuid.UUID{v.PoolID})
	require.NoError(t, err)
	_, err = st.ChangePool(ctx, v.PoolID, pools[0].Version, map[string]any{"archived_at": today})
	require.NoError(t, err)
	page, err = st.PartsInPlace(ctx, store.PartsAsk{From: today, Lives: lives, Limit: 5})
	require.NoError(t, err)
	assert.Zero(t, page.Total, "an archived pool's parts are none to look after")
}

// What triggers count and name as the record grows is what the whole record gives.
func TestWhatIsKeptIsWhatIsCountedAnew(t *testing.T) {
	town := demotest.Town(t)
	kept := func() (out []string) {
		for _, sql := range []string{
			"select pool_id::text || letters from pool_letters order by pool_id",
			"select p::text from placed_parts p order by equipment_id",
			"select o::text from outcomes o order by visit_id",
			"select v::text from visit_counts v where n <> 0 order by shard, confirmed",
		} {
			rows, err := town.Store.Pool.Query(ctx, sql)
			require.NoError(t, err)
			lines, err := pgx.CollectRows(rows, pgx.RowTo[string])
			require.NoError(t, err)
			require.NotEmpty(t, lines, sql)
			out = append(out, lines...)
		}
		return out
	}
	before := kept()
	for _, sql := range []string{
		"update pools set street = 'Heron Bend ' || lap_order where weekday = 1",
		"update pools set archived_at = now() where id in (select id from pools order by id limit 2)",
		"update pools set archived_at = null where id in (select id from pools order by id limit 1)",
		"update pools set customer_id = null where id in (select id from pools order by id offset 5 limit 3)",
		"update customers set phone = '555 0100', name = name || ' Otherwise' where id in (select id from customers order by id limit 4)",
		"update equipment set removed_on = current_date where id in (select id from equipment where removed_on is null order by id limit 9)",
		"update equipment set removed_on = null, serial = 'Q-7' where id in (select id from equipment where removed_on is not null order by id limit 2)",
		"update equipment set pool_id = (select id from pools where street like 'Heron%' limit 1), cost_cents = 4200 where id in (select id from equipment where removed_on is null order by id desc limit 5)",
		"insert into equipment (id, pool_id, kind, model, installed_on) select gen_random_uuid(), id, 'pump', 'Brisk 9', '2020-01-05' from pools order by id limit 7",
	} {
		did, err := town.Store.Pool.Exec(ctx, sql)
		require.NoError(t, err, sql)
		require.Positive(t, did.RowsAffected(), sql)
	}
	now := kept()
	assert.NotEqual(t, before, now)
	require.NoError(t, town.Store.Recount(ctx))
	assert.Equal(t, now, kept())
}
