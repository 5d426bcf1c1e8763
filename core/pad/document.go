// Package pad is the document that describes one pool's equipment and plumbing: its parts,
// what it may be set to, what was read on it, and the checks of each figure.
//
// A document carries the trade's units because people read and write it; the
// unit stands in each field's name. Everything computed from it is SI.
package pad

import (
	"math"
	"slices"
	"time"

	"fairlap/core/hydraulics"
	"fairlap/core/units"
	"fairlap/core/words"
)

// MetersRead are the meters that the pad has.
func (d *Document) MetersRead() []Meter {
	out := []Meter{MeterTank}
	if d.Meters.HasVacuum && d.VacuumTap != NoTap {
		out = append(out, MeterVacuum)
	}
	if d.Meters.HasFlow {
		out = append(out, MeterFlow)
	}
	if d.Meters.HasPower {
		out = append(out, MeterPower)
	}
	return out
}

// Document describes a pad. Zero values mean "not there" for optional devices.
// The tags carry each field's bounds and words: Validate, the published JSON
// Schema and the API's contract are all read from them.
type Document struct {
	Presumed      bool       `json:"presumed,omitempty" doc:"nobody has described this pad: it holds the place of one, and no page says anything of it"`
	Unit          Unit       `json:"unit,omitempty" enum:"pad,above-ground" doc:"kind of installation; left out, its parts tell"`
	Pump          Pump       `json:"pump"`
	Filter        Filter     `json:"filter"`
	Suction       []Line     `json:"suction" minItems:"1" maxItems:"12" doc:"lines from the pool or the spa to the pump"`
	SuctionTrunk  Run        `json:"suctionTrunk" doc:"the common pipe from the suction valves to the pump"`
	Discharge     Run        `json:"discharge" doc:"pump to tank"`
	Heater        *Device    `json:"heater,omitempty"`
	HeaterBypass  *Bypass    `json:"heaterBypass,omitempty" doc:"a valved pipe round the heater"`
	Cell          *Device    `json:"cell,omitempty" doc:"salt cell or in-line chlorinator"`
	CheckValve    bool       `json:"checkValve,omitempty" doc:"between heater and chlorinator"`
	ReturnTrunk   Run        `json:"returnTrunk" doc:"the common pipe from the last device to the return valves"`
	Returns       []Line     `json:"returns" minItems:"1" maxItems:"12" doc:"lines back to the pool or the spa"`
	Valves        []Diverter `json:"valves,omitempty" maxItems:"8" doc:"three-way valves that lines hang on"`
	Waste         *WasteLine `json:"waste,omitempty" doc:"from the filter valve to the open air"`
	Spa           *Spa       `json:"spa,omitempty"`
	VacuumTap     Tap        `json:"vacuumTap" enum:"pot,inlet,none" doc:"pot: after the basket; inlet: before it"`
	GaugeHeightFt float64    `json:"gaugeHeightFt" minimum:"-30" maximum:"30" doc:"tank gauge above the pool's surface"`
	PumpHeightFt  float64    `json:"pumpHeightFt" minimum:"-30" maximum:"20" doc:"pump above the pool's surface; below zero it stands in flooded suction"`
	StraightIn    float64    `json:"straightIn,omitempty" minimum:"0" maximum:"120" doc:"straight pipe before the pump; 0 is not known"`
	AltitudeFt    float64    `json:"altitudeFt,omitempty" minimum:"-1500" maximum:"12000" doc:"of the place, above the sea"`
	PoolGallons   float64    `json:"poolGallons,omitempty" minimum:"0" maximum:"1000000"`
	Programme     []Slot     `json:"programme" maxItems:"8" doc:"the pump's day; its hours add up to 24 at most"`
	Meters        Meters     `json:"meters"`
}

// HasDrain tells whether a suction line comes from a main drain.
func (d *Document) HasDrain() bool {
	return slices.ContainsFunc(d.Suction, func(l Line) bool { return l.Kind == Drain })
}

// Unit is the kind of an installation.
type Unit string

// The kinds of installation.
const (
	BuiltPad    Unit = "pad"          // parts plumbed hard
	AboveGround Unit = "above-ground" // pump and cartridge in one, plugged in, on hoses
)

// plugInWatts is the most that the pump of a plugged-in unit draws (common practice: a
// quarter to a third of a horsepower).
const plugInWatts = 450

