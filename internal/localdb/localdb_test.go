package localdb

import (
	"context"
	"os"
	"path/filepath"
	"testing"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestDataStaysBetweenStartsAndNothingListensAfterStop(t *testing.T) {
	ctx := context.Background()
	dir, err := os.MkdirTemp("", "fairlap-localdb-")
	require.NoError(t, err)
	defer os.RemoveAll(dir)
	dir = filepath.Join(dir, "db")
	require.NoError(t, os.Chmod(filepath.Dir(dir), 0o755)) // the database's user must pass through

	db, err := Start(ctx, Options{Dir: dir})
	require.NoError(t, err)
	c, err := pgx.Connect(ctx, db.URL)
	require.NoError(t, err)
	_, err = c.Exec(ctx, "create table kept (n int); insert into kept values (7)")
	require.NoError(t, err)
	var where, fsync string
	require.NoError(t, c.QueryRow(ctx, "show listen_addresses").Scan(&where))
	require.NoError(t, c.QueryRow(ctx, "show fsync").Scan(&fsync))
	assert.Equal(t, "127.0.0.1", where, "never a public address")
	assert.Equal(t, "on", fsync)
	require.NoError(t, c.Close(ctx))
	gone := db.URL
	db.Stop()
	_, err = pgx.Connect(ctx, gone)
	assert.Error(t, err, "it ends when stopped")

	again, err := Start(ctx, Options{Dir: dir})
	require.NoError(t, err)
	defer again.Stop()
	c, err = pgx.Connect(ctx, again.URL)
	require.NoError(t, err)
	var n int
	require.NoError(t, c.QueryRow(ctx, "select n from kept").Scan(&n))
	assert.Equal(t, 7, n)
	require.NoError(t, c.Close(ctx))
}

func TestAThrowAwayServerLeavesNothing(t *testing.T) {
	db, err := Start(context.Background(), Options{Fast: true})
	require.NoError(t, err)
	dir := db.remove
	require.DirExists(t, dir)
	db.Stop()
	assert.NoDirExists(t, dir)
}
