package store

import (
	"context"
	"fmt"
	"sync"

	"gorm.io/gorm/schema"
)

// SchemaGaps lists columns that a model and the migrated schema do not share.
func SchemaGaps(ctx context.Context, s *Store) []string {
	var gaps []string
	for _, m := range models() {
		sc, err := schema.Parse(m, &sync.Map{}, schema.NamingStrategy{})
		if err != nil {
			return []string{err.Error()}
		}
		rows, err := s.Pool.Query(
			ctx,
			"select column_name from information_schema.columns where table_name = $1",
			sc.Table,
		)
		if err != nil {
			return []string{err.Error()}
		}
		columns := map[string]bool{}
		for rows.Next() {
			var c string
			_ = rows.Scan(&c)
			columns[c] = true
		}
		for _, f := range sc.Fields {
			if f.DBName == "" {
				continue
			}
			if !columns[f.DBName] {
				gaps = append(gaps, fmt.Sprintf("%s.%s has no column", sc.Table, f.DBName))
			}
			delete(columns, f.DBName)
		}
		for c := range columns {
			gaps = append(gaps, fmt.Sprintf("%s.%s has no field", sc.Table, c))
		}
	}
	return gaps
}

// MigrateDown undoes every migration.
func MigrateDown(ctx context.Context, s *Store) error { return MigrateDownTo(ctx, s, 0) }

// MigrateDownTo undoes the migrations after one.
func MigrateDownTo(ctx context.Context, s *Store, version int64) error {
	p, err := s.provider()
	if err != nil {
		return err
	}
	_, err = p.DownTo(ctx, version)
	return err
}

// ArchivedTables are the tables of an archive.
func ArchivedTables() []string {
	var out []string
	for _, t := range archived {
		out = append(out, t.table)
	}
	return out
}
