package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/stdlib"
	"gorm.io/gorm"
)

// unit is one unit of work: what is written in it is on record whole or not at all.
type unit struct {
	conn  *pgx.Conn // the one connection that the mapper writes on too
	after []func() error
}

// rollbackPatience is how long taking a unit of work back may last.
const rollbackPatience = 5 * time.Second

// InTx does several things as one: all of it is kept, or none. The store that do is given
// reads and writes within it, by the mapper and by hand alike; within another unit it is
// part of that one. What was put off until it is kept is done last (see afterwards).
func (s *Store) InTx(ctx context.Context, do func(*Store) error) (err error) {
	if s.unit != nil {
		return do(s)
	}
	conn, err := s.sql.Conn(ctx)
	if err != nil {
		return fmt.Errorf("beginning a unit of work: %w", err)
	}
	defer conn.Close()
	in := *s
	in.unit = &unit{}
	err = conn.Raw(func(c any) error {
		in.unit.conn = c.(*stdlib.Conn).Conn()
		return nil
	})
	// Questions end with the context. The transaction must not: the driver would roll it back beside a question asked
	// by hand, and two at once on one connection bring the program down.
	whole, giveUp := context.WithCancel(context.WithoutCancel(ctx))
	defer giveUp()
	var tx *sql.Tx
	if err == nil {
		tx, err = conn.BeginTx(whole, nil)
	}
	if err != nil {
		return fmt.Errorf("beginning a unit of work: %w", err)
	}
	defer func() { // a panic too leaves nothing behind
		time.AfterFunc(rollbackPatience, giveUp)
		if back := tx.Rollback(); back != nil && !errors.Is(back, sql.ErrTxDone) {
			err = errors.Join(err, back)
		}
	}()
	in.db = s.db.Session(&gorm.Session{Context: ctx, NewDB: true})
	in.db.Statement.ConnPool = tx // the session's own statement, not the store's
	if err := do(&in); err != nil {
		return err
	}
	if err := tx.Commit(); err != nil {
		return fmt.Errorf("keeping a unit of work: %w", err)
	}
	for _, f := range in.unit.after {
		err = errors.Join(err, f())
	}
	return err
}

// afterwards puts off what can't be taken back, as deleting a file, until the unit of
// work is kept.
func (s *Store) afterwards(f func() error) { s.unit.after = append(s.unit.after, f) }

// query asks by hand, within the unit of work if there is one.
func (s *Store) query(ctx context.Context, sql string, args ...any) (pgx.Rows, error) {
	if s.unit != nil {
		return s.unit.conn.Query(ctx, sql, args...)
	}
	return s.Pool.Query(ctx, sql, args...)
}

// search asks for what somebody looks for, with a plan for just that: a plan kept for any
// question reads whole tables for most of them.
func (s *Store) search(ctx context.Context, sql string, args pgx.NamedArgs) (pgx.Rows, error) {
	return s.query(ctx, sql, pgx.QueryExecModeExec, args)
}

// searchOne reads the only row of an answer.
func (s *Store) searchOne(ctx context.Context, sql string, args pgx.NamedArgs, into ...any) error {
	rows, err := s.search(ctx, sql, args)
	if err != nil {
		return err
	}
	_, err = pgx.ForEachRow(rows, into, func() error { return nil })
	return err
}
