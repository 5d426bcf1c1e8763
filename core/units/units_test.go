package units

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestParseReadsFiguresAsTheyAreTyped(t *testing.T) {
	for _, c := range []struct {
		kind Kind
		text string
		want float64
	}{
		{KindTank, "17.5", 17.5}, {KindTank, "17,5", 17.5}, {KindTank, " 17.5 psi ", 17.5},
		{KindTank, "1.2 bar", 17.404}, {KindTank, "120 kPa", 17.404}, {KindTank, "−2", -2},
		{KindSpeed, "2,400", 2400}, {KindSpeed, "2400 rpm", 2400}, {KindSpeed, "2 400", 2400},
		{KindFlow, "10 m3/h", 44.03}, {KindFlow, "52,5", 52.5}, {KindVacuum, "4 inHg", 4}, {KindVacuum, "13.5 kPa", 3.987},
		{KindPower, "1,105 W", 1105}, {KindPower, "0,56 kW", 560}, {KindPower, "1,105.5", 1105.5},
	} {
		got, err := Parse(c.kind, c.text)
		require.NoError(t, err, c.text)
		assert.InDelta(t, c.want, got, 0.01, c.text)
	}
}

func TestParseRefusesWithASentence(t *testing.T) {
	for _, c := range []struct {
		kind Kind
		text string
		says string
	}{
		{KindTank, "", "Type the tank gauge"},
		{KindTank, "seventeen", "is not a number"},
		{KindTank, "17.5 gpm", "reads like a flow"},
		{KindTank, "400", "not believable"},
		{KindTank, "2,400", ""}, // a decimal comma here: 2.4 psi
		{KindSpeed, "-100", "below zero"},
		{KindSpeed, "24000", "not believable"},
		{KindVacuum, "17 furlongs", "unit"},
		{KindFlow, "1e999", "is not"},
		{KindPower, "--5", "is not a number"},
	} {
		_, err := Parse(c.kind, c.text)
		if c.says == "" {
			assert.NoError(t, err, c.text)
			continue
		}
		require.Error(t, err, c.text)
		assert.Contains(t, err.Error(), c.says)
	}
}

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
		got, err := Parse(KindTank, fmt.Sprintf("%.3f psi", v))
		require.NoError(t, err)
		assert.InDelta(t, v, got, 0.0006)
	})
}

func FuzzParse(f *testing.F) {
	for _, s := range []string{"17.5", "1,2 bar", "2,400", "", "-", "1e400", "٣"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		for kind, rule := range kindRules {
			v, err := Parse(kind, s)
			if err == nil && (math.IsNaN(v) || v < rule.min || v > rule.max) {
				t.Fatalf("%s %q gave %v", kind, s, v)
			}
		}
	})
}
