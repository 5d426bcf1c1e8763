package main

import (
	"os"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What is shipped to run the program by names flags and variables that it has.
func TestWhatIsShippedIsUnderstood(t *testing.T) {
	_, err := fairlap(
		t,
		"serve",
		"--settings",
		"../../deploy/fairlap.env",
		"--photo-dir",
		t.TempDir(),
		"--database-url",
		"postgres://nobody@127.0.0.1:1/none?connect_timeout=1",
	)
	assert.ErrorContains(t, err, "reaching the database", "its settings are read")
	unit, err := os.ReadFile("../../deploy/fairlap@.service")
	require.NoError(t, err)
	starts := regexp.MustCompile(`(?m)^ExecStart=/usr/bin/fairlap (\S+) (.*)$`).FindStringSubmatch(string(unit))
	require.NotNil(t, starts)
	cmd, _, err := root().Find([]string{starts[1]})
	require.NoError(t, err)
	for _, flag := range regexp.MustCompile(`--([a-z-]+)`).FindAllStringSubmatch(starts[2], -1) {
		assert.NotNil(t, cmd.Flags().Lookup(flag[1]), flag[1])
	}
	told, err := os.ReadFile("../../docs/operations.md")
	require.NoError(t, err)
	proxy, err := os.ReadFile("../../deploy/haproxy.cfg")
	require.NoError(t, err)
	for _, port := range []string{"8080", "8081"} {
		assert.Contains(t, string(told), "fairlap@"+port)
		assert.Contains(t, string(proxy), "127.0.0.1:"+port)
	}
	for _, line := range regexp.MustCompile(`(?m)^(?:sudo -u fairlap fairlap|fl) .*$`).FindAllString(string(told), -1) {
		words := strings.Fields(strings.TrimPrefix(strings.TrimPrefix(line, "sudo -u fairlap fairlap "), "fl "))
		cmd, _, err := root().Find(words[:1])
		require.NoError(t, err, line)
		for _, flag := range regexp.MustCompile(`--([a-z-]+)`).FindAllStringSubmatch(strings.SplitN(line, "#", 2)[0], -1) {
			f := cmd.Flags().Lookup(flag[1])
			if f == nil {
				f = cmd.InheritedFlags().Lookup(flag[1])
			}
			assert.NotNil(t, f, line)
		}
	}
}