// SmallUnit tells whether this is a plugged-in above-ground unit on hoses: by its kind
// where somebody said it, else by its parts, whatever the pool holds.
func (d *Document) SmallUnit() bool {
	if d.Unit != "" {
		return d.Unit == AboveGround
	}
	p := &d.Pump
	return d.Filter.Kind == Cartridge && d.Filter.Valve == NoValve && d.Heater == nil && d.Spa == nil &&
		p.Kind == SingleSpeed &&
		len(d.Suction) == 1 &&
		len(d.Returns) == 1 &&
		d.Suction[0].Kind != Drain &&
		p.IdleW+p.BaseW < plugInWatts
}

// Pump is a pump of the catalogue as it stands at this pad.
type Pump struct {
	Model    string    `json:"model" maxLength:"80"`
	Kind     PumpKind  `json:"kind" enum:"single,two,variable,holding"`
	TopRPM   float64   `json:"topRpm" minimum:"500" maximum:"4000"`
	LeastRPM float64   `json:"leastRpm" minimum:"0" maximum:"4000"`
	HoldGPM  float64   `json:"holdGpm,omitempty" minimum:"0" maximum:"250" doc:"the flow that a holding pump is set to"`
	Curve    []CurveFt `json:"curve" minItems:"2" maxItems:"40" doc:"at topRpm; head falls as flow grows"`
	// Wire power at TopRPM: IdleW + BaseW + PerGpmW·gpm.
	IdleW   float64 `json:"idleW" minimum:"0" maximum:"500"`
	BaseW   float64 `json:"baseW" minimum:"1" maximum:"6000"`
	PerGpmW float64 `json:"perGpmW" minimum:"0" maximum:"100"`
	// The suction head that the pump needs, at one flow and topRpm.
	NPSHrFt  float64 `json:"npshrFt,omitempty" minimum:"0" maximum:"30" doc:"0 is not known"`
	NPSHrGPM float64 `json:"npshrGpm,omitempty" minimum:"0" maximum:"250"`
}

// PumpKind says how a pump's speed may be set.
type PumpKind string

// The kinds of pump.
const (
	SingleSpeed   PumpKind = "single"
	TwoSpeed      PumpKind = "two" // LeastRPM and TopRPM, nothing between
	VariableSpeed PumpKind = "variable"
	FlowHolding   PumpKind = "holding" // finds the speed that gives HoldGPM
)

// CurveFt is a point of a head curve.
type CurveFt struct {
	GPM float64 `json:"gpm" minimum:"0" maximum:"400"`
	Ft  float64 `json:"ft" minimum:"0" maximum:"200"`
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
	Model     string     `json:"model" maxLength:"80"`
	Kind      FilterKind `json:"kind" enum:"sand,cartridge,de"`
	AreaFt2   float64    `json:"areaFt2" minimum:"0.5" maximum:"1000"`
	Valve     Valve      `json:"valve" enum:"multiport,slide,none"`
	AtGPM     float64    `json:"atGpm" minimum:"1" maximum:"300"`
	MediaPsi  float64    `json:"mediaPsi" minimum:"0.01" maximum:"30"`
	VesselPsi float64    `json:"vesselPsi" minimum:"0" maximum:"30"`
	LabelPsi  float64    `json:"labelPsi,omitempty" minimum:"0" maximum:"150" doc:"working pressure on the tank's label; 0 is not read"`
	GrainMm   float64    `json:"grainMm,omitempty" minimum:"0" maximum:"3" doc:"sand's grain; 0 is the usual 0.5 mm"`
}

// Valve is the valve on the filter.
type Valve string

// The valves a filter may have.
const (
	Multiport  Valve = "multiport"
	SlideValve Valve = "slide"
	NoValve    Valve = "none"
)

// LineKind is where a line begins or ends.
type LineKind string

// The kinds of line.
const (
	Skimmer    LineKind = "skimmer"
	Drain      LineKind = "drain"
	VacuumPort LineKind = "vacuum"
	SpaDrain   LineKind = "spa-drain"
	Return     LineKind = "return"
	SpaJets    LineKind = "spa-jets"
	InFloor    LineKind = "in-floor" // cleaning heads; what one zone takes
	Feature    LineKind = "feature"  // a water feature, falling from OutletFt
)

// lineFacts says of each kind of line which side it is on, whether it is the
// spa's, and how many suction covers usually share it (a spa is built
// with two; a pool drain is taken as single until somebody looks).
var lineFacts = map[LineKind]struct {
	suction, spa bool
	covers       int
}{
	Skimmer: {suction: true, covers: 1}, Drain: {suction: true, covers: 1}, VacuumPort: {suction: true, covers: 1},
	SpaDrain: {suction: true, spa: true, covers: 2},
	Return:   {}, SpaJets: {spa: true}, InFloor: {}, Feature: {},
}

