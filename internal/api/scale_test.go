package api

import (
	"context"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"fairlap/internal/app/route"
	"fairlap/internal/demo/demotest"
)

// grow makes a company of n pools with five years of weekly visits out of the town:
// its pools again and again under other numbers, and each one's visits again and
// again, fourteen months earlier every time.
func grow(b *testing.B, town demotest.Fixture, n int) {
	ctx := context.Background()
	exec := func(sql string, args ...any) {
		_, err := town.Store.Pool.Exec(ctx, sql, args...)
		require.NoError(b, err, sql)
	}
	const id = "(md5(%s::text || k::text))::uuid"
	other := func(column string) string { return strings.Replace(id, "%s", column, 1) }
	exec("alter table visits disable trigger visits_grew")
	copies := n/48 - 1
	if copies < 1 {
		b.Fatal("a company smaller than the town")
	}
	exec(
		`insert into pools (id, street, volume_m3, surface, weekday, technician_id, base_minutes, on_record_since, version, lon, lat, lap_order)
		select `+other(
			"id",
		)+`, street || ' / ' || k, volume_m3, surface, weekday, technician_id, base_minutes, on_record_since, 1, lon, lat, lap_order from pools, generate_series(1, $1) k`,
		copies,
	)
	exec(
		`insert into plumbing (id, pool_id, revision, document, reason, created_at) select `+other(
			"id",
		)+`, `+other(
			"pool_id",
		)+`, revision, document, reason, created_at - interval '5 years' from plumbing, generate_series(1, $1) k`,
		copies,
	)
	exec(
		`insert into clean_lines (id, pool_id, taken_at, readings, content_hash) select `+other(
			"id",
		)+`, `+other(
			"pool_id",
		)+`, taken_at, readings, content_hash from clean_lines, generate_series(1, $1) k`,
		copies,
	)
	exec(
		`insert into equipment (id, pool_id, kind, model, installed_on) select `+other(
			"id",
		)+`, `+other(
			"pool_id",
		)+`, kind, model, installed_on from equipment, generate_series(1, $1) k`,
		copies,
	)
	exec(
		`insert into visits (id, pool_id, technician_id, arrived_at, closed_at, cleaned, load_mean, load_sd, after_mean, after_sd, plumbing_id, engine_version, diagnosis, content_hash)
		select `+other(
			"id",
		)+`, `+other(
			"pool_id",
		)+`, technician_id, arrived_at, closed_at, cleaned, load_mean, load_sd, after_mean, after_sd, `+other(
			"plumbing_id",
		)+`, '', 'null', '' from visits, generate_series(1, $1) k`,
		copies,
	)
	exec(
		`insert into visit_readings (visit_id, seq, phase, setting, speed_rpm, tank_pa, power_w) select `+other(
			"visit_id",
		)+`, seq, phase, setting, speed_rpm, tank_pa, power_w from visit_readings, generate_series(1, $1) k`,
		copies,
	)
	exec(
		`insert into visits (id, pool_id, technician_id, arrived_at, closed_at, cleaned, load_mean, load_sd, after_mean, after_sd, plumbing_id, engine_version, diagnosis, content_hash)
		select (md5(id::text || 'y' || k::text))::uuid, pool_id, technician_id, arrived_at - k * interval '61 weeks', closed_at - k * interval '61 weeks', cleaned, load_mean, load_sd, after_mean, after_sd, plumbing_id, '', 'null', '' from visits, generate_series(1, 4) k where closed_at < now() + interval '10 years'`,
	)
	exec(
		`insert into visit_readings (visit_id, seq, phase, setting, speed_rpm, tank_pa, power_w) select (md5(visit_id::text || 'y' || k::text))::uuid, seq, phase, setting, speed_rpm, tank_pa, power_w from visit_readings, generate_series(1, 4) k`,
	)
	exec("alter table visits enable trigger visits_grew")
	exec("vacuum analyze")
}

// BenchmarkTwoThousandPools asks a company of that size, with five years of weekly
// visits, for its week: on the hour when everything is worked out anew, and within
// it.
func BenchmarkTwoThousandPools(b *testing.B) {
	town := demotest.Town(b)
	grow(b, town, 2016)
	ctx := context.Background()
	var pools, visits int
	require.NoError(
		b,
		town.Store.Pool.QueryRow(ctx, "select (select count(*) from pools), (select count(*) from visits)").
			Scan(&pools, &visits),
	)
	start := time.Now()
	_, err := town.Service.Standing.Rebuild(ctx, true, nil)
	require.NoError(b, err)
	b.Logf("%d pools, %d visits; from nothing, pads fitted too: %.1f s", pools, visits, time.Since(start).Seconds())
	ask := asker(b, town)
	desk := ask("POST", "/api/v1/demo/sign-in", map[string]string{"role": "office"}, "").Header().Get("Set-Cookie")
	b.Run("recompute", func(b *testing.B) {
		for b.Loop() {
			_, err := town.Service.Standing.Rebuild(ctx, true, nil)
			require.NoError(b, err)
		}
	})
	var pool uuid.UUID
	var technician uuid.UUID
	require.NoError(
		b,
		town.Store.Pool.QueryRow(ctx, "select id, technician_id from pools order by id limit 1").
			Scan(&pool, &technician),
	)
	percentiles(b, map[string]func(){
		"week":        func() { ask("GET", "/api/v1/week", nil, desk) },
		"pools":       func() { ask("GET", "/api/v1/pools", nil, desk) },
		"find":        func() { ask("GET", "/api/v1/pools?find=brisk+150", nil, desk) },
		"pool's page": func() { ask("GET", "/api/v1/pools/"+pool.String(), nil, desk) },
		"pool's log":  func() { ask("GET", "/api/v1/pools/"+pool.String()+"/log?find=clean", nil, desk) },
		"due of one pool": func() {
			ask("GET", "/api/v1/pools/"+pool.String()+"/due", nil, desk)
		},
		"week after one pool's change": func() {
			body := route.DueMark{ID: uuid.Must(uuid.NewV7()), Item: "clean-line", Act: "done"}
			if rec := ask("POST", "/api/v1/pools/"+pool.String()+"/due-marks", body, desk); rec.Code != http.StatusOK {
				b.Fatal(rec.Body)
			}
			ask("GET", "/api/v1/week", nil, desk)
		},
	})
}
