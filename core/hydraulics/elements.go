package hydraulics

import (
	"math"

	"fairlap/core/units"
)

// PVC is the Hazen–Williams roughness of smooth plastic pipe.
const PVC = 150

// HazenWilliams gives the resistance r of a pipe in h = r·Q^1.852, h in m and Q
// in m³/s (Hazen–Williams, SI form). Diameter is the inside diameter.
func HazenWilliams(length, diameter units.Length, c float64) float64 {
	return 10.67 * float64(length) / (math.Pow(c, 1.852) * math.Pow(float64(diameter), 4.8704))
}

// MinorLoss gives the coefficient q of h = q·Q² for a fitting with loss
// coefficient k in a bore of the given inside diameter: h = k·v²/2g.
func MinorLoss(k float64, diameter units.Length) float64 {
	area := math.Pi / 4 * float64(diameter) * float64(diameter)
	return k / (2 * units.Gravity * area * area)
}

// Velocity is the speed, m/s, of a flow in a bore of the given inside diameter.
func Velocity(flow units.Flow, diameter units.Length) float64 {
	return math.Abs(float64(flow)) / (math.Pi / 4 * float64(diameter) * float64(diameter))
}

// FixedDrop gives the quadratic coefficient of a device that loses drop at flow.
func FixedDrop(drop units.Head, flow units.Flow) float64 {
	return float64(drop) / (float64(flow) * float64(flow))
}
