package main

import (
	"bytes"
	"context"
	"crypto/sha256"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"filippo.io/age"
	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/clock"
	"fairlap/internal/demo/demotest"
	"fairlap/internal/pictures"
	"fairlap/internal/store"
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
	assert.ErrorContains(t, err, "nothing is written over it")
	info, err = os.Stat(file("town.backup"))
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode().Perm(), "it holds password hashes too")
	_, err = fairlap(
		t,
		"backup",
		"--database-url",
		"postgres://nobody@127.0.0.1:1/none?connect_timeout=1",
		file("none.backup"),
	)
	assert.Error(t, err)
	assert.NoFileExists(t, file("none.backup"))
	restored := fresh(t, town, "restored")
	_, err = fairlap(t, "restore", "--database-url", restored, file("town.backup"))
	require.NoError(t, err)
	_, err = fairlap(t, "export", "--database-url", restored, file("restored.jsonl"))
	require.NoError(t, err)
	assert.True(t, bytes.Equal(read("town.jsonl"), read("restored.jsonl")))
	_, err = fairlap(t, "restore", "--database-url", restored, file("town.backup"))
	assert.Error(t, err, "not over a company that is there")
}

// Pictures in a folder are in an archive that is told of the folder, and no archive is written
// without them. The folder is told by a file of settings, as the service is.
func TestAnArchiveHasThePicturesOfAFolder(t *testing.T) {
	town := demotest.Town(t)
	ctx := context.Background()
	dir := t.TempDir()
	file := func(name string) string { return filepath.Join(dir, name) }
	folder, err := pictures.In(file("photos"))
	require.NoError(t, err)
	town.Store.KeepPhotos(folder)
	content := []byte("a gauge that reads 14")
	digest := sha256.Sum256(content)
	shown := store.Photo{
		ID:      uuid.Must(uuid.NewV7()),
		Digest:  digest[:],
		Width:   1,
		Height:  1,
		TakenAt: clock.Now(),
		MadeAt:  clock.Now(),
	}
	require.NoError(
		t,
		town.Store.Pool.QueryRow(ctx, "select id, technician_id from pools limit 1").Scan(&shown.PoolID, &shown.MadeBy),
	)
	require.NoError(t, town.Store.AddPhoto(ctx, shown, content))

	_, err = fairlap(t, "export", "--database-url", town.URL, file("without"))
	assert.ErrorContains(t, err, "pictures are kept elsewhere than in the database: say where")
	assert.NoFileExists(t, file("without"), "half an archive is none")

	settings := "# as the service reads it\nFAIRLAP_DATABASE_URL='" + town.URL + "'\nFAIRLAP_PHOTO_DIR=" + file(
		"photos",
	) + "\nFAIRLAP_DRAIN=30s\n"
	require.NoError(t, os.WriteFile(file("fairlap.env"), []byte(settings), 0o600))
	_, err = fairlap(t, "export", "--settings", file("fairlap.env"), file("after"))
	require.NoError(t, err)
	taken := fresh(t, town, "with_pictures")
	_, err = fairlap(t, "import", "--database-url", taken, file("after"))
	require.NoError(t, err)
	in, err := store.Open(ctx, taken)
	require.NoError(t, err)
	defer in.Close()
	got, err := in.PhotoBytes(ctx, digest[:])
	require.NoError(t, err)
	assert.Equal(t, content, got)
}

// What is given binds more than a variable, and a variable more than the file.
func TestSettingsComeFromAFile(t *testing.T) {
	file := filepath.Join(t.TempDir(), "fairlap.env")
	write := func(text string) { require.NoError(t, os.WriteFile(file, []byte(text), 0o600)) }
	nowhere := func(user string) string { return "postgres://" + user + "@127.0.0.1:1/none?connect_timeout=1" }
	write("FAIRLAP_DATABASE_URL=" + nowhere("filed") + "\n")
	_, err := fairlap(t, "migrate", "--settings", file)
	assert.ErrorContains(t, err, "user=filed")
	t.Setenv("FAIRLAP_DATABASE_URL", nowhere("told"))
	_, err = fairlap(t, "migrate", "--settings", file)
	assert.ErrorContains(t, err, "user=told")
	_, err = fairlap(t, "migrate", "--settings", file, "--database-url", nowhere("given"))
	assert.ErrorContains(t, err, "user=given")
	write("FAIRLAP_DATABASEURL=x\n")
	_, err = fairlap(t, "migrate", "--settings", file)
	assert.ErrorContains(t, err, "FAIRLAP_DATABASEURL")
	_, err = fairlap(t, "migrate", "--settings", file+"x")
	assert.ErrorContains(t, err, "--settings")
}
