package evaluation

import (
	"math"
	"math/rand/v2"
)

// missLaw is how many of its deviations a meter is off when it is read.
type missLaw struct {
	draw    func(rng *rand.Rand) float64
	density func(z float64) float64
}

func normal(z float64) float64 { return math.Exp(-z*z/2) / math.Sqrt(2*math.Pi) }

// hasty reads well mostly, and one reading in seventeen in haste.
var hasty = missLaw{
	draw: func(rng *rand.Rand) float64 {
		n := rng.NormFloat64()
		if rng.Float64() < 0.06 {
			n *= 2.5
		}
		return n
	},
	density: func(z float64) float64 { return 0.94*normal(z) + 0.06*normal(z/2.5)/2.5 },
}

// heavy is Student's t of four degrees of freedom, four fifths as wide: no reading is hasty, all
// of them stray a little further than a bell has it.
var heavy = missLaw{
	draw: func(rng *rand.Rand) float64 {
		chi := 0.0
		for range heavyFreedom {
			x := rng.NormFloat64()
			chi += x * x
		}
		return heavyWidth * rng.NormFloat64() / math.Sqrt(chi/heavyFreedom)
	},
	density: func(z float64) float64 {
		z /= heavyWidth
		return 0.375 * math.Pow(1+z*z/heavyFreedom, -(heavyFreedom+1)/2.0) / heavyWidth
	},
}

const (
	heavyFreedom = 4
	heavyWidth   = 0.8
)
