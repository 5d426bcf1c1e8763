package demo

import (
	"context"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/fault"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/internal/app"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/localdb"
	"fairlap/internal/standin"
	"fairlap/internal/store"
)

// tuesday is 24 November 2026, 10:42 in the town.
func tuesday(t *testing.T) time.Time {
	zone, err := time.LoadLocation(Zone)
	require.NoError(t, err)
	return time.Date(2026, 11, 24, 10, 42, 0, 0, zone)
}

// The five decisions of the first stop, on one pad of the town with its own
// clean line, read by the town's own noisy meters. Common practice.
func TestOnePadTellsTheFiveSituationsApart(t *testing.T) {
	ctx := context.Background()
	db, err := localdb.Start(ctx, localdb.Options{Fast: true})
	require.NoError(t, err)
	defer db.Stop()
	st, err := store.Open(ctx, db.URL)
	require.NoError(t, err)
	defer st.Close()
	require.NoError(t, st.Migrate(ctx))
	now := tuesday(t)
	_, err = Load(ctx, st, 1, now)
	require.NoError(t, err)
	clock := now
	svc := app.New(st, func() time.Time { return clock }, company.World{})
	us, err := st.Users(ctx)
	require.NoError(t, err)
	owner := access.Actor{ID: us[0].ID, Role: access.Owner}

	var pools, visits, weekdays int
	require.NoError(
		t,
		st.Pool.QueryRow(ctx, "select count(*), count(distinct weekday) from pools").Scan(&pools, &weekdays),
	)
	require.NoError(t, st.Pool.QueryRow(ctx, "select count(*) from visits").Scan(&visits))
	assert.Equal(t, []int{size, 5}, []int{pools, weekdays})
	assert.InDelta(t, 2800, visits, 150, "fourteen months of weekly visits")
	told, err := svc.Visit.TrackRecord(ctx)
	require.NoError(t, err)
	t.Logf("%d settled, %d first, %d in three", told.Settled, told.First, told.Three)
	assert.Greater(t, told.Settled, 40, "the town's past carries diagnoses and confirmed causes")
	assert.Greater(t, float64(told.Three), 0.7*float64(told.Settled))
	var priced int
	require.NoError(t, st.Pool.QueryRow(ctx, "select count(*) from equipment where cost_cents > 0").Scan(&priced))
	assert.Greater(t, priced, 150, "its parts carry costs")

	_, err = Load(ctx, st, 1, now)
	require.NoError(t, err, "the town itself may be served again")
	_, err = st.Pool.Exec(ctx, "update company set name = 'A Real Company'")
	require.NoError(t, err)
	_, err = Load(ctx, st, 1, now)
	require.ErrorIs(t, err, ErrNotTheTown, "nobody's real record is opened to anybody")

	truth := &loader{rng: rand.New(rand.NewPCG(1, 0x9e3779b97f4a7c15))}
	roads, err := standin.RoadMap()
	require.NoError(t, err)
	require.NoError(t, truth.raise(roads))
	rng := rand.New(rand.NewPCG(5, 5))
	ask := func(place int, rpm float64, e plumbing.Effects, signs map[string]bool) judge.Verdict {
		p := standin.Pad{Model: truth.models[place], Effects: e}
		r, err := p.Type(rpm, rng)
		require.NoError(t, err)
		v, err := svc.Visit.Diagnose(
			ctx,
			owner,
			stopOf(t, st, truth.places[place].street, now),
			judge.Findings{Readings: []judge.TypedReading{r}, Signs: signs},
		)
		require.NoError(t, err)
		return v
	}
	gauge := func(place int, rpm float64, e plumbing.Effects) float64 {
		s, err := truth.models[place].Solver().Solve(pad.Operation{Speed: units.Speed(rpm)}, e)
		require.NoError(t, err)
		return s.Tank.PSI()
	}
	const quince, larkspur = 0, 2

	// 5 psi over at the same speed, vacuum and flow down.
	dirty := plumbing.Effects{}
	for gauge(quince, 2400, dirty) < gauge(quince, 2400, plumbing.Effects{})+5 {
		dirty.Load += 0.02
	}
	v := ask(quince, 2400, dirty, nil)
	assert.Equal(t, string(fault.FilterLoaded), v.Suspects[0].ID)
	assert.Equal(t, "clean", string(v.Advice.Action), say(v.Advice.Reason))

	// The same gauge figure, only because the speed is higher: a pad cleaned a week ago.
	rpm, high := 2400.0, gauge(quince, 2400, dirty)
	for gauge(larkspur, rpm, plumbing.Effects{Load: 0.3}) < high {
		rpm += 10
	}
	v = ask(larkspur, rpm, plumbing.Effects{Load: 0.3}, nil)
	assert.Equal(t, string(fault.Healthy), v.Suspects[0].ID)
	assert.Equal(t, "leave", string(v.Advice.Action), say(v.Advice.Reason))

	// Near zero, vacuum low, air in the pot, basket clean.
	v = ask(
		quince,
		2400,
		plumbing.Effects{Load: 0.7, CapacityLost: 0.92},
		map[string]bool{"air-in-pot": true, "basket-full": false},
	)
	assert.Equal(t, string(fault.ImpellerClogged), v.Suspects[0].ID)
	assert.Equal(t, "fix-first", string(v.Advice.Action))

	// Pressure low, vacuum high.
	v = ask(quince, 2400, plumbing.Effects{Load: 0.7, Basket: 9}, nil)
	assert.Contains(t, []string{"basket-full", "skimmer-blocked", "suction-valve-wrong"}, v.Suspects[0].ID)

	// High right after a cleaning, one return weak: half an hour after last week's.
	clock = now.AddDate(0, 0, -7)
	v = ask(
		larkspur,
		2400,
		plumbing.Effects{Load: 0.3, ReturnLine: -1, ReturnExtra: 70},
		map[string]bool{"weak-one": true},
	)
	place := map[string]int{}
	for i, s := range v.Suspects {
		place[s.ID] = i + 1
	}
	require.NotZero(t, place["return-restricted"])
	assert.True(t, place["filter-loaded"] == 0 || place["return-restricted"] < place["filter-loaded"], "%v", place)
	assert.NotEqual(t, "clean", string(v.Advice.Action))
}

