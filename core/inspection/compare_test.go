package inspection

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// What nobody looked at again is neither mended nor new.
func TestOneInspectionAgainstTheLast(t *testing.T) {
	then := []Finding{
		{Item: "supports", Name: "Pipes"},
		{Item: "rcd", Name: "GFCI"},
		{Item: "threads", Name: "Joints"},
		{Item: "part-age", Name: "Parts"},
	}
	now := []Finding{{Item: "threads", Name: "Joints"}, {Item: "valves", Name: "Valves"}}
	mended, fresh := Since(then, now, Answers{"supports": yes(), "threads": no(), "valves": no()})
	assert.Equal(t, []string{"Pipes", "Parts"}, sayAll(mended), "the pad's own figures are always looked at")
	assert.Equal(t, []string{"Valves"}, sayAll(fresh))
	mended, fresh = Since(nil, nil, nil)
	assert.Empty(t, mended)
	assert.Empty(t, fresh)
}

func TestTheGravestFinding(t *testing.T) {
	assert.Equal(t, Severity(""), Gravest(nil))
	assert.Equal(t, Note, Gravest([]Finding{{Severity: Note}}))
	assert.Equal(t, Stop, Gravest([]Finding{{Severity: Note}, {Severity: Act}, {Severity: Stop}}))
	assert.False(t, Finding{Severity: Note}.IsWork())
	assert.True(t, Finding{Severity: Stop}.IsWork())
}
