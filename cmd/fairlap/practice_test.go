package main

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/practice"
)

// Every written case, and a drawn one, is a file by the published schema, and checks: its best
// way is told in its reader's language and units.
func TestCasesAreFiles(t *testing.T) {
	schema := published(t, "practice")
	file := filepath.Join(t.TempDir(), "case.json")
	for _, c := range practice.Library() {
		text, err := run(t, "practice", "new", "--id", c.ID)
		require.NoError(t, err)
		valid(t, schema, []byte(text))
	}
	text, err := run(t, "practice", "new", "--level", "season", "--theme", "suction", "--seed", "12")
	require.NoError(t, err)
	valid(t, schema, []byte(text))
	again, err := run(t, "practice", "new", "--level", "season", "--theme", "suction", "--seed", "12")
	require.NoError(t, err)
	assert.Equal(t, text, again, "the same three, the same case")
	require.NoError(t, os.WriteFile(file, []byte(text), 0o600))
	said, err := run(t, "practice", "check", file)
	require.NoError(t, err)
	assert.Contains(t, said, "Read the meters at")
	assert.Contains(t, said, "psi")
	said, err = run(t, "practice", "check", file, "--lang", "es", "--units", "metric")
	require.NoError(t, err)
	assert.Contains(t, said, "Leyó los medidores")
	assert.NotContains(t, said, "psi")
}

// A case that is wrong says where, a line each; one that there is not says which there are.
func TestAWrongCaseSaysWhere(t *testing.T) {
	file := filepath.Join(t.TempDir(), "case.json")
	text, err := run(t, "practice", "new", "--id", "as-dirty-as-it-looks")
	require.NoError(t, err)
	wrong := strings.NewReplacer(`"month": 6`, `"month": 60`, `"step": 6`, `"step": 60`).Replace(text)
	require.NotEqual(t, text, wrong)
	require.NoError(t, os.WriteFile(file, []byte(wrong), 0o600))
	_, err = run(t, "practice", "check", file)
	require.Error(t, err)
	assert.Contains(t, err.Error(), "month")
	_, err = run(t, "practice", "new", "--id", "list")
	require.Error(t, err)
	assert.Contains(t, err.Error(), "\n  as-dirty-as-it-looks")
	_, err = run(t, "practice", "new", "--theme", "weather")
	assert.ErrorIs(t, err, practice.ErrCase)
	_, err = run(t, "practice", "check", filepath.Join(t.TempDir(), "none.json"))
	assert.ErrorIs(t, err, os.ErrNotExist)
}

func TestMeasureLaysTwoOrdersSideBySide(t *testing.T) {
	said, err := run(t, "practice", "measure", "--cases", "6")
	require.NoError(t, err)
	assert.Contains(t, said, "6 drawn cases")
	assert.Contains(t, said, "a card's fixed order")
}
