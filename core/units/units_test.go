package units

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestConversionsAgreeWithPublishedFactors(t *testing.T) {
	// NIST SP 811 (from memory): 1 psi = 6894.757 Pa, 1 US gal = 3.785412 L, 1 ft = 0.3048 m.
	assert.InDelta(t, 6894.757, float64(PSI(1)), 0.001)
	assert.InDelta(t, 3.785412e-3, float64(Gallons(1)), 1e-9)
	assert.InDelta(t, 0.06309, float64(GPM(1))*1000, 1e-5)
	assert.InDelta(t, 0.49115, InHg(1).PSI(), 1e-4)
	assert.InDelta(t, 100, float64(Fahrenheit(212)), 1e-9)
}

func TestRoundTrips(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		v := rapid.Float64Range(0, 95).Draw(t, "v")
		assert.InDelta(t, v, GPM(v).GPM(), 1e-9)
		assert.InDelta(t, v, PSI(v).PSI(), 1e-9)
		assert.InDelta(t, v, InHg(v).InHg(), 1e-9)
		assert.InDelta(t, v, FeetHead(v).Feet(), 1e-9)
		assert.InDelta(t, v, Fahrenheit(v).Fahrenheit(), 1e-9)
	})
}