func stopOf(t *testing.T, st *store.Store, street string, now time.Time) uuid.UUID {
	ctx := context.Background()
	us, err := st.Users(ctx)
	require.NoError(t, err)
	for _, u := range us {
		l, err := st.LapOn(ctx, u.ID, now)
		if err != nil {
			continue
		}
		for _, s := range l.Stops {
			p, err := st.PoolByID(ctx, s.PoolID)
			require.NoError(t, err)
			if p.Street == street {
				return s.ID
			}
		}
	}
	t.Fatalf("no stop at %s", street)
	return uuid.Nil
}

func TestTheTownFollowsFromItsSeed(t *testing.T) {
	make := func(seed uint64) *standin.Meters {
		l := &loader{
			rng:  rand.New(rand.NewPCG(seed, 0x9e3779b97f4a7c15)),
			seed: seed,
			now:  tuesday(t),
			zone: tuesday(t).Location(),
		}
		roads, err := standin.RoadMap()
		require.NoError(t, err)
		require.NoError(t, l.raise(roads))
		return l.meters()
	}
	a, b, c := make(1), make(1), make(2)
	differs := false
	for _, p := range append(slices.Clone(today), round(1)...) {
		x, signs, ok := a.Read(p.street, 0)
		require.True(t, ok, p.street)
		y, _, _ := b.Read(p.street, 0)
		z, _, _ := c.Read(p.street, 0)
		assert.Equal(t, x, y, p.street)
		differs = differs || x != z
		for id := range signs {
			_, known := fault.LookUpSign(fault.Sign(id))
			assert.True(t, known, id)
		}
		assert.Empty(t, p.documentErrors(), p.street)
	}
	assert.True(t, differs, "another seed is another town")
	_, _, ok := a.Read("Nowhere 1", 0)
	assert.False(t, ok)
}

// The history is found, not typed in: what the pools of the other days carry shows
// in their records.
func TestTheTownCarriesItsTroubles(t *testing.T) {
	next := tuesday(t)
	cleanings := 0
	for _, p := range round(1) {
		visits, days, load := p.live(1, next)
		require.Len(t, visits, Weeks)
		require.Len(t, days, 7*Weeks)
		again, _, same := p.live(1, next)
		assert.Equal(t, visits, again)
		assert.Equal(t, load, same)
		for i, v := range visits {
			assert.GreaterOrEqual(t, v.load, 0.0)
			if v.cleaned {
				cleanings++
				assert.Less(t, v.after, v.load, p.street)
				assert.GreaterOrEqual(t, v.load, p.habit)
			} else if i+1 < len(visits) {
				assert.GreaterOrEqual(t, visits[i+1].load, v.load, "dirt does not go by itself")
			}
		}
	}
	assert.InDelta(
		t,
		36*Weeks/3,
		cleanings,
		36*Weeks/15,
		"about every three weeks: sand oftener, cartridges more seldom",
	)
}

// What the backtest is told is what the record shows: the same cleanings, on the
// same days, of dirt that adds up to the same load.
func TestTheTruthIsWhatTheRecordLived(t *testing.T) {
	h, pools, err := Truths(1, tuesday(t))
	require.NoError(t, err)
	require.Len(t, pools, h.Pools)
	for i, b := range pools {
		require.Len(t, b.Visits, Weeks)
		load := 0.05
		cleanings := 0
		for n, day := range b.Visits[:Weeks-1] {
			if b.Cleaned[day] {
				cleanings++
				load = 0 // of this cleaning
			}
			for _, g := range b.Grows[day:b.Visits[n+1]] {
				assert.GreaterOrEqual(t, g, 0.0)
				load += g
			}
		}
		assert.Less(t, load, 4.0, "pool %d", i)
		assert.Positive(t, cleanings, "pool %d", i)
		assert.False(t, b.Real == b.Known)
	}
}

func (p *place) documentErrors() []pad.FieldError {
	d := p.document()
	return d.Validate()
}
