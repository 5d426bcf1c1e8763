package zxcvbn

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	original "github.com/trustelem/zxcvbn"
	"pgregory.net/rapid"
)

// The original counts the same guesses, to the last one.
func TestGuessesAreTheOriginals(t *testing.T) {
	pieces := rapid.SampledFrom([]string{
		"password", "P@ssw0rd", "drowssap", "qwertyuiop", "zxcvbn", "1987", "24.11.2026", "abcdef", "aabaab", "smith",
		"Brandt", "clearbrook", "7", "x", "Ä", "$ecret", "hummingbird", "-", "13579",
	})
	rapid.Check(t, func(t *rapid.T) {
		password := strings.Join(rapid.SliceOfN(pieces, 1, 4).Draw(t, "pieces"), "")
		known := rapid.SliceOfN(rapid.SampledFrom([]string{"brandt", "clearbrook", "o"}), 0, 2).Draw(t, "known")
		assert.InEpsilon(
			t,
			original.PasswordStrength(password, known).Guesses,
			Guesses(password, known),
			1e-12,
			password,
		)
	})
	assert.Zero(t, Guesses("\xff\xfe not text", nil))
}
