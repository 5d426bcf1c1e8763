package company

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"fairlap/core/words"
)

// What the program notes is told in its reader's words; what somebody typed stays as it is,
// whatever it looks like.
func TestANoteIsOursOrAsTyped(t *testing.T) {
	assert.Equal(t, "Measured at an inspection", words.Plain.Say(NoteOf("app.pad-follows.measured")))
	assert.Equal(t, "guided run", words.Plain.Say(NoteOf("app.guided-run")))
	for _, typed := range []string{"app.fine", "new dial, 0–60", "inspection.of.the gate", "28 psi & 50 ft?", ""} {
		assert.Equal(t, typed, words.Plain.Say(NoteOf(typed)))
	}
}
