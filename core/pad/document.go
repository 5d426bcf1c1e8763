// Package pad is one pool's equipment and plumbing: the document that describes
// it, the hydraulic network that the document becomes, and the calibration of
// that network from the pad's own clean line.
//
// A document carries the trade's units because people read and write it; the
// unit stands in each field's name. Everything computed from it is SI.
package pad

import (
	"fmt"
	"math"

	"fairlap/core/hydraulics"
	"fairlap/core/units"
)

// Document describes a pad. Zero values mean "not there" for optional devices.
type Document struct {
	Pump          Pump    `json:"pump"`
	Filter        Filter  `json:"filter"`
	Suction       []Line  `json:"suction"`
	SuctionTrunk  Run     `json:"suctionTrunk"`
	Discharge     Run     `json:"discharge"` // pump to tank
	Heater        *Device `json:"heater,omitempty"`
	Cell          *Device `json:"cell,omitempty"`
	CheckValve    bool    `json:"checkValve,omitempty"`
	ReturnTrunk   Run     `json:"returnTrunk"`
	Returns       []Line  `json:"returns"`
	VacuumTap     Tap     `json:"vacuumTap"`
	GaugeHeightFt float64 `json:"gaugeHeightFt"` // above the pool's surface
	PumpHeightFt  float64 `json:"pumpHeightFt"`
	Programme     []Slot  `json:"programme"`
	Meters        Meters  `json:"meters"`
}

// Pump is a pump of the catalogue as it stands at this pad.
type Pump struct {
	Model    string    `json:"model"`
	Kind     PumpKind  `json:"kind"`
	TopRPM   float64   `json:"topRpm"`
	LeastRPM float64   `json:"leastRpm"`
	Curve    []CurveFt `json:"curve"` // at TopRPM
	// Wire power at TopRPM: IdleW + BaseW + PerGpmW·gpm.
	IdleW   float64 `json:"idleW"`
	BaseW   float64 `json:"baseW"`
	PerGpmW float64 `json:"perGpmW"`
}

// PumpKind says how a pump's speed may be set.
type PumpKind string

// The kinds of pump.
const (
	SingleSpeed   PumpKind = "single"
	VariableSpeed PumpKind = "variable"
)

// CurveFt is a point of a head curve.
type CurveFt struct {
	GPM float64 `json:"gpm"`
	Ft  float64 `json:"ft"`
}

// FilterKind is what the filter cleans with.
type FilterKind string

// The kinds of filter.
const (
	Sand      FilterKind = "sand"
	Cartridge FilterKind = "cartridge"
	DE        FilterKind = "de"
)

// Filter is a filter tank with its media. The clean drop at AtGPM is split into
// the media's part, linear in flow and viscosity, and the vessel's, quadratic.
type Filter struct {
	Model     string     `json:"model"`
	Kind      FilterKind `json:"kind"`
	AreaFt2   float64    `json:"areaFt2"`
	Valve     Valve      `json:"valve"`
	AtGPM     float64    `json:"atGpm"`
	MediaPsi  float64    `json:"mediaPsi"`
	VesselPsi float64    `json:"vesselPsi"`
}

// Valve is the valve on the filter.
type Valve string

// The valves a filter may have.
const (
	Multiport  Valve = "multiport"
	SlideValve Valve = "slide"
	NoValve    Valve = "none"
)

// LineKind is where a line begins or ends at the pool.
type LineKind string

// The kinds of line.
const (
	Skimmer LineKind = "skimmer"
	Drain   LineKind = "drain"
	Return  LineKind = "return"
)

// Run is a length of pipe with its fittings.
type Run struct {
	BoreIn    float64 `json:"boreIn"` // inside diameter
	LengthFt  float64 `json:"lengthFt"`
	FittingsK float64 `json:"fittingsK"`
}

// Line is a run to one fitting at the pool, with a valve. Opening 1 is open, 0
// is shut. EyeballIn is a return fitting's opening.
type Line struct {
	ID   string   `json:"id"`
	Name string   `json:"name"`
	Kind LineKind `json:"kind"`
	Run
	Opening   float64 `json:"opening"`
	EyeballIn float64 `json:"eyeballIn,omitempty"`
}

// Device loses DropPsi at AtGPM and may need a least flow.
type Device struct {
	Model    string  `json:"model"`
	DropPsi  float64 `json:"dropPsi"`
	AtGPM    float64 `json:"atGpm"`
	LeastGPM float64 `json:"leastGpm"`
}

// Tap is where the vacuum gauge is tapped.
type Tap string

// The places for a vacuum gauge.
const (
	TapPot   Tap = "pot"   // the pump's drain port, after the basket
	TapInlet Tap = "inlet" // the inlet pipe, before the basket
	NoTap    Tap = "none"
)

