//go:build long

package casefile

import (
	"bytes"
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The browser's engine gives the same bytes as the server's, for every example.
func TestTheBrowserAnswersToTheByte(t *testing.T) {
	files, err := filepath.Glob("../../docs/examples/*.case.json")
	require.NoError(t, err)
	require.Greater(t, len(files), 10)
	var lines, native []string
	for _, f := range files {
		b, err := os.ReadFile(f)
		require.NoError(t, err)
		var flat bytes.Buffer
		require.NoError(t, json.Compact(&flat, b))
		lines = append(lines, flat.String())
		c, errs := Read(bytes.NewReader(b))
		require.Empty(t, errs, f)
		answer, err := json.Marshal(solve(t, *c))
		require.NoError(t, err)
		native = append(native, string(answer))
	}
	program := filepath.Join(t.TempDir(), "answer.wasm")
	build := exec.Command("go", "build", "-o", program, "./testdata/answer")
	build.Env = append(os.Environ(), "GOOS=js", "GOARCH=wasm")
	out, err := build.CombinedOutput()
	require.NoError(t, err, string(out))
	root, err := exec.Command("go", "env", "GOROOT").Output()
	require.NoError(t, err)
	run := exec.Command(
		"node",
		filepath.Join(strings.TrimSpace(string(root)), "lib", "wasm", "wasm_exec_node.js"),
		program,
	)
	run.Stdin = strings.NewReader(strings.Join(lines, "\n") + "\n")
	run.Env = []string{"PATH=" + os.Getenv("PATH")} // its page of variables is small
	var said, complaint bytes.Buffer
	run.Stdout, run.Stderr = &said, &complaint
	require.NoError(t, run.Run(), complaint.String())
	wasm := strings.Split(strings.TrimSpace(said.String()), "\n")
	require.Len(t, wasm, len(native))
	for i := range native {
		assert.Equal(t, native[i], wasm[i], files[i])
	}
}
