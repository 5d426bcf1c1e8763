package units

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// Factors: NIST SP 811 (from memory); worked by hand.
func TestFiguresInBothSystems(t *testing.T) {
	for _, x := range []struct {
		v          float64
		unit       string
		us, metric string
	}{
		{14.5, "psi", "14.5 psi", "1.00 bar"}, {40, "gpm", "40 gpm", "9.1 m³/h"}, {18500, "gal", "18,500 gal", "70,030 L"}, {80, "°F", "80 °F", "27 °C"},
		{2.5, "inHg", "2.5 inHg", "8.5 kPa"}, {30, "ft", "30.0 ft", "9.1 m"}, {15, "gpm/ft²", "15.0 gpm/ft²", "36.7 m/h"}, {2400, "rpm", "2,400 rpm", "2,400 rpm"}, {-0.01, "psi", "0.0 psi", "0.00 bar"},
	} {
		assert.Equal(t, x.us, US.Figure(x.v, x.unit))
		assert.Equal(t, x.metric, Metric.Figure(x.v, x.unit))
	}
}

func TestSentencesInMetric(t *testing.T) {
	for in, want := range map[string]string{
		"The tank gauge reads 17.7 psi at 2,400 rpm.": "The tank gauge reads 1.22 bar at 2,400 rpm.",
		"A rise of 8 to 10 psi over the clean line":   "A rise of 0.55 to 0.69 bar over the clean line",
		"The salt cell gets 14 gpm and needs 25 gpm.": "The salt cell gets 3.2 m³/h and needs 5.7 m³/h.",
		"17 of 25 gpm at 950 rpm":                     "3.9 of 5.7 m³/h at 950 rpm",
		"About 12 min and 150 gal to waste.":          "About 12 min and 568 L to waste.",
		"a straight run of 20 in before the pump":     "a straight run of 51 cm before the pump",
		"2 in pipe stays what it is called":           "2 in pipe stays what it is called",
		"Off in 3 min, back in 20.":                   "Off in 3 min, back in 20.",
		"water at 80 °F":                              "water at 27 °C",
		"nothing to tell":                             "nothing to tell",
	} {
		assert.Equal(t, want, Metric.Say(in))
		assert.Equal(t, in, US.Say(in))
	}
}

func TestSayNeverLosesAWord(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		words := rapid.SliceOfN(rapid.StringMatching(`[a-z]{1,9}|\d{1,4}(\.\d)? rpm`), 0, 12).Draw(t, "words")
		sentence := ""
		for _, w := range words {
			sentence += w + " "
		}
		assert.Equal(t, sentence, Metric.Say(sentence), "no trade unit, no change")
	})
}
