package app_test

import (
	"encoding/json"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/app"
	"fairlap/internal/app/access"
	"fairlap/internal/app/route"
	"fairlap/internal/app/visit"
	"fairlap/internal/demo/demotest"
	"fairlap/internal/store"
)

// rows are the kept rows of a town, by pool, with the revision that they stand by.
func rows(t *testing.T, w *town) map[string]string {
	out := map[string]string{}
	found, err := w.Store.Pool.Query(
		ctx,
		"select p.id::text, coalesce(s.record_rev = p.record_rev, false) || ' ' || coalesce(s.basis || s.kept, '') from pools p left join standings s on s.pool_id = p.id",
	)
	require.NoError(t, err)
	defer found.Close()
	for found.Next() {
		var id, row string
		require.NoError(t, found.Scan(&id, &row))
		out[id] = row
	}
	return out
}

// Whatever is written, the rows it leaves are what working the whole record out anew gives,
// and they are there as soon as it is acknowledged.
func TestRowsAreWhatTheWholeRecordGives(t *testing.T) {
	w := open(t)
	_, err := w.rooms.Standing.Rebuild(ctx, true, nil)
	require.NoError(t, err)
	chance := rand.New(rand.NewPCG(22, 1))
	same := func(after string) {
		t.Helper()
		moved := rows(t, w)
		_, err := w.rooms.Standing.Rebuild(ctx, true, nil)
		require.NoError(t, err)
		assert.Equal(t, rows(t, w), moved, after)
	}
	for i, st := range w.lap(t).Stops[:4] {
		id, pool := uuid.MustParse(st.ID), uuid.MustParse(st.PoolID)
		found, err := w.rooms.Visit.DemoMeter(ctx, w.tech, id, 1500+2000*chance.Float64())
		require.NoError(t, err)
		now := demotest.Now()
		d := visit.VisitDraft{
			ID:        uuid.Must(uuid.NewV7()),
			StopID:    id,
			ArrivedAt: now.Add(-20 * time.Minute),
			ClosedAt:  now,
			Findings:  found,
		}
		if i%2 == 0 {
			d.Works = []visit.Work{{Kind: "cleaned"}}
		}
		if i == 1 {
			d.ChemicalsAt = &now
		}
		_, err = w.rooms.Visit.SaveVisit(ctx, w.tech, d)
		require.NoError(t, err)
		same("a visit at " + st.Street)
		_, err = w.rooms.Route.MarkDue(
			ctx,
			w.tech,
			pool,
			route.DueMark{ID: uuid.Must(uuid.NewV7()), Item: "clean-line", Act: "done"},
		)
		require.NoError(t, err)
		same("a decision at " + st.Street)
		if i == 2 {
			_, err = w.rooms.Visit.TakeBack(ctx, w.tech, d.ID)
			require.NoError(t, err)
			same("a visit taken back at " + st.Street)
		}
	}
	for _, row := range rows(t, w) {
		assert.Contains(t, row, "true ", "no pool is behind its record")
	}
}

// What is worked out from the rows on any later day is what the pool's own page works out from
// all its visits: time alone makes no row wrong.
func TestRowsTellAnyDayAsTheRecordDoes(t *testing.T) {
	w := open(t)
	_, err := w.rooms.Standing.Rebuild(ctx, true, nil)
	require.NoError(t, err)
	for _, days := range []int{0, 3, 40, 200} {
		at := demotest.Now().AddDate(0, 0, days)
		rooms := app.New(w.Store, func() time.Time { return at }, w.rooms.Company.World)
		c, err := rooms.Company.Company(ctx)
		require.NoError(t, err)
		pools, err := w.Store.Workload(ctx, store.Whose{}, c.Today(at))
		require.NoError(t, err)
		standings, err := rooms.Standing.Standings(ctx, c, pools)
		require.NoError(t, err)
		owner, err := rooms.Office.DemoSignIn(ctx, access.Owner)
		require.NoError(t, err)
		for _, p := range pools {
			due, err := rooms.Route.Due(ctx, owner, p.ID)
			require.NoError(t, err)
			var full []any
			for _, d := range due.Items {
				full = append(full, d.Due)
			}
			var kept []any
			for _, d := range standings[p.ID].Due {
				kept = append(kept, d)
			}
			a, _ := json.Marshal(full)
			b, _ := json.Marshal(kept)
			assert.JSONEq(t, string(a), string(b), "%s in %d days", p.Name(), days)
		}
	}
}

// One technician's week, by themselves or picked out at the desk, is their row of everybody's,
// also when a visit was given into other hands: what slides depends on all of a day.
func TestARowOfTheWeekIsTheSameAlone(t *testing.T) {
	w := open(t)
	all, err := w.rooms.Route.Week(ctx, w.desk, route.WeekAsk{Week: 1})
	require.NoError(t, err)
	require.Greater(t, len(all.Rows), 1)
	var given *route.WeekStop
	var to string
	for _, d := range all.Days {
		for i := range d.Stops {
			if s := &d.Stops[i]; d.TechnicianID != all.Rows[0].ID && len(s.Due) > 0 && d.Date > all.From {
				given, to = s, d.Date
			}
		}
	}
	require.NotNil(t, given)
	other := uuid.MustParse(all.Rows[0].ID)
	move := route.VisitMove{ID: uuid.Must(uuid.NewV7()), On: given.On, To: to, Technician: &other}
	require.NoError(t, w.rooms.Route.MoveVisit(ctx, w.desk, uuid.MustParse(given.PoolID), move))
	for week := 1; week <= 3; week++ {
		all, err = w.rooms.Route.Week(ctx, w.desk, route.WeekAsk{Week: week})
		require.NoError(t, err)
		for _, row := range all.Rows {
			id := uuid.MustParse(row.ID)
			alone, err := w.rooms.Route.Week(ctx, w.desk, route.WeekAsk{Week: week, Whose: &id})
			require.NoError(t, err)
			require.Len(t, alone.Rows, 1)
			own, err := w.rooms.Route.Week(
				ctx,
				access.Actor{ID: id, Role: access.Technician, Name: row.Name},
				route.WeekAsk{Week: week},
			)
			require.NoError(t, err)
			var theirs []route.WeekDay
			for _, d := range all.Days {
				if d.TechnicianID == row.ID {
					theirs = append(theirs, d)
				}
			}
			assert.Equal(t, asJSON(t, theirs, nil), asJSON(t, alone.Days, nil), row.Name)
			assert.Equal(t, asJSON(t, alone.Days, nil), asJSON(t, own.Days, nil), row.Name)
		}
	}
}