// Slot is one block of the pump's daily programme.
type Slot struct {
	StartHour float64 `json:"startHour"`
	Hours     float64 `json:"hours"`
	RPM       float64 `json:"rpm"`
}

// Meters says which readings a pad offers and how noisy they are (one standard
// deviation, in trade units; flow and power as a share of the reading).
type Meters struct {
	TankPsi    float64 `json:"tankPsi"`
	VacuumInHg float64 `json:"vacuumInHg"`
	FlowShare  float64 `json:"flowShare"`
	PowerShare float64 `json:"powerShare"`
	HasVacuum  bool    `json:"hasVacuum"`
	HasFlow    bool    `json:"hasFlow"`
	HasPower   bool    `json:"hasPower"`
}

// UsualMeters are the noises assumed when a pad says nothing else (ours; the
// handbook's ±0.5–1 psi, ±1 inHg, ±7 %, ±4 % taken as about 1.5 deviations for
// the gauges and one for the meters).
func UsualMeters() Meters {
	return Meters{TankPsi: 0.5, VacuumInHg: 0.6, FlowShare: 0.05, PowerShare: 0.03, HasVacuum: true, HasFlow: true, HasPower: true}
}

// FieldError is a document's mistake: the path of the field and a sentence.
type FieldError struct{ Path, Says string }

func (e *FieldError) Error() string { return e.Path + ": " + e.Says }

// Validate checks a document and returns every mistake found.
func (d *Document) Validate() []FieldError {
	var errs []FieldError
	bad := func(path, says string, args ...any) {
		errs = append(errs, FieldError{path, fmt.Sprintf(says, args...)})
	}
	within := func(path string, v, lo, hi float64) {
		if !(v >= lo && v <= hi) {
			bad(path, "must be between %g and %g", lo, hi)
		}
	}
	run := func(path string, r Run) {
		within(path+".boreIn", r.BoreIn, 0.5, 8)
		within(path+".lengthFt", r.LengthFt, 0, 1000)
		within(path+".fittingsK", r.FittingsK, 0, 200)
	}
	within("pump.topRpm", d.Pump.TopRPM, 500, 4000)
	within("pump.leastRpm", d.Pump.LeastRPM, 0, d.Pump.TopRPM)
	within("pump.idleW", d.Pump.IdleW, 0, 500)
	within("pump.baseW", d.Pump.BaseW, 1, 6000)
	within("pump.perGpmW", d.Pump.PerGpmW, 0, 100)
	if _, err := d.curve(); err != nil {
		bad("pump.curve", "%s", err.Error())
	}
	switch d.Filter.Kind {
	case Sand, Cartridge, DE:
	default:
		bad("filter.kind", "must be sand, cartridge or de")
	}
	within("filter.areaFt2", d.Filter.AreaFt2, 0.5, 1000)
	within("filter.atGpm", d.Filter.AtGPM, 1, 300)
	within("filter.mediaPsi", d.Filter.MediaPsi, 0.01, 30)
	within("filter.vesselPsi", d.Filter.VesselPsi, 0, 30)
	run("suctionTrunk", d.SuctionTrunk)
	run("discharge", d.Discharge)
	run("returnTrunk", d.ReturnTrunk)
	lines := func(path string, ls []Line) {
		if len(ls) == 0 {
			bad(path, "needs at least one line")
		}
		for i, l := range ls {
			p := fmt.Sprintf("%s[%d]", path, i)
			run(p, l.Run)
			within(p+".opening", l.Opening, 0, 1)
			if path == "returns" {
				within(p+".eyeballIn", l.EyeballIn, 0.2, 3)
			}
		}
	}
	lines("suction", d.Suction)
	lines("returns", d.Returns)
	for path, dev := range map[string]*Device{"heater": d.Heater, "cell": d.Cell} {
		if dev != nil {
			within(path+".atGpm", dev.AtGPM, 1, 300)
			within(path+".dropPsi", dev.DropPsi, 0, 30)
		}
	}
	hours := 0.0
	for i, s := range d.Programme {
		within(fmt.Sprintf("programme[%d].rpm", i), s.RPM, 0, d.Pump.TopRPM)
		within(fmt.Sprintf("programme[%d].hours", i), s.Hours, 0, 24)
		hours += s.Hours
	}
	if hours > 24 {
		bad("programme", "a day has 24 hours, the slots add up to %g", math.Round(hours*10)/10)
	}
	return errs
}

func (d *Document) curve() (hydraulics.Curve, error) {
	pts := make([]hydraulics.CurvePoint, len(d.Pump.Curve))
	for i, p := range d.Pump.Curve {
		pts[i] = hydraulics.CurvePoint{Flow: units.GPM(p.GPM), Head: units.FeetHead(p.Ft)}
	}
	return hydraulics.FitCurve(pts)
}
