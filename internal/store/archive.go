package store

import (
	"context"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"

	"fairlap/internal/archive"
)

// archived lists the tables of an archive so that each row comes after what it
// refers to. Sessions are nobody's record, and how pools stand is worked out from it.
var archived = []struct{ table, order string }{
	{
		"company",
		"id",
	}, {"users", "id"}, {"catalogue_items", "model"}, {"customers", "id"}, {"pools", "id"}, {"equipment", "id"}, {"plumbing", "pool_id, revision"}, {"clean_lines", "taken_at, id"}, {"clean_lines_withdrawn", "made_at, line_id"},
	{
		"laps",
		"id",
	}, {"stops", "id"}, {"visits", "recorded_at, id"}, {"visit_readings", "visit_id, seq"}, {"visit_signs", "visit_id, sign"}, {"visit_works", "visit_id, seq"},
	{"visits_taken_back", "visit_id"},
	{"visits_rejudged", "visit_id, line_id"},
	{
		"due_marks",
		"made_at, id",
	}, {"calendar_feeds", "user_id"}, {"visit_moves", "made_at, id"}, {"runs", "started_at, id"}, {"run_events", "run_id, seq"}, {"equipment_events", "made_at, id"},
	{
		"photo_contents",
		"digest",
	}, {"inspections", "started_at, id"}, {"photos", "made_at, id"}, {"notes", "made_at, id"}, {"pool_links", "made_at, id"}, {"audit", "at, id"},
}

// Errors of an archive that can't be taken in.
var (
	// ErrNotEmpty is that a database already holds a company.
	ErrNotEmpty = errors.New("this database already holds a company: an archive goes into an empty one")
	// ErrElsewhere is that nobody said where pictures are that the database does not hold.
	ErrElsewhere = errors.New(
		"pictures are kept elsewhere than in the database: say where (--photo-dir or --photo-bucket)",
	)
)

// schema is the version of the database's schema.
func (s *Store) schema(ctx context.Context) (int64, error) {
	p, err := s.provider()
	if err != nil {
		return 0, err
	}
	v, err := p.GetDBVersion(ctx)
	if err != nil {
		return 0, fmt.Errorf("reading the schema's version: %w", err)
	}
	return v, nil
}

// Export writes everything on record as lines of JSON, as it stands at one moment,
// row by row. It holds password hashes and secret addresses.
func (s *Store) Export(ctx context.Context, w io.Writer) error {
	version, err := s.schema(ctx)
	if err != nil {
		return err
	}
	out, err := archive.NewWriter(w, version)
	if err != nil {
		return err
	}
	err = pgx.BeginTxFunc(
		ctx,
		s.Pool,
		pgx.TxOptions{IsoLevel: pgx.RepeatableRead, AccessMode: pgx.ReadOnly},
		func(tx pgx.Tx) error {
			if _, err := tx.Exec(ctx, "set local timezone = 'UTC'"); err != nil {
				return err
			}
			for _, t := range archived {
				// A database at an older schema has not got every table yet.
				var is bool
				if err := tx.QueryRow(ctx, "select to_regclass($1) is not null", t.table).Scan(&is); err != nil {
					return fmt.Errorf("looking for %s: %w", t.table, err)
				}
				if !is {
					continue
				}
				rows, err := tx.Query(ctx, "select to_jsonb(r)::text from "+t.table+" r order by "+t.order)
				if err != nil {
					return fmt.Errorf("reading %s: %w", t.table, err)
				}
				var row string
				if _, err := pgx.ForEachRow(rows, []any{&row}, func() error {
					return out.Put(t.table, json.RawMessage(row))
				}); err != nil {
					return fmt.Errorf("reading %s: %w", t.table, err)
				}
				if t.table == "photo_contents" {
					if err := s.exportKept(ctx, tx, out); err != nil {
						return err
					}
				}
			}
			return nil
		},
	)
	if err != nil {
		return err
	}
	return out.Close()
}

// exportKept writes the pictures that are kept elsewhere as if they were kept in the
// database: an archive is whole.
func (s *Store) exportKept(
	ctx context.Context, tx pgx.Tx, out *archive.Writer,
) error {
	rows, err := tx.Query(
		ctx,
		"select distinct digest from photos where gone_at is null and digest not in (select digest from photo_contents) order by digest",
	)
	if err != nil {
		return fmt.Errorf("listing the pictures: %w", err)
	}
	digests, err := pgx.CollectRows(rows, pgx.RowTo[[]byte])
	if err != nil {
		return fmt.Errorf("listing the pictures: %w", err)
	}
	if len(digests) > 0 && s.photos == nil {
		return fmt.Errorf("%d %w", len(digests), ErrElsewhere)
	}
	for _, d := range digests {
		content, err := s.photos.Get(ctx, d)
		if err != nil {
			return fmt.Errorf("reading the picture %x: %w", d, err)
		}
		row, err := json.Marshal(
			map[string]string{"digest": "\\x" + hex.EncodeToString(d), "content": "\\x" + hex.EncodeToString(content)},
		)
		if err != nil {
			return fmt.Errorf("writing a picture: %w", err)
		}
		if err := out.Put("photo_contents", row); err != nil {
			return err
		}
	}
	return nil
}