// OfSpa tells whether the line begins or ends in the spa.
func (l *Line) OfSpa() bool { return lineFacts[l.Kind].spa }

// CoverCount is how many suction covers share the line.
func (l *Line) CoverCount() int {
	if l.Covers > 0 {
		return l.Covers
	}
	return lineFacts[l.Kind].covers
}

// Run is a length of pipe with its fittings.
type Run struct {
	BoreIn    float64 `json:"boreIn" minimum:"0.5" maximum:"8" doc:"inside diameter"`
	LengthFt  float64 `json:"lengthFt" minimum:"0" maximum:"1000"`
	FittingsK float64 `json:"fittingsK" minimum:"0" maximum:"200" doc:"sum of the fittings' loss coefficients"`
}

// Line is a run to one fitting at the pool or the spa, with a valve of its own.
// Opening 1 is open, 0 is shut. EyeballIn is a return fitting's opening.
type Line struct {
	ID   string   `json:"id" pattern:"^[a-z][a-z0-9-]*$" maxLength:"30"`
	Name string   `json:"name" maxLength:"60"`
	Kind LineKind `json:"kind" enum:"skimmer,drain,vacuum,spa-drain,return,spa-jets,in-floor,feature"`
	Run
	Opening    float64 `json:"opening" minimum:"0" maximum:"1"`
	EyeballIn  float64 `json:"eyeballIn,omitempty" minimum:"0" maximum:"4"`
	On         string  `json:"on,omitempty" maxLength:"40" doc:"the valve's port that it hangs on, like suction-valve:a; empty is the common pipe"`
	CheckValve bool    `json:"checkValve,omitempty"`
	OutletFt   float64 `json:"outletFt,omitempty" minimum:"-5" maximum:"30" doc:"of a feature: its lip above the pool's surface"`
	Covers     int     `json:"covers,omitempty" minimum:"0" maximum:"6" doc:"suction covers that share this line; 0 is the usual number of its kind"`
	RatingGPM  float64 `json:"ratingGpm,omitempty" minimum:"0" maximum:"500" doc:"of one suction cover; 0 is not read"`
	LeastGPM   float64 `json:"leastGpm,omitempty" minimum:"0" maximum:"250" doc:"what it needs to work"`
}

// Device loses DropPsi at AtGPM and may need a least flow.
type Device struct {
	Model    string  `json:"model" maxLength:"80"`
	DropPsi  float64 `json:"dropPsi" minimum:"0" maximum:"30"`
	AtGPM    float64 `json:"atGpm" minimum:"1" maximum:"300"`
	LeastGPM float64 `json:"leastGpm" minimum:"0" maximum:"1000"`
}

// Bypass is a valved pipe round a device.
type Bypass struct {
	BoreIn  float64 `json:"boreIn" minimum:"0.5" maximum:"8"`
	Opening float64 `json:"opening" minimum:"0" maximum:"1" doc:"0 when heating"`
}

// Side is the pump's side that a valve stands on.
type Side string

// The sides of the pump.
const (
	SuctionSide Side = "suction"
	ReturnSide  Side = "return"
)

// Diverter is a three-way valve. Its handle's closed mark points at the port
// that is shut: at 0° port a is shut, at 180° port b, at 90° both are open.
type Diverter struct {
	ID       string  `json:"id" pattern:"^[a-z][a-z0-9-]*$" maxLength:"30"`
	Name     string  `json:"name" maxLength:"60"`
	Side     Side    `json:"side" enum:"suction,return"`
	On       string  `json:"on,omitempty" maxLength:"40" doc:"the other valve's port that its common port joins; empty is the common pipe"`
	BoreIn   float64 `json:"boreIn" minimum:"0.5" maximum:"8"`
	AngleDeg float64 `json:"angleDeg" minimum:"0" maximum:"180" doc:"where the closed mark points: 0 at port a, 180 at port b"`
}

// WasteLine carries water from the filter valve to the open air.
type WasteLine struct {
	Run
	OutletFt float64 `json:"outletFt" minimum:"-30" maximum:"20" doc:"its end above the pool's surface"`
}

