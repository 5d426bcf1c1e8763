package main

import (
	"bytes"
	"context"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"filippo.io/age"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/demo/demotest"
)

func TestMain(m *testing.M) { demotest.Main(m) }

// fairlap runs a command of the binary in this process.
func fairlap(t *testing.T, args ...string) (string, error) {
	cmd := root()
	var out bytes.Buffer
	cmd.SetOut(&out)
	cmd.SetErr(&out)
	cmd.SetArgs(args)
	err := cmd.ExecuteContext(context.Background())
	return out.String(), err
}

// fresh is the address of a database with nothing in it, beside the town's.
func fresh(t *testing.T, town demotest.Fixture, name string) string {
	_, err := town.Store.Pool.Exec(context.Background(), "create database "+name)
	require.NoError(t, err)
	at := strings.LastIndex(town.URL, "/")
	rest := ""
	if q := strings.Index(town.URL[at:], "?"); q >= 0 {
		rest = town.URL[at+q:]
	}
	return town.URL[:at+1] + name + rest
}

// A backup restored into an empty server gives the same archive, and so does the
// archive taken in.
func TestTheRecordIsKeptByItsOwner(t *testing.T) {
	town := demotest.Town(t)
	dir := t.TempDir()
	file := func(name string) string { return filepath.Join(dir, name) }
	read := func(name string) []byte {
		b, err := os.ReadFile(file(name))
		require.NoError(t, err)
		return b
	}
	_, err := fairlap(t, "export", "--database-url", town.URL, file("town.jsonl"))
	require.NoError(t, err)
	info, err := os.Stat(file("town.jsonl"))
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode().Perm(), "it holds password hashes")
	_, err = fairlap(t, "export", "--database-url", town.URL, file("town.jsonl"))
	assert.Error(t, err, "an archive writes over nothing")

	taken := fresh(t, town, "taken_in")
	out, err := fairlap(t, "import", "--database-url", taken, file("town.jsonl"))
	require.NoError(t, err)
	assert.Contains(t, out, "rows taken in")
	_, err = fairlap(t, "export", "--database-url", taken, file("again.jsonl"))
	require.NoError(t, err)
	assert.True(t, bytes.Equal(read("town.jsonl"), read("again.jsonl")))
	_, err = fairlap(t, "import", "--database-url", taken, file("town.jsonl"))
	assert.ErrorContains(t, err, "already holds a company")

	// Encrypted, by a passphrase and to a key: nothing of it can be read, and it comes in again.
	key, err := age.GenerateX25519Identity()
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(file("key"), []byte(key.String()+"\n"), 0o600))
	require.NoError(t, os.WriteFile(file("phrase"), []byte("seven herons\n"), 0o600))
	require.NoError(t, os.WriteFile(file("wrong"), []byte("eight herons\n"), 0o600))
	for name, how := range map[string]struct{ shut, open []string }{
		"phrase.age": {[]string{"--passphrase-file", file("phrase")}, []string{"--passphrase-file", file("phrase")}},
		"key.age":    {[]string{"--recipient", key.Recipient().String()}, []string{"--identity-file", file("key")}},
	} {
		_, err = fairlap(t, append(how.shut, "export", "--database-url", town.URL, file(name))...)
		require.NoError(t, err)
		assert.NotContains(t, string(read(name)), "argon2id")
		_, err = fairlap(t, "verify", file(name))
		assert.ErrorContains(t, err, "encrypted")
		_, err = fairlap(t, "verify", file(name), "--passphrase-file", file("wrong"))
		assert.Error(t, err)
		out, err = fairlap(t, append(how.open, "verify", file(name))...)
		require.NoError(t, err)
		assert.Contains(t, out, "whole")
		at := fresh(t, town, strings.TrimSuffix(name, ".age"))
		_, err = fairlap(t, append(how.open, "import", "--database-url", at, file(name))...)
		require.NoError(t, err)
		_, err = fairlap(t, "export", "--database-url", at, file(name+".jsonl"))
		require.NoError(t, err)
		assert.True(t, bytes.Equal(read("town.jsonl"), read(name+".jsonl")))
	}

	_, err = fairlap(t, "backup", "--database-url", town.URL, file("town.backup"))
	require.NoError(t, err)
	_, err = fairlap(t, "backup", "--database-url", town.URL, file("town.backup"))
	assert.ErrorContains(t, err, "writes over nothing")
	restored := fresh(t, town, "restored")
	_, err = fairlap(t, "restore", "--database-url", restored, file("town.backup"))
	require.NoError(t, err)
	_, err = fairlap(t, "export", "--database-url", restored, file("restored.jsonl"))
	require.NoError(t, err)
	assert.True(t, bytes.Equal(read("town.jsonl"), read("restored.jsonl")))
	_, err = fairlap(t, "restore", "--database-url", restored, file("town.backup"))
	assert.Error(t, err, "not over a company that is there")
}