// Import takes an archive into an empty, migrated database, all of it or nothing; an older
// program's comes in by the schema that it was written by, and is migrated from there. A
// spoiled line is archive.ErrSpoiled with its number and what is wrong with it.
func (s *Store) Import(ctx context.Context, r io.Reader) (rows int, err error) {
	version, err := s.schema(ctx)
	if err != nil {
		return 0, err
	}
	in, err := archive.NewReader(r)
	switch {
	case err != nil:
		return 0, err
	case in.Schema > version:
		return 0, fmt.Errorf(
			"%w: it is of schema %d and this program keeps schema %d; take it in with the program that wrote it",
			archive.ErrSpoiled,
			in.Schema,
			version,
		)
	}
	if err := s.holdsNothing(ctx); err != nil {
		return 0, err
	}
	if in.Schema < version {
		forward, err := s.backTo(ctx, in.Schema)
		if err != nil {
			return 0, err
		}
		defer func() { err = errors.Join(err, forward()) }()
	}
	return s.takeAll(ctx, in)
}

// holdsNothing is ErrNotEmpty where there is a company.
func (s *Store) holdsNothing(ctx context.Context) error {
	var held int
	err := s.Pool.QueryRow(ctx, "select (select count(*) from company) + (select count(*) from users) + (select count(*) from pools)").
		Scan(&held)
	if err == nil && held > 0 {
		return ErrNotEmpty
	}
	return err
}

// backTo takes an empty database back to a schema, and says how it comes forward again.
func (s *Store) backTo(ctx context.Context, schema int64) (forward func() error, err error) {
	p, err := s.provider()
	if err != nil {
		return nil, err
	}
	forward = func() error {
		defer s.Pool.Reset() // what was prepared was so for the older tables
		return s.Migrate(ctx)
	}
	if _, err := p.DownTo(ctx, schema); err != nil {
		return nil, errors.Join(fmt.Errorf("going back to schema %d: %w", schema, err), forward())
	}
	s.Pool.Reset()
	return forward, nil
}

// takeAll writes every line after the first, or none.
func (s *Store) takeAll(ctx context.Context, in *archive.Reader) (rows int, err error) {
	err = pgx.BeginFunc(ctx, s.Pool, func(tx pgx.Tx) error {
		if err := s.holdsNothing(ctx); err != nil {
			return err
		}
		revs := map[uuid.UUID]int64{} // counted anew by the rows that come in
		for {
			line, err := in.Next()
			if errors.Is(err, io.EOF) {
				break
			}
			if err != nil {
				return err
			}
			if message := takeIn(ctx, tx, line, revs); message != "" {
				return in.Bad(message)
			}
		}
		rows = in.Rows
		for id, rev := range revs {
			if _, err := tx.Exec(ctx, "update pools set record_rev = $2 where id = $1", id.String(), rev); err != nil {
				return fmt.Errorf("counting the record of %s: %w", id, err)
			}
		}
		return nil
	})
	if err != nil {
		return 0, err
	}
	return rows, nil
}

// takeIn writes one line's row, or says what is wrong with it.
func takeIn(ctx context.Context, tx pgx.Tx, line archive.Row, revs map[uuid.UUID]int64) string {
	if !slices.ContainsFunc(archived, func(t struct{ table, order string }) bool { return t.table == line.Table }) {
		return fmt.Sprintf("there is no table %q in an archive", line.Table)
	}
	row := "$1::jsonb"
	if line.Table == "visits" { // a visit that was never judged may hold JSON's null, which is none of SQL's
		row = "case when $1::jsonb->'diagnosis' = 'null' then jsonb_set($1::jsonb, '{diagnosis}', '{}') else $1::jsonb end"
	}
	// The table's name is one of ours; the row is a parameter.
	_, err := tx.Exec(
		ctx,
		"insert into "+line.Table+" select * from jsonb_populate_record(null::"+line.Table+", "+row+")",
		string(line.Row),
	)
	var refused *pgconn.PgError
	if errors.As(err, &refused) {
		return fmt.Sprintf("the row of %s is refused: %s", line.Table, refused.Message)
	}
	if err != nil {
		return err.Error()
	}
	if line.Table == "pools" {
		var p struct {
			ID  uuid.UUID `json:"id"`
			Rev int64     `json:"record_rev"`
		}
		if json.Unmarshal(line.Row, &p) == nil {
			revs[p.ID] = p.Rev
		}
	}
	return ""
}
