package words

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"fairlap/core/units"
)

// A longer language keeps its holes, its quantities and its plurals.
func TestAStretchedSentenceSaysTheSameThing(t *testing.T) {
	assert.Equal(t, "Cléèáàn {{at}}, nóòt {{2 psi}}", Stretch("Clean {{at}}, not {{2 psi}}"))
	texts, err := Texts(English)
	assert.NoError(t, err)
	for key, text := range texts {
		assert.Equal(t, holes.FindAllString(text, -1), holes.FindAllString(Stretch(text), -1), key)
	}
	said := Printer{Stretched, units.Metric}.Say(Of("words.unknown", "key", Name("pad of Ana")))
	assert.Contains(t, said, "pad of Ana", "what somebody wrote is not stretched")
	assert.NotContains(t, Languages, Stretched, "never offered")
}
