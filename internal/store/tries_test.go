package store_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/demo/demotest"
	"fairlap/internal/store"
)

// A few tries are free, then one in a while; two servers on one database count together, and
// what is refused costs nothing.
func TestTriesAreCountedByAllServersTogether(t *testing.T) {
	one := demotest.Empty(t)
	two, err := store.Open(context.Background(), one.Pool.Config().ConnString())
	require.NoError(t, err)
	defer two.Close()
	ctx, now := context.Background(), time.Date(2026, 11, 24, 10, 0, 0, 0, time.UTC)
	try := func(s *store.Store, at time.Time) time.Duration {
		wait, err := s.Try(ctx, "k", at, 10*time.Second, 3)
		require.NoError(t, err)
		return wait
	}
	assert.Zero(t, try(one, now))
	assert.Zero(t, try(two, now))
	assert.Zero(t, try(one, now))
	assert.Equal(t, 10*time.Second, try(two, now))
	assert.Equal(t, 6*time.Second, try(one, now.Add(4*time.Second)), "a refused try does not make the wait longer")
	assert.Zero(t, try(two, now.Add(10*time.Second)))
	assert.NotZero(t, try(one, now.Add(10*time.Second)))
	assert.Zero(t, try(one, now.Add(time.Hour)))
	other, err := one.Try(ctx, "another", now, 10*time.Second, 3)
	require.NoError(t, err)
	assert.Zero(t, other)
	require.NoError(t, one.ForgetTries(ctx, now.Add(3*time.Hour)))
	known, err := two.Tried(ctx, "k", now)
	require.NoError(t, err)
	assert.False(t, known)
}
