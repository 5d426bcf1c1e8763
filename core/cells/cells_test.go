package cells

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// Whatever is written comes back as it was, and none of it begins as a formula does.
func TestWordsComeBackAndNeverRun(t *testing.T) {
	for in, want := range map[string]string{
		"=1+1": "'=1+1", "+1 555": "'+1 555", "-x": "'-x", "@SUM(A1)": "'@SUM(A1)", "\ttab": "'\ttab",
		"gate": "gate", "": "", "'quoted'": "'quoted'", "'=1": "''=1", "a=b": "a=b", "'": "'",
	} {
		assert.Equal(t, want, Plain(in), in)
		assert.Equal(t, in, Typed(want), want)
	}
	rapid.Check(t, func(t *rapid.T) {
		in := rapid.StringMatching(`[='+@a\t -]{0,6}`).Draw(t, "words")
		out := Plain(in)
		assert.Equal(t, in, Typed(out))
		assert.False(t, out != "" && strings.ContainsAny(out[:1], begins), out)
	})
}
