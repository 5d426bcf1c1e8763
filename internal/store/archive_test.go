package store_test

import (
	"bytes"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/archive"
	"fairlap/internal/demo/demotest"
	"fairlap/internal/store"
)

// The town goes out and into an empty database, and what comes out of that is the
// same to the byte.
func TestAnArchiveGoesRound(t *testing.T) {
	town := demotest.Town(t)
	var out bytes.Buffer
	require.NoError(t, town.Store.Export(ctx, &out))
	lines := strings.Count(out.String(), "\n")
	require.Greater(t, lines, 5000)
	other := demotest.Empty(t)
	rows, err := other.Import(ctx, bytes.NewReader(out.Bytes()))
	require.NoError(t, err)
	assert.Equal(t, lines-2, rows, "a head and an end besides")
	var again bytes.Buffer
	require.NoError(t, other.Export(ctx, &again))
	assert.True(t, bytes.Equal(out.Bytes(), again.Bytes()), "the same to the byte")
	_, err = other.Import(ctx, bytes.NewReader(out.Bytes()))
	assert.ErrorIs(t, err, store.ErrNotEmpty)
	// What is appended only stays so.
	_, err = other.Pool.Exec(ctx, "delete from visits")
	assert.Error(t, err)
}

// An archive that was cut at a line, or changed, is refused whole: by whoever looks, and by the
// database that was to take it in.
func TestAnArchiveThatWasCutOrChangedIsRefused(t *testing.T) {
	town := demotest.Town(t)
	var out bytes.Buffer
	require.NoError(t, town.Store.Export(ctx, &out))
	text := out.String()
	rows, sealed, err := archive.Verify(strings.NewReader(text))
	require.NoError(t, err)
	assert.True(t, sealed)
	assert.Equal(t, strings.Count(text, "\n")-2, rows)
	lines := strings.SplitAfter(strings.TrimSuffix(text, "\n"), "\n")
	last := len(lines) - 1
	other := demotest.Empty(t)
	for says, spoiled := range map[string]string{
		"ends in the middle":        strings.Join(lines[:last], ""),
		"after 40 rows":             strings.Join(lines[:41], ""),
		"rows and had":              strings.Join(append(slices.Clone(lines[:last-1]), lines[last]), ""),
		"is not what was written":   strings.Replace(text, "Quince Court", "Quince Crt. ", 1),
		"goes on after its end":     text + lines[1],
		"its last line can't":       strings.Join(lines[:last], "") + `{"end":"all"}`,
		"does not say fair-lap-arc": strings.Join(lines[1:], ""),
	} {
		_, _, err := archive.Verify(strings.NewReader(spoiled))
		require.ErrorIs(t, err, archive.ErrSpoiled, says)
		assert.Contains(t, err.Error(), says)
		_, err = other.Import(ctx, strings.NewReader(spoiled))
		assert.ErrorIs(t, err, archive.ErrSpoiled, says)
	}
	var held int
	require.NoError(t, other.Pool.QueryRow(ctx, "select count(*) from pools").Scan(&held))
	assert.Zero(t, held, "nothing of it was taken in")
}

// Every table is in an archive but those that are nobody's record.
func TestAnArchiveForgetsNoTable(t *testing.T) {
	town := demotest.Town(t)
	rows, err := town.Store.Pool.Query(
		ctx,
		"select tablename::text from pg_tables where schemaname = 'public' and tablename not in ('sessions', 'goose_db_version', 'standings', 'pool_sorts', 'outcomes', 'visit_counts', 'part_lives', 'pool_letters', 'placed_parts', 'tries', 'imports', 'import_rows', 'import_headings', 'setup_code', 'sign_ins', 'invitations', 'practice_attempts', 'practice_tasks') and tablename not like 'river%'",
	)
	require.NoError(t, err)
	defer rows.Close()
	known := store.ArchivedTables()
	n := 0
	for rows.Next() {
		var name string
		require.NoError(t, rows.Scan(&name))
		assert.Contains(t, known, name)
		n++
	}
	assert.Len(t, known, n)
}

// Each table comes after those that its rows refer to, so that an archive can come in.
func TestAnArchiveIsInAnOrderThatComesIn(t *testing.T) {
	town := demotest.Town(t)
	rows, err := town.Store.Pool.Query(
		ctx,
		"select conrelid::regclass::text, confrelid::regclass::text from pg_constraint where contype = 'f' and not condeferrable and conrelid <> confrelid",
	)
	require.NoError(t, err)
	defer rows.Close()
	tables := store.ArchivedTables()
	n := 0
	for rows.Next() {
		var from, to string
		require.NoError(t, rows.Scan(&from, &to))
		if at := slices.Index(tables, from); at >= 0 {
			n++
			assert.Less(t, slices.Index(tables, to), at, "%s refers to %s", from, to)
		}
	}
	assert.Greater(t, n, 20)
}

