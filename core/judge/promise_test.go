package judge

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A check's promise is kept: what it says that an answer leaves on top is what the page shows once
// the answer is given, over every example and what was drawn around it.
func TestAPromiseIsKept(t *testing.T) {
	promises, off := 0, 0.0
	for _, g := range examples(t, 4) {
		s, err := g.pack.Ready()
		require.NoError(t, err)
		v, _, err := s.Judge(g.found, g.now, nil)
		require.NoError(t, err)
		for _, c := range v.Next {
			if c.Reading != nil {
				continue
			}
			for _, yes := range []bool{true, false} {
				then := g.found
				for id, is := range g.found.Signs {
					then.Seen = append(then.Seen, SeenSign{Sign: id, Yes: is})
				}
				then.Seen = append(then.Seen, SeenSign{Sign: c.Sign, Yes: yes, At: &g.now}) // after all work
				after, _, err := s.Judge(then, g.now, nil)
				require.NoError(t, err)
				name, p := c.IfYes, c.YesP
				if !yes {
					name, p = c.IfNo, c.NoP
				}
				promises++
				off = math.Max(off, math.Abs(p-after.Suspects[0].P))
				assert.InDelta(t, after.Suspects[0].P, p, 0.01, "%s, %s: %v", g.name, c.Sign, yes)
				assert.Equal(t, after.Suspects[0].Name, name, "%s, %s: %v", g.name, c.Sign, yes)
			}
		}
	}
	t.Logf("%d promises, the worst off by %.5f", promises, off)
	assert.Greater(t, promises, 20)
}
