package hydraulics

import (
	"math"

	"fairlap/core/units"
)

// Water holds the properties of water at one temperature.
type Water struct {
	Temperature units.Temperature
	Density     float64        // kg/m³
	Viscosity   float64        // dynamic, Pa·s
	Vapour      units.Pressure // absolute vapour pressure
}

// WaterAt gives the properties of fresh water at atmospheric pressure, 0 to
// 100 °C. Density: Kell 1975. Viscosity: Kestin, Sokolov and Wakeham 1978.
// Vapour pressure: Magnus form of Alduchov and Eskridge 1996.
func WaterAt(temp units.Temperature) Water {
	t := float64(temp)
	density := (999.83952 + t*(16.945176+t*(-7.9870401e-3+t*(-46.170461e-6+t*(105.56302e-9-t*280.54253e-12))))) /
		(1 + 16.879850e-3*t)
	d := 20 - t
	viscosity := 1.002e-3 * math.Pow(10, d/(t+96)*(1.2364-1.37e-3*d+5.7e-6*d*d))
	vapour := 610.94 * math.Exp(17.625*t/(t+243.04))
	return Water{temp, density, viscosity, units.Pressure(vapour)}
}

// Head turns a pressure into the height of this water that causes it.
func (w Water) Head(p units.Pressure) units.Head {
	return units.Head(float64(p) / (w.Density * units.Gravity))
}

// Pressure turns a height of this water into the pressure it causes.
func (w Water) Pressure(h units.Head) units.Pressure {
	return units.Pressure(float64(h) * w.Density * units.Gravity)
}

// AtmosphereAt gives the pressure of the air at a height above the sea (the
// International Standard Atmosphere's lowest layer).
func AtmosphereAt(height units.Length) units.Pressure {
	return units.Pressure(101325 * math.Pow(1-2.25577e-5*float64(height), 5.25588))
}
