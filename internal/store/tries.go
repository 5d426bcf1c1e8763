package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/jackc/pgx/v5"
)

// Try counts a try under a key, of which burst are free and each one more has to wait every
// since the one before (a leaky bucket as its theoretical arrival time, ITU-T I.371 from
// memory). It gives how long is still to wait; nought, and it is counted. All instances
// count together.
func (s *Store) Try(
	ctx context.Context,
	key string,
	now time.Time,
	every time.Duration,
	burst int,
) (time.Duration, error) {
	// The bucket is full when its time is more than the burst ahead.
	full := now.Add(every * time.Duration(burst-1))
	var at time.Time
	err := s.Pool.QueryRow(ctx, `insert into tries as t (key, full_at) values ($1, $2::timestamptz + $3::interval)
		on conflict (key) do update set full_at = greatest(t.full_at, $2::timestamptz) + $3::interval where t.full_at <= $4
		returning full_at`, key, now, every, full).Scan(&at)
	if err == nil {
		return 0, nil
	}
	if !errors.Is(err, pgx.ErrNoRows) {
		return 0, fmt.Errorf("counting a try: %w", err)
	}
	if err := s.Pool.QueryRow(ctx, "select full_at from tries where key = $1", key).Scan(&at); err != nil {
		return 0, fmt.Errorf("reading the tries: %w", err)
	}
	return max(time.Millisecond, at.Sub(full)), nil
}

// Tried tells whether a key is known until later than now.
func (s *Store) Tried(ctx context.Context, key string, now time.Time) (bool, error) {
	var known bool
	err := s.Pool.QueryRow(ctx, "select exists (select 1 from tries where key = $1 and full_at > $2)", key, now).
		Scan(&known)
	return known, err
}

// Remember knows a key until a time.
func (s *Store) Remember(ctx context.Context, key string, until time.Time) error {
	_, err := s.Pool.Exec(
		ctx,
		"insert into tries (key, full_at) values ($1, $2) on conflict (key) do update set full_at = excluded.full_at",
		key,
		until,
	)
	return err
}

// ForgetTry forgets the tries under a key.
func (s *Store) ForgetTry(ctx context.Context, key string) error {
	_, err := s.Pool.Exec(ctx, "delete from tries where key = $1", key)
	return err
}

// ForgetTries takes away what is over.
func (s *Store) ForgetTries(ctx context.Context, now time.Time) error {
	_, err := s.Pool.Exec(ctx, "delete from tries where full_at < $1", now.Add(-time.Hour))
	return err
}
