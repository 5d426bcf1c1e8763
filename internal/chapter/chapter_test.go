package chapter

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestReplaceLeavesTheRest(t *testing.T) {
	path := filepath.Join(t.TempDir(), "doc.md")
	const before = "# Head\n\n<!-- one: computed from here -->\nold\n<!-- one: to here -->\n\nby hand\n"
	require.NoError(t, os.WriteFile(path, []byte(before), 0o644))
	for range 2 { // twice gives the same
		require.NoError(t, Replace(path, "one", "\nnew\n"))
		b, err := os.ReadFile(path)
		require.NoError(t, err)
		assert.Equal(
			t,
			"# Head\n\n<!-- one: computed from here -->\n\nnew\n\n<!-- one: to here -->\n\nby hand\n",
			string(b),
		)
	}
	assert.ErrorContains(t, Replace(path, "two", "x"), "no line")
	require.NoError(t, os.WriteFile(path, []byte("<!-- one: computed from here -->\nno end"), 0o644))
	assert.ErrorContains(t, Replace(path, "one", "x"), "after it")
	assert.ErrorContains(t, Replace(filepath.Join(t.TempDir(), "absent"), "one", "x"), "reading the document")
}
