package pad

import (
	"math"

	"fairlap/core/units"
)

// Reading is what was read at one speed; nil means not read.
type Reading struct {
	Speed  units.Speed
	Tank   *units.Pressure
	Vacuum *units.Pressure
	Flow   *units.Flow
	Power  *units.Power
}

// Meter names a meter of a pad.
type Meter string

// The meters of a pad.
const (
	MeterTank   Meter = "tank"
	MeterVacuum Meter = "vacuum"
	MeterFlow   Meter = "flow"
	MeterPower  Meter = "power"
)

// AllMeters lists the meters in the order they are read.
var AllMeters = [...]Meter{MeterTank, MeterVacuum, MeterFlow, MeterPower}

// Value gives a meter's reading in SI, and whether it was read.
func (r Reading) Value(m Meter) (float64, bool) {
	switch {
	case m == MeterTank && r.Tank != nil:
		return float64(*r.Tank), true
	case m == MeterVacuum && r.Vacuum != nil:
		return float64(*r.Vacuum), true
	case m == MeterFlow && r.Flow != nil:
		return float64(*r.Flow), true
	case m == MeterPower && r.Power != nil:
		return float64(*r.Power), true
	}
	return 0, false
}

// Noise is a meter's standard deviation at a true value, in SI. Shares have a
// small floor, for a flow meter near zero does not grow exact.
func (m Meters) Noise(meter Meter, value float64) float64 {
	switch meter {
	case MeterTank:
		return float64(units.PSI(m.TankPsi))
	case MeterVacuum:
		return float64(units.InHg(m.VacuumInHg))
	case MeterFlow:
		return math.Max(m.FlowShare*math.Abs(value), float64(units.GPM(0.5)))
	default:
		return math.Max(m.PowerShare*math.Abs(value), 1)
	}
}
