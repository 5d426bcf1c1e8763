package main

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A demo clears only what a demo made.
func TestADemoDeletesOnlyItsOwnFolder(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "town")
	require.NoError(t, clearDemo(dir), "a new folder")
	old := filepath.Join(dir, "db", "PG_VERSION")
	require.NoError(t, os.MkdirAll(filepath.Dir(old), 0o755))
	require.NoError(t, os.WriteFile(old, []byte("15\n"), 0o644))
	require.NoError(t, clearDemo(dir), "its own")
	assert.NoFileExists(t, old)

	mine := t.TempDir()
	kept := filepath.Join(mine, "letters.txt")
	require.NoError(t, os.WriteFile(kept, []byte("dear"), 0o644))
	assert.ErrorContains(t, clearDemo(mine), "no demo made")
	assert.FileExists(t, kept)
	assert.ErrorContains(t, clearDemo(kept), "demo's folder", "a file is no folder")
	assert.FileExists(t, kept)
	assert.NoError(t, clearDemo(t.TempDir()), "an empty one")
}