// A spoiled archive says which line is wrong, and nothing of it comes in.
func TestASpoiledArchiveComesInNotAtAll(t *testing.T) {
	town := demotest.Town(t)
	var out bytes.Buffer
	require.NoError(t, town.Store.Export(ctx, &out))
	lines := strings.SplitAfter(out.String(), "\n")
	spoil := func(at int, with string) string {
		spoiled := append([]string{}, lines...)
		spoiled[at] = with
		return strings.Join(spoiled, "")
	}
	empty := demotest.Empty(t)
	for message, text := range map[string]string{
		"does not say fair-lap-archive":   "street,gallons\n14 Quince Court,18500\n",
		"it is of schema 999":             spoil(0, `{"format":"fair-lap-archive","schema":999}`+"\n"),
		"of which schema":                 spoil(0, `{"format":"fair-lap-archive"}`+"\n"),
		`"customers" does not exist`:      spoil(0, `{"format":"fair-lap-archive","schema":1}`+"\n") + "\n",
		"line 41: it can't be read":       spoil(40, "{\"table\":\"visits\"\n"),
		`line 42: there is no table "pg_`: spoil(41, `{"table":"pg_authid","row":{}}`+"\n"),
		"line 43: the row of pools is re": spoil(42, `{"table":"pools","row":{"street":"'; drop table pools; --"}}`+"\n"),
		"is refused":                      strings.Join(append(append([]string{}, lines[:4]...), lines[60:]...), ""),
	} {
		_, err := empty.Import(ctx, strings.NewReader(text))
		require.ErrorIs(t, err, archive.ErrSpoiled, message)
		assert.Contains(t, err.Error(), message)
		var held int
		require.NoError(
			t,
			empty.Pool.QueryRow(ctx, "select (select count(*) from users) + (select count(*) from pools)").Scan(&held),
		)
		assert.Zero(t, held, "nothing half-imported")
	}
	_, err := empty.Import(ctx, strings.NewReader(out.String()))
	assert.NoError(t, err, "the sound one still does")
}

// An archive of an older program comes in, and is brought forward: people's words for
// kinds of parts become ids.
func TestAnOlderArchiveIsBroughtForward(t *testing.T) {
	town := demotest.Town(t)
	require.NoError(t, store.MigrateDownTo(ctx, town.Store, 14))
	town.Store.Pool.Reset()
	_, err := town.Store.Pool.Exec(
		ctx,
		`update company set settings = settings || '{"partLives": {"Zinc anode": {"years": 2, "kgal": 0}, "My part": {"years": 1, "kgal": 0}}}'`,
	)
	require.NoError(t, err)
	var pool, user uuid.UUID
	require.NoError(
		t,
		town.Store.Pool.QueryRow(ctx, "select p.id, u.id from pools p, users u limit 1").
			Scan((*[16]byte)(&pool), (*[16]byte)(&user)),
	)
	_, err = town.Store.Pool.Exec(
		ctx,
		"insert into due_marks (id, pool_id, item, act, reason, made_by, made_at) values ($1, $2, 'part:Sand', 'cancel', 'looked sound', $3, now())",
		uuid.New().String(),
		pool.String(),
		user.String(),
	)
	require.NoError(t, err)
	var was, is int
	require.NoError(
		t,
		town.Store.Pool.QueryRow(ctx, "select count(*) from equipment where kind = 'Zinc anode'").Scan(&was),
	)
	require.Positive(t, was)
	var out bytes.Buffer
	require.NoError(t, town.Store.Export(ctx, &out))
	other := demotest.Empty(t)
	_, err = other.Import(ctx, &out)
	require.NoError(t, err)
	require.NoError(t, other.Pool.QueryRow(ctx, "select count(*) from equipment where kind = 'zinc-anode'").Scan(&is))
	assert.Equal(t, was, is)
	require.NoError(
		t,
		other.Pool.QueryRow(ctx, "select count(*) from due_marks where item = 'part:sand' and reason = 'looked sound'").
			Scan(&is),
	)
	assert.Equal(t, 1, is)
	require.NoError(
		t,
		other.Pool.QueryRow(ctx, `select count(*) from company where settings -> 'partLives' = '{"zinc-anode": {"years": 2, "kgal": 0}, "My part": {"years": 1, "kgal": 0}}'`).
			Scan(&is),
	)
	assert.Equal(t, 1, is)
	assert.Empty(t, store.SchemaGaps(ctx, other), "and stands at this program's schema")
}