// Spa is a second body of water on the same pad.
type Spa struct {
	SurfaceFt   float64 `json:"surfaceFt" minimum:"-5" maximum:"20" doc:"above the pool's surface, when full"`
	Gallons     float64 `json:"gallons" minimum:"50" maximum:"10000"`
	DrawGallons float64 `json:"drawGallons,omitempty" minimum:"0" maximum:"10000" doc:"above its suction fitting; 0 is four fifths of it"`
	RoomGallons float64 `json:"roomGallons,omitempty" minimum:"0" maximum:"2000" doc:"it takes this much before it spills; 0 for a spa at its lip"`
	Spills      bool    `json:"spills,omitempty" doc:"over a spillway into the pool"`
}

// Draw is the water that can leave by the suction fitting.
func (s *Spa) Draw() units.Volume {
	if s.DrawGallons > 0 {
		return units.Gallons(s.DrawGallons)
	}
	return units.Gallons(0.8 * s.Gallons)
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
	StartHour float64 `json:"startHour" minimum:"0" maximum:"24"`
	Hours     float64 `json:"hours" minimum:"0" maximum:"24"`
	RPM       float64 `json:"rpm" minimum:"0" maximum:"4000"`
}

// Holds tells whether a moment's hour of the day lies in the slot.
func (s Slot) Holds(at time.Time) bool {
	h := float64(at.Hour()) + float64(at.Minute())/60
	return math.Mod(h-s.StartHour+24, 24) < s.Hours
}

// Meters says which readings a pad offers and how noisy they are (one standard
// deviation, in trade units; flow and power as a share of the reading).
type Meters struct {
	TankPsi    float64 `json:"tankPsi" minimum:"0.02" maximum:"5"`
	VacuumInHg float64 `json:"vacuumInHg" minimum:"0.02" maximum:"5"`
	FlowShare  float64 `json:"flowShare" minimum:"0.002" maximum:"0.5"`
	PowerShare float64 `json:"powerShare" minimum:"0.002" maximum:"0.5"`
	HasVacuum  bool    `json:"hasVacuum"`
	HasFlow    bool    `json:"hasFlow"`
	HasPower   bool    `json:"hasPower"`
}

// UsualMeters are the noises assumed when a pad says nothing else (ours; the
// handbook's ±0.5–1 psi, ±1 inHg, ±7 %, ±4 % taken as about 1.5 deviations for
// the gauges and one for the meters).
func UsualMeters() Meters {
	return Meters{
		TankPsi:    0.5,
		VacuumInHg: 0.6,
		FlowShare:  0.05,
		PowerShare: 0.03,
		HasVacuum:  true,
		HasFlow:    true,
		HasPower:   true,
	}
}

// Points is the curve that the pump is described with, else an error that says what it
// lacks.
func (p *Pump) Points() (hydraulics.Curve, error) {
	pts := make([]hydraulics.CurvePoint, len(p.Curve))
	for i, c := range p.Curve {
		pts[i] = hydraulics.CurvePoint{Flow: units.GPM(c.GPM), Head: units.FeetHead(c.Ft)}
	}
	return hydraulics.FitCurve(pts)
}

// FewestSpeeds is how many speeds make a clean line of a pump (handbook: three or
// more, where it has them).
func (p *Pump) FewestSpeeds() int {
	switch p.Kind {
	case SingleSpeed:
		return 1
	case TwoSpeed:
		return 2
	default:
		return 3
	}
}

// SpeedIsSet tells whether a speed must be read with every reading.
func (p *Pump) SpeedIsSet() bool { return p.Kind != SingleSpeed }

// HoldsAt tells whether a pump that is seen at a speed, rpm, has found it for the flow that it holds: at its top speed
// it may have run out.
func (p *Pump) HoldsAt(rpm float64) bool {
	return p.Kind == FlowHolding && rpm > 0 && rpm < nearTop*p.TopRPM
}

// nearTop is the share of its top speed from which a pump may not reach its flow.
const nearTop = 0.99

// Nearest is the speed nearest to a wanted one that the pump can run at.
func (p *Pump) Nearest(rpm float64) float64 {
	switch {
	case p.Kind == SingleSpeed:
		return p.TopRPM
	case p.Kind == TwoSpeed && rpm < (p.LeastRPM+p.TopRPM)/2:
		return p.LeastRPM
	case p.Kind == TwoSpeed:
		return p.TopRPM
	}
	return min(max(rpm, p.LeastRPM), p.TopRPM)
}

// Body is the water that a line begins or ends at.
type Body string

// The bodies of water, and the open air that a feature or a waste line ends in.
const (
	PoolBody Body = "pool"
	SpaBody  Body = "spa"
	OpenAir  Body = "air"
)

// Words name a body of water within a sentence.
func (b Body) Words() words.Message { return words.Message("pad.body." + string(b)) }
