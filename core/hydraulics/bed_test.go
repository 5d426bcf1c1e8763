package hydraulics

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"fairlap/core/units"
)

// gpmPerFt2 is one gallon a minute on a square foot, m/s.
var gpmPerFt2 = float64(units.GPM(1)) / (float64(units.Feet(1)) * float64(units.Feet(1)))

func TestMinimumFluidisationAgainstWenAndYu(t *testing.T) {
	// Wen & Yu 1966 with IAPWS water, computed with python3-fluids' inputs (checks
	// of the handbook): gpm/ft² by grain in mm and temperature in °C.
	for _, c := range []struct{ mm, temp, want float64 }{{0.5, 20, 3.54}, {0.7, 20, 6.74}, {0.5, 10, 2.73},
		{0.7, 10, 5.26}} {
		got := SilicaSand(units.Length(c.mm/1000)).StartsAt(WaterAt(units.Temperature(c.temp))) / gpmPerFt2
		assert.InEpsilon(t, c.want, got, 0.005, "%v mm at %v °C", c.mm, c.temp)
	}
}

func TestWorkingBackwashRateLiftsTheBedAboutAFifth(t *testing.T) {
	// Richardson & Zaki 1954; NSF/ANSI 50's 15 gpm/ft² (from memory) is taken to
	// give some 20 %, more in cold water.
	sand := SilicaSand(0.0005)
	warm := sand.Expansion(WaterAt(20), 15*gpmPerFt2)
	assert.InDelta(t, 0.20, warm, 0.02)
	assert.Greater(t, sand.Expansion(WaterAt(10), 15*gpmPerFt2), warm+0.05)
	assert.Zero(t, sand.Expansion(WaterAt(20), 3*gpmPerFt2), "below the start nothing moves")
	assert.True(t, math.IsInf(sand.Expansion(WaterAt(20), 200*gpmPerFt2), 1), "over settling it washes out")
}

func TestExpansionGrowsWithFlowAndFallsWithWarmth(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		bed := SilicaSand(units.Length(rapid.Float64Range(3e-4, 1e-3).Draw(t, "grain")))
		w := WaterAt(units.Temperature(rapid.Float64Range(2, 38).Draw(t, "temp")))
		v := rapid.Float64Range(2, 60).Draw(t, "rate") * gpmPerFt2
		assert.GreaterOrEqual(t, bed.Expansion(w, v*1.1), bed.Expansion(w, v))
		colder := WaterAt(w.Temperature - 1)
		assert.GreaterOrEqual(t, bed.Expansion(colder, v), bed.Expansion(w, v)-1e-9)
		want := rapid.Float64Range(0.1, 0.5).Draw(t, "want")
		assert.InDelta(t, want, bed.Expansion(w, bed.VelocityFor(w, want)), 0.01)
	})
}

func TestAtmosphereFallsWithHeight(t *testing.T) {
	// International Standard Atmosphere (from memory): 89.9 kPa at 1,000 m, 79.5 at 2,000 m.
	assert.InDelta(t, 101325, float64(AtmosphereAt(0)), 1)
	assert.InDelta(t, 89.9e3, float64(AtmosphereAt(1000)), 100)
	assert.InDelta(t, 79.5e3, float64(AtmosphereAt(2000)), 100)
}
