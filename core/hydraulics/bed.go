package hydraulics

import (
	"math"

	"fairlap/core/units"
)

// Bed is a bed of grains that water rises through.
type Bed struct {
	Grain   units.Length // diameter
	Density float64      // of the grain, kg/m³
	Void    float64      // share of the settled bed that is water
}

// SilicaSand is filter sand of a grain size: 2,650 kg/m³, settled void 0.42.
func SilicaSand(grain units.Length) Bed { return Bed{grain, 2650, 0.42} }

func (b Bed) archimedes(w Water) float64 {
	d := float64(b.Grain)
	return d * d * d * w.Density * (b.Density - w.Density) * units.Gravity / (w.Viscosity * w.Viscosity)
}

// speed turns a grain Reynolds number into a superficial velocity, m/s.
func (b Bed) speed(w Water, reynolds float64) float64 {
	return reynolds * w.Viscosity / (w.Density * float64(b.Grain))
}

// StartsAt is the superficial velocity, m/s, at which the bed begins to move
// (Wen and Yu 1966; good to about ±40 %).
func (b Bed) StartsAt(w Water) float64 {
	return b.speed(w, math.Sqrt(33.7*33.7+0.0408*b.archimedes(w))-33.7)
}

// Settling is the velocity, m/s, at which one grain falls, and its Reynolds
// number: drag of a sphere by Schiller and Naumann 1933, 0.44 past Re 1,000.
func (b Bed) Settling(w Water) (velocity, reynolds float64) {
	want := 4.0 / 3 * b.archimedes(w) // Cd·Re²
	lo, hi := 1e-6, 1e5
	for range 80 {
		re := math.Sqrt(lo * hi)
		cd := 0.44
		if re < 1000 {
			cd = 24 / re * (1 + 0.15*math.Pow(re, 0.687))
		}
		if cd*re*re < want {
			lo = re
		} else {
			hi = re
		}
	}
	return b.speed(w, lo), lo
}

// Expansion is how much higher the bed stands at a superficial velocity, as a
// share of its settled height: v = v_t·ε^n (Richardson and Zaki 1954). 0 until
// the bed moves; at settling velocity and over, the bed washes out: +Inf.
func (b Bed) Expansion(w Water, velocity float64) float64 {
	if velocity < b.StartsAt(w) {
		return 0
	}
	vt, re := b.Settling(w)
	if velocity >= vt {
		return math.Inf(1)
	}
	n := 2.39
	switch {
	case re < 0.2:
		n = 4.65
	case re < 1:
		n = 4.35 * math.Pow(re, -0.03)
	case re < 500:
		n = 4.45 * math.Pow(re, -0.1)
	}
	void := math.Pow(velocity/vt, 1/n)
	return math.Max(0, (1-b.Void)/(1-void)-1)
}

// VelocityFor is the superficial velocity, m/s, that expands the bed by a share
// of its height.
func (b Bed) VelocityFor(w Water, expansion float64) float64 {
	lo := b.StartsAt(w)
	hi, _ := b.Settling(w)
	for range 60 {
		mid := (lo + hi) / 2
		if b.Expansion(w, mid) < expansion {
			lo = mid
		} else {
			hi = mid
		}
	}
	return hi
}
