package main

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"fairlap/internal/app/office"
	"fairlap/internal/clock"
	"fairlap/internal/store"
)

// password is everybody's in the company that is measured.
const password = "seven herons wade slowly"

// yearsBack is how often the town's fourteen months are laid before themselves: five years.
const yearsBack = 4

// diagnosedAll is up to how many pools every visit carries a diagnosis; of more, those of the
// last fourteen months do, for the disk's sake.
const diagnosedAll = 10000

// mine says of a copied row's columns what is not the same in a copy.
type mine map[string]string

// grow makes a company of n pools with five years of weekly visits out of the town: its pools
// again and again under other numbers with a technician each time, and each one's visits
// again and again, fourteen months earlier every time. Each visit carries a diagnosis that
// the engine made.
func grow(ctx context.Context, st *store.Store, n int) error {
	exec := func(sql string, args ...any) error {
		if _, err := st.Pool.Exec(ctx, sql, args...); err != nil {
			return fmt.Errorf("%s: %w", sql[:min(len(sql), 90)], err)
		}
		return nil
	}
	copies := n/48 - 1
	if copies < 1 {
		return fmt.Errorf("%d pools are fewer than the town has", n)
	}
	other := func(column, of string) string { return fmt.Sprintf("md5(%s::text || %s)::uuid", column, of) }
	const who = "md5('technician' || k)::uuid"
	ahead := (9-clock.Now().UTC().Hour()+36)%24 - 12 // it is morning there, so that there are stops to log visits at
	steps := []func() error{
		func() error { return exec("update company set time_zone = $1", fmt.Sprintf("Etc/GMT%+d", -ahead)) },
		func() error { return exec("alter table pools disable trigger user") },
		func() error { return exec("alter table visits disable trigger user") },
		func() error { return exec("alter table equipment disable trigger user") },
		func() error {
			return exec(
				"create table diagnoses as select row_number() over () as n, diagnosis from visits where engine_version <> '' and length(diagnosis::text) > 100",
			)
		},
		func() error {
			return exec(
				"insert into users (id, login, name, role, password_hash) select "+who+", 't' || k, 'Technician ' || k, 'technician', $2 from generate_series(1, $1::int) k",
				copies,
				office.HashPassword(password),
			)
		},
		func() error { return exec("update users set password_hash = $1", office.HashPassword(password)) },
		func() error {
			return again(
				ctx,
				st,
				"pools",
				"generate_series(1, $1::int) k",
				mine{
					"id":            other("t.id", "k"),
					"street":        "street || ' / ' || k",
					"technician_id": who,
					"customer_id":   "null",
					"photo_id":      "null",
				},
				copies,
			)
		},
		func() error {
			return again(
				ctx,
				st,
				"plumbing",
				"generate_series(1, $1::int) k",
				mine{
					"id":         other("t.id", "k"),
					"pool_id":    other("pool_id", "k"),
					"created_by": "null",
					"created_at": "created_at - interval '4 years'",
				},
				copies,
			)
		},
		func() error {
			return again(
				ctx,
				st,
				"clean_lines",
				"generate_series(1, $1::int) k",
				mine{"id": other("t.id", "k"), "pool_id": other("pool_id", "k"), "created_by": "null"},
				copies,
			)
		},
		func() error {
			return again(
				ctx,
				st,
				"equipment",
				"generate_series(1, $1::int) k",
				mine{"id": other("t.id", "k"), "pool_id": other("pool_id", "k"), "part_of": "null"},
				copies,
			)
		},
		func() error {
			return again(
				ctx,
				st,
				"due_marks",
				"generate_series(1, $1::int) k",
				mine{"id": other("t.id", "k"), "pool_id": other("pool_id", "k"), "made_by": who},
				copies,
			)
		},
		func() error {
			return again(
				ctx,
				st,
				"visits",
				"generate_series(1, $1::int) k",
				mine{
					"id":             other("t.id", "k"),
					"pool_id":        other("pool_id", "k"),
					"plumbing_id":    other("plumbing_id", "k"),
					"stop_id":        "null",
					"technician_id":  who,
					"clean_line_id":  "null",
					"corrects_id":    "null",
					"engine_version": "'1'",
					"diagnosis":      "(select d.diagnosis from diagnoses d where d.n = 1 + (hashtext(t.id::text || k) & 1023) % (select count(*) from diagnoses))",
				},
				copies,
			)
		},
		func() error {
			return again(
				ctx,
				st,
				"visit_readings",
				"generate_series(1, $1::int) k",
				mine{"visit_id": other("visit_id", "k")},
				copies,
			)
		},
		func() error {
			diagnosis := "diagnosis"
			if n > diagnosedAll {
				diagnosis = "'{}'"
			}
			return again(
				ctx,
				st,
				"visits",
				"generate_series(1, $1::int) k where t.stop_id is null and t.corrects_id is null",
				mine{
					"id":           other("t.id", "'y' || k"),
					"arrived_at":   "arrived_at - k * interval '61 weeks'",
					"closed_at":    "closed_at - k * interval '61 weeks'",
					"recorded_at":  "recorded_at - k * interval '61 weeks'",
					"chemicals_at": "chemicals_at - k * interval '61 weeks'",
					"diagnosis":    diagnosis,
				},
				yearsBack,
			)
		},
		func() error {
			return again(
				ctx,
				st,
				"visit_readings",
				"generate_series(1, $1::int) k where exists (select 1 from visits v where v.id = t.visit_id and v.stop_id is null and v.corrects_id is null)",
				mine{"visit_id": other("visit_id", "'y' || k")},
				yearsBack,
			)
		},
		func() error { return exec("drop table diagnoses") },
		func() error { return exec("alter table pools enable trigger user") },
		func() error { return exec("alter table visits enable trigger user") },
		func() error { return exec("alter table equipment enable trigger user") },
		func() error { return st.Recount(ctx) },
		func() error { return exec("vacuum analyze") },
	}
	for _, step := range steps {
		if err := step(); err != nil {
			return err
		}
	}
	return nil
}

// again writes a table's rows again, once for each k of from, with other columns of their own.
func again(ctx context.Context, st *store.Store, table, from string, other mine, times int) error {
	rows, err := st.Pool.Query(
		ctx,
		"select column_name::text from information_schema.columns where table_schema = 'public' and table_name = $1 and is_generated = 'NEVER' order by ordinal_position",
		table,
	)
	if err != nil {
		return fmt.Errorf("reading the columns of %s: %w", table, err)
	}
	var columns, values []string
	for rows.Next() {
		var c string
		if err := rows.Scan(&c); err != nil {
			return fmt.Errorf("reading the columns of %s: %w", table, err)
		}
		v, ok := other[c]
		if !ok {
			v = "t." + c
		}
		columns, values = append(columns, c), append(values, v)
	}
	for c := range other {
		if !slices.Contains(columns, c) {
			return fmt.Errorf("%s has no column %s", table, c)
		}
	}
	sql := "insert into " + table + " (" + strings.Join(
		columns,
		", ",
	) + ") select " + strings.Join(
		values,
		", ",
	) + " from " + table + " t, " + from
	if _, err := st.Pool.Exec(ctx, sql, times); err != nil {
		return fmt.Errorf("writing %s again: %w", table, err)
	}
	return nil
}
